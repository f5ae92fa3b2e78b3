// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/shared/deformer.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Twist : DeformSpan {
    double angle = 90;
    Axis axis = Axis::z;
};

void run_twist(const Twist& s, StepRun& run) {
    if (const auto frame = frame_of(run, s, s.axis))
        give_deformed(run, s.only, twist_map(frame->span, s.angle, frame->centre));
}

const StepOf<Twist> twist_step(
    StepInfo{
        .key = "twist",
        .name = "Twist",
        .family = Family::bend,
        .purpose = "Turns one end of a shape against the other.",
        .words = "spiral wring screw torsion",
        .help = "The turn grows evenly from one end to the other. The shape needs faces along the axis to follow it.",
        .glyph = "M6 3 C6 10 18 14 18 21 M18 3 C18 10 6 14 6 21 M6 3h12 M6 21h12",
        .gives = 0,
        .inputs = {{"shape", "Shape", deformable, true}},
        .telling = "{angle}"},
    with_span<Twist>({pulled(angle_of(&Twist::angle, "angle", "Angle", -36000, 36000, "Between both ends."),
                             HandleKind::about, "axis"),
                      axis_of(&Twist::axis, "axis", "Axis", "What it is twisted about.")}),
    run_twist);

}  // namespace

}  // namespace bricol
