// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/basic_curves.h"

namespace bricol {

namespace {

void run_ellipse(StepRun& run) {
    give_curve(run, ring_on(run.word("plane"), run.number("across"), run.number("up"), run.number("width") / 2,
                            run.number("height") / 2, run.integer("segments")));
}

const Registered ellipse_step(StepInfo{
    .key = "ellipse",
    .name = "Ellipse",
    .family = Family::curves,
    .purpose = "A circle of two sizes.",
    .words = "oval round",
    .help = "Four smooth knots. Segments are a multiple of four.",
    .glyph = "M3 12a9 5.5 0 1 0 18 0a9 5.5 0 1 0 -18 0",
    .gives = content_curves,
    .inputs = {},
    .parameters = {length_of("width", "Width", 0.6, 1e-6, 4, "Along the plane's first direction."),
                   length_of("height", "Height", 0.36, 1e-6, 4, "Along its second."),
                   count_of("segments", "Segments", 32, 4, 2048, 128,
                            "Straight pieces when points are needed; a multiple of four."),
                   offset_of("across", "Across", 0, "Place of the centre: the plane's first direction."),
                   offset_of("up", "Up", 0, "Place of the centre: the plane's second direction."),
                   curve_plane("front")},
    .telling = "{width} × {height}",
    .make = run_ellipse});

}  // namespace

}  // namespace bricol
