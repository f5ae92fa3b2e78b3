// SPDX-License-Identifier: GPL-3.0-or-later
// New knots along a curve at even distances.
#pragma once

#include "core/kernels/flatten.h"

namespace bricol {

struct ResampleOptions {
    enum class By : std::uint8_t { count, length, tolerance } by = By::count;
    int count = 16;            ///< pieces of the whole curve
    double longest = 0.05;     ///< longest piece, metres
    double tolerance = 0.001;  ///< largest distance from the curve, metres
    double keep_angle = 30;    ///< degrees: corners sharper than this stay knots
    bool smoothed = false;     ///< smooth knots instead of a polyline
};

/// The curve with new knots. Kept corners part the curve into runs; each run gets equal pieces, at least one; pieces of
/// the count are dealt to runs by length. O(points + pieces).
Curve resampled(const Curve& curve, const ResampleOptions& options);

}  // namespace bricol
