// SPDX-License-Identifier: GPL-3.0-or-later
// Between linear light and the numbers of a screen.
#pragma once

#include <cmath>

namespace bricol {

/// sRGB's own curve, IEC 61966-2-1; both 0..1.
inline double to_linear(double screen) {
    return screen <= 0.04045 ? screen / 12.92 : std::pow((screen + 0.055) / 1.055, 2.4);
}
inline double to_screen(double linear) {
    return linear <= 0.0031308 ? linear * 12.92 : 1.055 * std::pow(linear, 1 / 2.4) - 0.055;
}

}  // namespace bricol
