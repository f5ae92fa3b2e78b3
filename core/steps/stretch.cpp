// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/shared/deformer.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Stretch : DeformSpan {
    double factor = 1.5;
    Axis axis = Axis::z;
    bool keep_volume = false;
};

void run_stretch(const Stretch& s, StepRun& run) {
    if (const auto frame = frame_of(run, s, s.axis))
        give_deformed(run, s.only, stretch_map(frame->span, s.factor, frame->centre, s.keep_volume));
}

const StepOf<Stretch> stretch_step(
    StepInfo{
        .key = "stretch",
        .name = "Stretch",
        .family = Family::bend,
        .purpose = "Makes a shape longer between two places.",
        .words = "lengthen squash pull elongate",
        .help =
            "What lies beyond the limits moves along without changing. Keeping the volume makes the shape thinner as "
            "it grows longer.",
        .glyph = "M3 8h18v8h-18z M7 12h10 M15 10 L17 12 L15 14 M9 10 L7 12 L9 14",
        .gives = 0,
        .inputs = {{"shape", "Shape", deformable, true}},
        .telling = "× {factor}"},
    with_span<Stretch>({number_of(&Stretch::factor, "factor", "Factor", 0.001, 100, "How many times as long."),
                        axis_of(&Stretch::axis, "axis", "Along", "The direction."),
                        toggle_of(&Stretch::keep_volume, "keep_volume", "Keep the volume",
                                  "Thinner as it grows longer.")},
                       "keep_volume"),
    run_stretch);

}  // namespace

}  // namespace bricol
