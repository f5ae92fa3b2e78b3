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
Vec3 on_plane(FlatView plane, double a, double b);

Knot knot_on(FlatView plane, double a, double b, KnotKind kind = KnotKind::corner);

/// A circle or ellipse as four cubic spans; the handle makes each follow a quarter circle to 2.8e-4 of the radius, and
/// sizing keeps cubics cubics.
Curve ring_on(FlatView plane, double across, double up, double half_width, double half_height, int segments);

void give_curve(StepRun& run, Curve curve);

}  // namespace bricol
