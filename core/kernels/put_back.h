// SPDX-License-Identifier: GPL-3.0-or-later
// What was made of a shape's elements, one by one, as one shape again.
#pragma once

#include <span>

#include "core/kernels/take_apart.h"

namespace bricol {

/// What an element became.
struct ApartMade {
    ShapePtr shape;          ///< as it stands at the origin; null or empty for nothing
    std::uint64_t hash = 0;  ///< alike ones have the same
};

/// The results where their elements stood, one for each of `apart`'s: what came out alike several times as copies (with
/// their elements' numbers as ids), and what was a copy before, with its own values; everything else as real geometry.
/// With `keep` what was not taken is there too. O(elements and what real geometry weighs).
Shape put_back(TakenApart apart, std::span<const ApartMade> made, ApartBy by, bool keep);

}  // namespace bricol
