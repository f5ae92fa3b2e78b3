// SPDX-License-Identifier: GPL-3.0-or-later
// Sides of polygons that run along one another.
#pragma once

#include <array>
#include <cstdint>
#include <span>
#include <tuple>
#include <vector>

#include "core/kernels/boolean_outlines.h"

namespace bricol {

/// Sides by where they run. O(n log n) to build.
class SideWays {
public:
    struct Way {
        std::uint64_t key;
        Index side;
    };
    explicit SideWays(const std::vector<KeptSide>& sides);
    static std::uint64_t key(Index from, Index to) { return std::uint64_t(from) << 32 | to; }
    /// Those from one point to the other, in the order of their numbers.
    std::span<const Way> between(Index from, Index to) const;

private:
    std::vector<Way> ways_;
};

/// An end of a side that lies within another.
struct TakenEnd {
    Index side = 0;    ///< the other
    double along = 0;  ///< of it, metres from where it starts
    Index point = 0;
    bool operator<(const TakenEnd& o) const {
        return std::tie(side, along, point) < std::tie(o.side, o.along, o.point);
    }
};

/// Among the sides of one polygon, numbers first to last - 1: ends that lie within others of them which run the other
/// way, nearer than `reach` (metres), and pairs of points that are one end of two such sides but not the same point.
/// O(n log n) for outlines that mostly go one way.
void ends_along_sides(const std::vector<DVec3>& points, const std::vector<KeptSide>& sides,
                      const std::array<std::size_t, 2>& range, double reach, std::vector<TakenEnd>& taken,
                      std::vector<std::array<Index, 2>>& same);

}  // namespace bricol
