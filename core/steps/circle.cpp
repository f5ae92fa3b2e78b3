// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/shared/basic_curves.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Circle {
    double radius = 0.25;
    int segments = 32;
    double across = 0;
    double up = 0;
    FlatView plane = FlatView::front;
};

void run_circle(const Circle& s, StepRun& run) {
    give_curve(run, ring_on(s.plane, s.across, s.up, s.radius, s.radius, s.segments));
}

const StepOf<Circle> circle_step(
    StepInfo{.key = "circle",
             .name = "Circle",
             .family = Family::curves,
             .purpose = "A circle of a real radius.",
             .words = "ring round disc",
             .help = "Four smooth knots. Segments are a multiple of four.",
             .glyph = "M12 4a8 8 0 1 0 0.01 0z",
             .gives = content_curves,
             .inputs = {},
             .telling = "r {radius}"},
    {length_of(&Circle::radius, "radius", "Radius", 1e-6, 2, "From the centre to the curve."),
     count_of(&Circle::segments, "segments", "Segments", 4, 2048, 128,
              "Straight pieces when points are needed; a multiple of four."),
     offset_of(&Circle::across, "across", "Across", "Place of the centre: the plane's first direction."),
     offset_of(&Circle::up, "up", "Up", "Place of the centre: the plane's second direction."),
     curve_plane(&Circle::plane)},
    run_circle);

}  // namespace

}  // namespace bricol
