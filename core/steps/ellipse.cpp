// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/shared/basic_curves.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Ellipse {
    double width = 0.6;
    double height = 0.36;
    int segments = 32;
    double across = 0;
    double up = 0;
    FlatView plane = FlatView::front;
};

void run_ellipse(const Ellipse& s, StepRun& run) {
    give_curve(run, ring_on(s.plane, s.across, s.up, s.width / 2, s.height / 2, s.segments));
}

const StepOf<Ellipse> ellipse_step(
    StepInfo{.key = "ellipse",
             .name = "Ellipse",
             .family = Family::curves,
             .purpose = "A circle of two sizes.",
             .words = "oval round",
             .help = "Four smooth knots. Segments are a multiple of four.",
             .glyph = "M3 12a9 5.5 0 1 0 18 0a9 5.5 0 1 0 -18 0",
             .gives = content_curves,
             .inputs = {},
             .telling = "{width} × {height}"},
    {length_of(&Ellipse::width, "width", "Width", 1e-6, 4, "Along the plane's first direction."),
     length_of(&Ellipse::height, "height", "Height", 1e-6, 4, "Along its second."),
     count_of(&Ellipse::segments, "segments", "Segments", 4, 2048, 128,
              "Straight pieces when points are needed; a multiple of four."),
     offset_of(&Ellipse::across, "across", "Across", "Place of the centre: the plane's first direction."),
     offset_of(&Ellipse::up, "up", "Up", "Place of the centre: the plane's second direction."),
     curve_plane(&Ellipse::plane)},
    run_ellipse);

}  // namespace

}  // namespace bricol
