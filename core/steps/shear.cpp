// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/deformer.h"

namespace bricol {

namespace {

void run_shear(StepRun& run) {
    const auto frame = frame_of(run, "axis");
    if (!frame) return;
    if (run.axis("axis") == run.axis("toward")) {
        run.tell(Severity::error, "same-axis", "The shape cannot lean towards its own axis. Choose another direction.");
        return;
    }
    give_deformed(run, shear_map(frame->span, run.axis("toward"), run.number("angle")));
}

const Registered shear_step(StepInfo{
    .key = "shear",
    .name = "Shear",
    .family = Family::bend,
    .purpose = "Leans a shape over.",
    .words = "skew slant lean rake",
    .help = "The low end stays, the high end moves sideways; heights do not change.",
    .glyph = "M4 20h12 M9 4h12 M4 20 L9 4 M16 20 L21 4",
    .gives = 0,
    .inputs = {{"shape", "Shape", deformable, true}},
    .parameters = with_span({pulled(angle_of("angle", "Angle", 15, -85, 85, "From upright."), HandleKind::about,
                                    "axis^toward"),
                             axis_of("axis", "Axis", "z", "The axis that leans."),
                             axis_of("toward", "Leans towards", "x", "Where it goes.")}),
    .telling = "{angle}",
    .make = run_shear});

}  // namespace

}  // namespace bricol
