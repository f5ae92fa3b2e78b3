// SPDX-License-Identifier: GPL-3.0-or-later
// The outlines of cut polygons, rid of what rounding leaves in them.
#pragma once

#include <array>
#include <vector>

#include "core/ground/types.h"

namespace bricol {

/// A side of a polygon: from a point to the next.
struct KeptSide {
    Index polygon = 0, from = 0, to = 0;
    bool line = false;  ///< where the surfaces cross
};

/// Puts the sides of each polygon together, polygons by number; within a polygon they stay in their order. O(n).
void sort_by_polygon(std::vector<KeptSide>& sides);

/// Sides of next to no length are drawn together, those that run out and back are taken out, polygons that lie on one
/// another back to back go, and points at which nobody turns. Every side still has its way back in another polygon.
/// `whole` are triangles beside the polygons, which follow where their points are drawn together. Points from
/// `first_fresh` on are new; places nearer than `reach` (metres) are one. Whether any point of `whole` was drawn to
/// another: they may meet in more edges now.
bool tidy_outlines(const std::vector<DVec3>& points, std::vector<KeptSide>& sides,
                   std::vector<std::array<Index, 3>>& whole, Index first_fresh, double reach);

}  // namespace bricol
