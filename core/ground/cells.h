// SPDX-License-Identifier: GPL-3.0-or-later
// Space parted into cubes, for finding what lies near.
#pragma once

#include <array>
#include <cmath>
#include <cstdint>

#include "core/ground/types.h"

namespace bricol {

using Cell = std::array<std::int64_t, 3>;

/// The cell that a place lies in; cells are `width` wide (metres, more than 0) and one of them begins at the origin.
inline Cell cell_of(const DVec3& place, double width) {
    const DVec3 scaled = glm::floor(place / width);
    return {static_cast<std::int64_t>(scaled.x), static_cast<std::int64_t>(scaled.y),
            static_cast<std::int64_t>(scaled.z)};
}

/// Whether `holds` is true for some cell of the 27 that may hold what lies within a width of a place in the cell. Stops
/// at the first one.
template <class Holds>
bool any_near(const Cell& cell, const Holds& holds) {
    for (std::int64_t z = -1; z <= 1; ++z)
        for (std::int64_t y = -1; y <= 1; ++y)
            for (std::int64_t x = -1; x <= 1; ++x)
                if (holds(Cell{cell[0] + x, cell[1] + y, cell[2] + z})) return true;
    return false;
}

struct CellHash {
    std::size_t operator()(const Cell& cell) const {
        const auto bits = [](std::int64_t i) { return static_cast<std::uint64_t>(i) & 0x1fffff; };
        const std::uint64_t key = bits(cell[0]) | bits(cell[1]) << 21 | bits(cell[2]) << 42;
        return static_cast<std::size_t>((key ^ (key >> 29)) * 0xbf58476d1ce4e5b9ull);
    }
};

}  // namespace bricol
