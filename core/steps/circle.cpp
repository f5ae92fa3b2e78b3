// SPDX-License-Identifier: GPL-3.0-or-later
#include <numbers>

#include "core/kernels/flatten.h"
#include "core/steps/basic_curves.h"

namespace bricol {

namespace {

void make(StepRun& run) {
    // Four cubic spans; the handle makes each follow a quarter circle to 2.8e-4 of the radius.
    Curve curve;
    curve.closed = true;
    const double radius = run.number("radius"), handle = radius * arc_handle(std::numbers::pi / 2);
    const std::string& plane = run.choice("plane");
    curve.sampling.per_span = std::max(1, run.integer("segments") / 4);
    const double across = run.number("across"), up = run.number("up");
    for (const auto& [x, y] : {std::pair{1, 0}, {0, 1}, {-1, 0}, {0, -1}}) {
        Knot knot = knot_on(plane, across + radius * x, up + radius * y, KnotKind::free);
        knot.out = on_plane(plane, -y * handle, x * handle);
        knot.in = -knot.out;
        curve.knots.push_back(knot);
    }
    give_curve(run, std::move(curve));
}

const Registered step(StepInfo{
    .key = "circle",
    .name = "Circle",
    .family = Family::curves,
    .purpose = "A circle of a real radius.",
    .words = "ring round disc",
    .help = "Four smooth knots. Segments are a multiple of four.",
    .glyph = "M12 4a8 8 0 1 0 0.01 0z",
    .gives = content_curves,
    .inputs = {},
    .parameters = {length_of("radius", "Radius", 0.25, 1e-6, 2, "From the centre to the curve."),
                   count_of("segments", "Segments", 32, 4, 2048, 128, "Straight pieces when points are needed; a multiple of four."),
                   offset_of("across", "Across", 0, "Place of the centre: the plane's first direction."),
                   offset_of("up", "Up", 0, "Place of the centre: the plane's second direction."), curve_plane("front")},
    .telling = "r {radius}",
    .make = make});

}  // namespace

}  // namespace bricol
