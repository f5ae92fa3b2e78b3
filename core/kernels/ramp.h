// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers and colours that change along 0..1: ramps and gradients as they are drawn by hand.
#pragma once

#include <vector>

#include "core/ground/types.h"

namespace bricol {

/// 0 below `low`, 1 above `high`, 3t^2 - 2t^3 between.
double smooth_share(double x, double low, double high);

/// Value of a polyline through (at, value) pairs; the first and last value beyond its ends. `numbers` is x, then the
/// pairs in rising order of `at`; 0 when no whole pair is given.
double ramp_through(const double* numbers, int count);

/// Layers of gradient noise at a place, each half as large and half as strong as the one before, -1..1.
double layered_noise(double x, double y, double z, double octaves);

struct RampKnot {
    double at = 0, value = 0;
    friend bool operator==(const RampKnot&, const RampKnot&) = default;
};
/// A number over 0..1.
struct DrawnRamp {
    std::vector<RampKnot> knots{{0, 0}, {1, 1}};  ///< rising `at`
    /// Monotone cubic through the knots (F. Fritsch and R. Carlson, 1980): never beyond neighbouring knots. Else
    /// straight.
    bool smooth = false;
    double value(double x) const;
    friend bool operator==(const DrawnRamp&, const DrawnRamp&) = default;
};

struct GradientStop {
    double at = 0;
    DVec3 colour{0};  ///< linear, 0..1
    friend bool operator==(const GradientStop&, const GradientStop&) = default;
};
/// A colour over 0..1.
struct Gradient {
    std::vector<GradientStop> stops;  ///< rising `at`; none is black
    bool smooth = false;              ///< eased between stops, else straight
    DVec3 colour(double x) const;
    friend bool operator==(const Gradient&, const Gradient&) = default;
};

}  // namespace bricol
