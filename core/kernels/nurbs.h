// SPDX-License-Identifier: GPL-3.0-or-later
// NURBS curves: points, slopes, and the same curve as spans with handles.
#pragma once

#include "core/shape/curve.h"

namespace bricol {

/// A non-uniform rational B-spline.
struct Nurbs {
    int degree = 3;
    std::vector<DVec3> points;    ///< control points (metres)
    std::vector<double> weights;  ///< one a point, above 0; empty for all 1
    std::vector<double> knots;    ///< rising, points + degree + 1 of them
};

/// Even knots, the ends repeated so that the curve reaches its first and last point.
std::vector<double> clamped_knots(std::size_t points, int degree);
/// The points repeated at the end and even knots, so that the curve closes smoothly.
Nurbs closed_nurbs(const std::vector<DVec3>& points, const std::vector<double>& weights, int degree);

/// Number of the knot interval that a parameter lies in (L. Piegl and W. Tiller, "The NURBS Book", 2nd ed. 1997,
/// algorithm A2.1).
std::size_t knot_span(const Nurbs& curve, double u);
/// The degree + 1 basis functions that are not zero there (A2.2).
std::vector<double> basis_functions(const Nurbs& curve, std::size_t span, double u);

struct NurbsPoint {
    DVec3 at{0}, slope{0}, bend{0};  ///< place, first and second derivative by the parameter
};
/// Place and derivatives (A2.3, A3.2, A4.2). `u` is held to the curve's range.
NurbsPoint nurbs_point(const Nurbs& curve, double u);

/// Range of the parameter.
double first_parameter(const Nurbs& curve);
double last_parameter(const Nurbs& curve);

/// The curve as cubic spans, `pieces` for each knot interval, with its own slopes as handles: exact for cubic and lower
/// ones without weights, else off by the fourth power of the piece.
Curve curve_of(const Nurbs& curve, int pieces, bool closed);

}  // namespace bricol
