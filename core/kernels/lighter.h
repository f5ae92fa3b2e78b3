// SPDX-License-Identifier: GPL-3.0-or-later
// A mesh for looking from afar.
#pragma once

#include "core/shape/mesh.h"

namespace bricol {

/// Fewer triangles, for looking from afar, with UVs, normals, colours, sets, weights and materials: values stay those
/// of the points that are left (M. Garland and P. Heckbert, 1997). Where all edges are hard, seams give way first. The
/// surface moves by no more than a fiftieth of the mesh's size, so that more triangles than `wanted` may be left.
/// Values of edges go. O(triangles x log triangles).
Mesh lighter(const Mesh& mesh, std::size_t wanted);

}  // namespace bricol
