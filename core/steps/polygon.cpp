// SPDX-License-Identifier: GPL-3.0-or-later
#include <cmath>
#include <numbers>

#include "core/steps/shared/basic_curves.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Polygon {
    double radius = 0.25;
    int sides = 6;
    double inner = 0;
    double turn = 0;
    double corner = 0;
    int pieces = 4;
    FlatView plane = FlatView::top;
};

void run_polygon(const Polygon& s, StepRun& run) {
    Curve curve;
    curve.closed = true;
    const int sides = s.sides;
    const double inner = s.inner;
    const int corners = inner > 0 ? 2 * sides : sides;
    curve.sampling.per_span = s.pieces;
    for (int i = 0; i < corners; ++i) {
        const double a = s.turn * std::numbers::pi / 180 + 2 * std::numbers::pi * i / corners;
        const double r = inner > 0 && i % 2 == 1 ? inner : s.radius;
        Knot knot = knot_on(s.plane, r * std::cos(a), r * std::sin(a));
        knot.fillet = static_cast<float>(s.corner);
        curve.knots.push_back(knot);
    }
    give_curve(run, std::move(curve));
}

const StepOf<Polygon> polygon_step(
    StepInfo{.key = "polygon",
             .name = "Polygon",
             .family = Family::curves,
             .purpose = "A regular polygon, or a star.",
             .words = "hexagon triangle star ngon",
             .help = "Corners on a circle. With an inner radius every second corner lies on that and the polygon "
                     "becomes a star.",
             .glyph = "M12 3.5 L20 9.3 L17 19 H7 L4 9.3z",
             .gives = content_curves,
             .inputs = {},
             .telling = "{sides} sides"},
    {length_of(&Polygon::radius, "radius", "Radius", 1e-6, 2, "From the centre to the corners."),
     count_of(&Polygon::sides, "sides", "Sides", 3, 2048, 24, "Corners on the outer circle."),
     length_of(&Polygon::inner, "inner", "Inner radius", 0, 2, "Of the corners between; 0 for a plain polygon."),
     angle_of(&Polygon::turn, "turn", "Turn", -360, 360, "Turns the polygon in its plane."),
     length_of(&Polygon::corner, "corner", "Corner radius", 0, 0.1, "Rounding of the corners."),
     when(count_of(&Polygon::pieces, "pieces", "Pieces per corner", 1, 128, 32,
                   "Straight pieces of each rounded corner."),
          "corner>0"),
     curve_plane(&Polygon::plane)},
    run_polygon);

}  // namespace

}  // namespace bricol
