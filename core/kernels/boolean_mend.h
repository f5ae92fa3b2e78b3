// SPDX-License-Identifier: GPL-3.0-or-later
// Closed surfaces that cross themselves, as the solids that lie inside.
#pragma once

#include <optional>

#include "core/kernels/tagged_triangles.h"

namespace bricol {

/// Whether an edge goes through a triangle that has no point of it: without that a surface does not cross itself. What
/// lies in one plane may count. O(n log n) for well-spread triangles.
bool edges_cross_faces(const TaggedTriangles& soup);

/// The border of what a closed surface winds round at least once: its triangles with the same tags, cut along the lines
/// where they cross, without what lies inside or is inside out. Nothing when no two of them cross, or when the surface
/// cannot be mended so: sheets that lie in one another over an area, or three that cross in one point of the border.
/// What comes back is closed. Winding numbers by solid angles (A. Jacobson, L. Kavan, O. Sorkine-Hornung, "Robust
/// inside-outside segmentation using generalized winding numbers", 2013), one for each patch between lines.
/// O(n log n + patches x n).
std::optional<TaggedTriangles> mended_by_winding(const TaggedTriangles& soup);

}  // namespace bricol
