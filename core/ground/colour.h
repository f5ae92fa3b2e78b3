// SPDX-License-Identifier: GPL-3.0-or-later
// Between linear light and the numbers of a screen.
#pragma once

#include <array>
#include <cmath>
#include <string_view>

#include "core/ground/types.h"

namespace bricol {

/// sRGB's own curve, IEC 61966-2-1; both 0..1.
inline double to_linear(double screen) {
    return screen <= 0.04045 ? screen / 12.92 : std::pow((screen + 0.055) / 1.055, 2.4);
}
inline double to_screen(double linear) {
    return linear <= 0.0031308 ? linear * 12.92 : 1.055 * std::pow(linear, 1 / 2.4) - 0.055;
}

inline DVec3 screen_from_linear(const DVec3& c) { return {to_screen(c.x), to_screen(c.y), to_screen(c.z)}; }
inline DVec3 linear_from_screen(const DVec3& c) { return {to_linear(c.x), to_linear(c.y), to_linear(c.z)}; }

/// What formulas call the parts of a colour.
inline constexpr std::array<std::string_view, 3> colour_words = {"red", "green", "blue"};

}  // namespace bricol
