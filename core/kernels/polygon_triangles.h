// SPDX-License-Identifier: GPL-3.0-or-later
// Triangles over a polygon with holes that is given by its sides, come what may.
#pragma once

#include <array>
#include <span>
#include <vector>

#include "core/ground/types.h"

namespace bricol {

/// Triangles whose sides, opposite ones cancelled, are exactly the given ones: what was closed stays closed. `sides`
/// are pairs of points, as many ending as starting at each; `normal` says from where they run anticlockwise, of any
/// length. A constrained Delaunay triangulation where the sides do not cross seen along it, otherwise ears are cut off,
/// the least bad ones where there are no good ones.
std::vector<std::array<Index, 3>> triangles_of_sides(const std::vector<DVec3>& points,
                                                     std::span<const std::array<Index, 2>> sides, const DVec3& normal);

}  // namespace bricol
