// SPDX-License-Identifier: GPL-3.0-or-later
#include <cmath>
#include <numbers>

#include "core/steps/basic_curves.h"

namespace bricol {

namespace {

void run_polygon(StepRun& run) {
    Curve curve;
    curve.closed = true;
    const int sides = run.integer("sides");
    const double inner = run.number("inner");
    const int corners = inner > 0 ? 2 * sides : sides;
    curve.sampling.per_span = run.integer("pieces");
    for (int i = 0; i < corners; ++i) {
        const double a = run.number("turn") * std::numbers::pi / 180 + 2 * std::numbers::pi * i / corners;
        const double r = inner > 0 && i % 2 == 1 ? inner : run.number("radius");
        Knot knot = knot_on(run.word("plane"), r * std::cos(a), r * std::sin(a));
        knot.fillet = run.real("corner");
        curve.knots.push_back(knot);
    }
    give_curve(run, std::move(curve));
}

const Registered polygon_step(StepInfo{
    .key = "polygon",
    .name = "Polygon",
    .family = Family::curves,
    .purpose = "A regular polygon, or a star.",
    .words = "hexagon triangle star ngon",
    .help =
        "Corners on a circle. With an inner radius every second corner lies on that and the polygon becomes a star.",
    .glyph = "M12 3.5 L20 9.3 L17 19 H7 L4 9.3z",
    .gives = content_curves,
    .inputs = {},
    .parameters = {length_of("radius", "Radius", 0.25, 1e-6, 2, "From the centre to the corners."),
                   count_of("sides", "Sides", 6, 3, 2048, 24, "Corners on the outer circle."),
                   length_of("inner", "Inner radius", 0, 0, 2, "Of the corners between; 0 for a plain polygon."),
                   angle_of("turn", "Turn", 0, -360, 360, "Turns the polygon in its plane."),
                   length_of("corner", "Corner radius", 0, 0, 0.1, "Rounding of the corners."),
                   when(count_of("pieces", "Pieces per corner", 4, 1, 128, 32,
                                 "Straight pieces of each rounded corner."),
                        "corner>0"),
                   curve_plane("top")},
    .telling = "{sides} sides",
    .make = run_polygon});

}  // namespace

}  // namespace bricol
