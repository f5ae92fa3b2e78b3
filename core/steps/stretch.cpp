// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/deformer.h"

namespace bricol {

namespace {

void run_stretch(StepRun& run) {
    if (const auto frame = frame_of(run, "axis"))
        give_deformed(run, stretch_map(frame->span, run.number("factor"), frame->centre, run.toggle("keep_volume")));
}

const Registered stretch_step(StepInfo{
    .key = "stretch",
    .name = "Stretch",
    .family = Family::bend,
    .purpose = "Makes a shape longer between two places.",
    .words = "lengthen squash pull elongate",
    .help = "What lies beyond the limits moves along without changing. Keeping the volume makes the shape thinner as "
            "it grows longer.",
    .glyph = "M3 8h18v8h-18z M7 12h10 M15 10 L17 12 L15 14 M9 10 L7 12 L9 14",
    .gives = 0,
    .inputs = {{"shape", "Shape", deformable, true}},
    .parameters = with_span({number_of("factor", "Factor", 1.5, 0.001, 100, "How many times as long."),
                             axis_of("axis", "Along", "z", "The direction."),
                             toggle_of("keep_volume", "Keep the volume", false, "Thinner as it grows longer.")}),
    .telling = "× {factor}",
    .make = run_stretch});

}  // namespace

}  // namespace bricol
