// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/deformer.h"

namespace bricol {

namespace {

void run_twist(StepRun& run) {
    if (const auto frame = frame_of(run, "axis"))
        give_deformed(run, twist_map(frame->span, run.number("angle"), frame->centre));
}

const Registered twist_step(StepInfo{
    .key = "twist",
    .name = "Twist",
    .family = Family::bend,
    .purpose = "Turns one end of a shape against the other.",
    .words = "spiral wring screw torsion",
    .help = "The turn grows evenly from one end to the other. The shape needs faces along the axis to follow it.",
    .glyph = "M6 3 C6 10 18 14 18 21 M18 3 C18 10 6 14 6 21 M6 3h12 M6 21h12",
    .gives = 0,
    .inputs = {{"shape", "Shape", deformable, true}},
    .parameters = with_span({pulled(angle_of("angle", "Angle", 90, -36000, 36000, "Between both ends."),
                                    HandleKind::about, "axis"),
                             axis_of("axis", "Axis", "z", "What it is twisted about.")}),
    .telling = "{angle}",
    .make = run_twist});

}  // namespace

}  // namespace bricol
