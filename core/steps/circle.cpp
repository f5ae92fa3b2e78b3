// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/basic_curves.h"

namespace bricol {

namespace {

void run_circle(StepRun& run) {
    give_curve(run, ring_on(run.word("plane"), run.number("across"), run.number("up"), run.number("radius"),
                            run.number("radius"), run.integer("segments")));
}

const Registered circle_step(StepInfo{
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
                   count_of("segments", "Segments", 32, 4, 2048, 128,
                            "Straight pieces when points are needed; a multiple of four."),
                   offset_of("across", "Across", 0, "Place of the centre: the plane's first direction."),
                   offset_of("up", "Up", 0, "Place of the centre: the plane's second direction."),
                   curve_plane("front")},
    .telling = "r {radius}",
    .make = run_circle});

}  // namespace

}  // namespace bricol
