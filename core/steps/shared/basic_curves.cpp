// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/shared/basic_curves.h"

namespace bricol {

Vec3 on_plane(FlatView plane, double a, double b) {
    if (plane == FlatView::top) return Vec3(DVec3(a, b, 0));
    return Vec3(plane == FlatView::side ? DVec3(0, a, b) : DVec3(a, 0, b));
}

Knot knot_on(FlatView plane, double a, double b, KnotKind kind) {
    Knot knot;
    knot.at = on_plane(plane, a, b);
    knot.kind = kind;
    return knot;
}

Curve ring_on(FlatView plane, double across, double up, double half_width, double half_height, int segments) {
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

void give_curve(StepRun& run, Curve curve) {
    Shape shape;
    shape.curves.push_back(std::move(curve));
    run.give(std::move(shape));
}

}  // namespace bricol
