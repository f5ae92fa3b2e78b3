// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers that are spread evenly over a row of samples and yet look random.
#pragma once

#include <cstdint>

#include "core/ground/types.h"

namespace bricol {

/// The first two dimensions of Sobol's sequence, shuffled and scrambled anew for every pair asked for. B. Burley,
/// "Practical hash-based Owen scrambling", Journal of Computer Graphics Techniques 9(4), 2020. The same row, sample
/// and order of questions give the same numbers.
class EvenNumbers {
public:
    EvenNumbers(std::uint32_t row, std::uint32_t sample, std::uint32_t seed)
        : seed_(mixed(row * 0x9e3779b9u + mixed(seed + 0x7f4a7c15u))), sample_(reversed(sample)) {}

    /// Two numbers, each 0 <= x < 1.
    Vec2 two() {
        const std::uint32_t own = mixed(seed_ + ++asked_ * 0x85ebca6bu), index = reversed(swapped(sample_, own));
        return {share(reversed(swapped(index, mixed(own ^ 0xa511e9b3u)))),
                share(reversed(swapped(second(index), mixed(own ^ 0x63d83595u))))};
    }
    float one() {
        const std::uint32_t own = mixed(seed_ + ++asked_ * 0x85ebca6bu);
        return share(reversed(swapped(reversed(swapped(sample_, own)), mixed(own ^ 0xa511e9b3u))));
    }

private:
    static float share(std::uint32_t bits) { return static_cast<float>(bits >> 8) * 0x1p-24f; }
    static std::uint32_t mixed(std::uint32_t x) {
        x ^= x >> 16, x *= 0x7feb352du, x ^= x >> 15, x *= 0x846ca68bu, x ^= x >> 16;
        return x;
    }
    static std::uint32_t reversed(std::uint32_t x) {
        x = __builtin_bswap32(x);
        x = ((x & 0x0f0f0f0fu) << 4) | ((x & 0xf0f0f0f0u) >> 4);
        x = ((x & 0x33333333u) << 2) | ((x & 0xccccccccu) >> 2);
        return ((x & 0x55555555u) << 1) | ((x & 0xaaaaaaaau) >> 1);
    }
    /// A random tree of swaps of halves, quarters and so on (Laine and Karras' hash), of bits turned round.
    static std::uint32_t swapped(std::uint32_t x, std::uint32_t seed) {
        x ^= x * 0x3d20adeau, x += seed, x *= (seed >> 16) | 1, x ^= x * 0x05526c56u, x ^= x * 0x53a22864u;
        return x;
    }
    /// Sobol's second dimension, bits turned round: its direction numbers are the rows of Pascal's triangle modulo 2,
    /// which makes it five shifts.
    static std::uint32_t second(std::uint32_t x) {
        x ^= (x & 0xaaaaaaaau) >> 1;
        x ^= (x & 0xccccccccu) >> 2;
        x ^= (x & 0xf0f0f0f0u) >> 4;
        x ^= (x & 0xff00ff00u) >> 8;
        x ^= (x & 0xffff0000u) >> 16;
        return x;
    }

    std::uint32_t seed_, sample_, asked_ = 0;  // the sample with its bits turned round
};

}  // namespace bricol
