// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers for light paths that are spread evenly over the samples of a pixel and look random between pixels.
#pragma once

#include <cstdint>
#include <numbers>

#include "core/ground/even_numbers.h"

namespace bricol {

inline constexpr float float_pi = std::numbers::pi_v<float>;

/// Luminance of linear light in the primaries of sRGB (IEC 61966-2-1).
inline float brightness(const Vec3& light) { return 0.2126f * light.x + 0.7152f * light.y + 0.0722f * light.z; }

/// A row of samples for each pixel.
using PathNumbers = EvenNumbers;

}  // namespace bricol
