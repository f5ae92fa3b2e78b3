// SPDX-License-Identifier: GPL-3.0-or-later
// Rounding a corner between spans that bend.
#pragma once

#include "core/kernels/cubic.h"
#include "core/kernels/flatten.h"

namespace bricol {

/// The stretch between two parameters, as a span of its own (P. de Casteljau, 1959).
Cubic cubic_between(const Cubic& c, double from, double to);

/// Where a circle touches two spans that meet in a corner.
struct TouchingCircle {
    double radius = 0;    ///< metres; 0 when none fits
    double arriving = 1;  ///< parameter of the first span where the arc begins
    double leaving = 0;   ///< parameter of the second span where it ends
    double angle = 0;     ///< radians of the arc
    DVec3 centre{0}, begins{0},
        ends{0};  ///< seen along the corner's normal the arc is exact; ways of unit length at its two ends
};

/// The circle of `radius` on the inner side of the corner where `in` ends and `out` starts; the largest smaller one (to
/// a thousandth) when that does not touch both before `first` of `in` and `last` of `out`. Found in the plane of the
/// two directions at the corner: its centre lies as far from one span as from the other, by halving. Nothing for
/// corners that are none or turn back on themselves.
TouchingCircle touching_circle(const Cubic& in, const Cubic& out, double radius, double first, double last);

}  // namespace bricol
