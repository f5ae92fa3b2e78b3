// SPDX-License-Identifier: GPL-3.0-or-later
// What the plain curve steps share: a plane to lie in and a way to put knots there.
#pragma once

#include <algorithm>
#include <numbers>

#include "core/catalogue/draw_plane.h"
#include "core/kernels/flatten.h"
#include "core/catalogue/settings.h"

namespace bricol {

/// The "plane" setting of a plain curve.
template <class T>
Setting<T> curve_plane(FlatView T::*f) {
    return choice_of(
        f, "plane", "Plane",
        {{FlatView::front, "front", "front"}, {FlatView::side, "side", "side"}, {FlatView::top, "top", "top"}},
        "The plane the curve lies in.");
}

/// Point (a, b) of a plane: front x and z, side y and z, top x and y.
inline Vec3 on_plane(FlatView plane, double a, double b) {
    if (plane == FlatView::top) return Vec3(DVec3(a, b, 0));
    return Vec3(plane == FlatView::side ? DVec3(0, a, b) : DVec3(a, 0, b));
}

inline Knot knot_on(FlatView plane, double a, double b, KnotKind kind = KnotKind::corner) {
    Knot knot;
    knot.at = on_plane(plane, a, b);
    knot.kind = kind;
    return knot;
}

/// A circle or ellipse as four cubic spans; the handle makes each follow a quarter circle to 2.8e-4 of the radius, and
/// sizing keeps cubics cubics.
inline Curve ring_on(FlatView plane, double across, double up, double half_width, double half_height, int segments) {
    Curve curve;
    curve.closed = true;
    curve.sampling.per_span = std::max(1, segments / 4);
    const double handle = arc_handle(std::numbers::pi / 2);
    for (const auto& [x, y] : {std::pair{1, 0}, {0, 1}, {-1, 0}, {0, -1}}) {
        Knot knot = knot_on(plane, across + half_width * x, up + half_height * y, KnotKind::free);
        knot.out = on_plane(plane, -y * half_width * handle, x * half_height * handle);
        knot.in = -knot.out;
        curve.knots.push_back(knot);
    }
    return curve;
}

inline void give_curve(StepRun& run, Curve curve) {
    Shape shape;
    shape.curves.push_back(std::move(curve));
    run.give(std::move(shape));
}

}  // namespace bricol
