// SPDX-License-Identifier: GPL-3.0-or-later
// Where a new element came from, and carrying attributes by it.
#pragma once

#include <array>
#include <span>

#include "core/shape/attributes.h"

namespace bricol {

/// Up to four old elements of one domain, and how much of each (shares sum to 1).
struct Origin {
    std::array<Index, 4> from{};
    std::array<float, 4> share{1, 0, 0, 0};
    int count = 1;

    static Origin is(Index element) { return {{element}, {1}, 1}; }
    /// At `t` of the way from one to the other.
    static Origin between(Index a, Index b, float t) { return {{a, b}, {1 - t, t}, 2}; }
    /// At (x, y) of the quad a b c d, bilinear.
    static Origin within(Index a, Index b, Index c, Index d, float x, float y) {
        return {{a, b, c, d}, {(1 - x) * (1 - y), x * (1 - y), x * y, (1 - x) * y}, 4};
    }
    /// The element it is, or the one it has most of.
    Index nearest() const;
};

/// Writes the values of elements `first`, `first + 1`, … of `target` by their origins in `old`. Numbers and vectors are
/// blended; whole numbers come from the nearest; an element is in a set only when it is that very element. Attributes
/// that `target` has not are left alone. O(elements · attributes).
void carry(Attributes& target, const Attributes& old, Domain domain, std::size_t first,
           std::span<const Origin> origins);

}  // namespace bricol
