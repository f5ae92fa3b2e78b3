// SPDX-License-Identifier: GPL-3.0-or-later
// Small sums on numbers and vectors that the standard library and glm leave out.
#pragma once

#include <numbers>
#include <string_view>

#include "core/ground/types.h"

namespace bricol {

inline constexpr std::string_view axis_letters = "xyz";

inline constexpr double pi = std::numbers::pi;
inline constexpr double degree = pi / 180;  ///< in radians

/// Twice the signed area of the triangle (0, a, b); positive when b lies to the left of a.
inline double cross2(const DVec2& a, const DVec2& b) { return a.x * b.y - a.y * b.x; }

/// The direction of a vector; zero for one that has none.
inline DVec3 unit(const DVec3& v) {
    const double length = glm::length(v);
    return length > 0 ? v / length : DVec3(0);
}

/// The number that digits with a point and an exponent stand for, whatever the locale; 0 for anything else, infinity
/// when it is too large.
double number_of_digits(std::string_view digits);

}  // namespace bricol
