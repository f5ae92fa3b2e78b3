// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>

#include "core/steps/basic_curves.h"

namespace bricol {

namespace {

void run_rectangle(StepRun& run) {
    Curve curve;
    curve.closed = true;
    const double w = run.number("width") / 2, h = run.number("height") / 2;
    const double radius = std::min({run.number("corner"), w, h});
    if (run.number("corner") > radius)
        run.tell(
            Severity::note, "held-rounding",
            "The corner radius is held to half the shorter side, " + format_value(radius, Quantity::length, "m") + ".");
    curve.sampling.per_span = run.integer("pieces");
    for (const auto& [x, y] : {std::pair{1, -1}, {1, 1}, {-1, 1}, {-1, -1}}) {
        Knot knot = knot_on(run.word("plane"), run.number("across") + w * x, run.number("up") + h * y);
        knot.fillet = static_cast<float>(radius);
        curve.knots.push_back(knot);
    }
    give_curve(run, std::move(curve));
}

const Registered rectangle_step(StepInfo{
    .key = "rectangle",
    .name = "Rectangle",
    .family = Family::curves,
    .purpose = "A rectangle, with rounded corners if wanted.",
    .words = "square box outline frame",
    .help = "Four corners in a plane; the corner radius stays a number.",
    .glyph = "M6 6h12a2 2 0 0 1 2 2v8a2 2 0 0 1-2 2h-12a2 2 0 0 1-2-2v-8a2 2 0 0 1 2-2z",
    .gives = content_curves,
    .inputs = {},
    .parameters = {length_of("width", "Width", 0.4, 1e-6, 2, "Along the plane's first direction."),
                   length_of("height", "Height", 0.2, 1e-6, 2, "Along the plane's second direction."),
                   length_of("corner", "Corner radius", 0, 0, 0.2, "Rounding of all four corners."),
                   when(count_of("pieces", "Pieces per corner", 4, 1, 128, 32,
                                 "Straight pieces of each rounded corner."),
                        "corner>0"),
                   offset_of("across", "Across", 0, "Place of the centre: the plane's first direction."),
                   offset_of("up", "Up", 0, "Place of the centre: the plane's second direction."),
                   curve_plane("front")},
    .telling = "{width} × {height}",
    .make = run_rectangle});

}  // namespace

}  // namespace bricol
