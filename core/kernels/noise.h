// SPDX-License-Identifier: GPL-3.0-or-later
// Gradient noise in space: smooth random heights that are the same on every machine.
#pragma once

#include <atomic>
#include <span>

#include "core/ground/types.h"

namespace bricol {

struct NoiseOptions {
    double size = 1;         ///< length of the coarsest bumps in metres, above 0
    int octaves = 5;         ///< layers, each half as large as the one before; 1 to 16
    double roughness = 0.5;  ///< strength of a layer beside the one before, 0..1
    std::uint32_t seed = 0;
    DVec3 offset{0};  ///< moves the pattern (metres)
};

/// Which instructions the loops use; `widest` is what the machine has. The bytes are the same.
enum class Instructions : std::uint8_t { widest, plain };

/// Noise of one layer at places given in bumps, -1..1, 0 at whole numbers; mean 0.
/// K. Perlin, "Improving noise", 2002: his fade curve and twelve gradients; the corner's gradient is chosen by an
/// integer hash instead of a table, so that many places are worked out at once.
void gradient_noise(std::span<const float> x, std::span<const float> y, std::span<const float> z, std::uint32_t seed,
                    std::span<float> out, Instructions instructions = Instructions::widest);
float gradient_noise(float x, float y, float z, std::uint32_t seed);

/// Layers of noise added up and divided by the sum of their strengths, so that the range stays -1..1. On all threads.
void fractal_noise(std::span<const Vec3> points, const NoiseOptions& options, std::span<float> out,
                   Instructions instructions = Instructions::widest);

/// Hash of whole numbers, well mixed in all bits. The finaliser of MurmurHash3 (A. Appleby, public domain).
constexpr std::uint32_t mixed(std::uint32_t h) {
    h ^= h >> 16, h *= 0x85ebca6bu, h ^= h >> 13, h *= 0xc2b2ae35u, h ^= h >> 16;
    return h;
}
/// A number from 0 up to, not including, 1 that belongs to `element` and `stream`.
constexpr double random_share(std::uint32_t element, std::uint32_t stream) {
    return static_cast<double>(mixed(mixed(element + 0x9e3779b9u) ^ (stream * 0x632be59bu + 0x7f4a7c15u))) /
           4294967296.0;
}

}  // namespace bricol
