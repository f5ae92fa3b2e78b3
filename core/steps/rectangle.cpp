// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>

#include "core/steps/shared/basic_curves.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Rectangle {
    double width = 0.4;
    double height = 0.2;
    double corner = 0;
    int pieces = 4;
    double across = 0;
    double up = 0;
    FlatView plane = FlatView::front;
};

void run_rectangle(const Rectangle& s, StepRun& run) {
    Curve curve;
    curve.closed = true;
    const double w = s.width / 2, h = s.height / 2;
    const double radius = std::min({s.corner, w, h});
    if (s.corner > radius)
        run.tell(
            Severity::caution, "held-rounding",
            "The corner radius is held to half the shorter side, " + format_value(radius, Quantity::length, "m") + ".");
    curve.sampling.per_span = s.pieces;
    for (const auto& [x, y] : {std::pair{1, -1}, {1, 1}, {-1, 1}, {-1, -1}}) {
        Knot knot = knot_on(s.plane, s.across + w * x, s.up + h * y);
        knot.fillet = static_cast<float>(radius);
        curve.knots.push_back(knot);
    }
    give_curve(run, std::move(curve));
}

const StepOf<Rectangle> rectangle_step(
    StepInfo{.key = "rectangle",
             .name = "Rectangle",
             .family = Family::curves,
             .purpose = "A rectangle, with rounded corners if wanted.",
             .words = "square box outline frame",
             .help = "Four corners in a plane; the corner radius stays a number.",
             .glyph = "M6 6h12a2 2 0 0 1 2 2v8a2 2 0 0 1-2 2h-12a2 2 0 0 1-2-2v-8a2 2 0 0 1 2-2z",
             .gives = content_curves,
             .inputs = {},
             .telling = "{width} × {height}"},
    {length_of(&Rectangle::width, "width", "Width", 1e-6, 2, "Along the plane's first direction."),
     length_of(&Rectangle::height, "height", "Height", 1e-6, 2, "Along the plane's second direction."),
     length_of(&Rectangle::corner, "corner", "Corner radius", 0, 0.2, "Rounding of all four corners."),
     when(count_of(&Rectangle::pieces, "pieces", "Pieces per corner", 1, 128, 32,
                   "Straight pieces of each rounded corner."),
          "corner>0"),
     offset_of(&Rectangle::across, "across", "Across", "Place of the centre: the plane's first direction."),
     offset_of(&Rectangle::up, "up", "Up", "Place of the centre: the plane's second direction."),
     curve_plane(&Rectangle::plane)},
    run_rectangle);

}  // namespace

}  // namespace bricol
