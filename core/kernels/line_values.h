// SPDX-License-Identifier: GPL-3.0-or-later
// What knots of curves carry, on the vertices of meshes made of those curves.
#pragma once

#include "core/kernels/path.h"

namespace bricol {

/// On the vertices that stand exactly where lines have points; others get 0 (COLOR_0 white). Nothing when no line
/// carries anything. O(vertices).
void give_line_values(Mesh& mesh, std::span<const Polyline> lines);

/// On the vertices of something drawn along a path, blended between its points by the vertex attribute `along` (0..1
/// of the length). Nothing when the path carries nothing, or the mesh has no `along`.
void give_path_values(Mesh& mesh, const Path& path);

}  // namespace bricol
