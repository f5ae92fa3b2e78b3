// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/deformer.h"

namespace bricol {

namespace {

void run_taper(StepRun& run) {
    const auto frame = frame_of(run, "axis");
    if (!frame) return;
    const std::string& ramp = run.word("ramp");
    give_deformed(run, taper_map(frame->span, run.number("first"), run.number("second"), frame->centre,
                                 ramp == "eased"   ? Ramp::eased
                                 : ramp == "bulge" ? Ramp::bulge
                                                   : Ramp::straight,
                                 run.number("bulge")));
}

const Registered taper_step(StepInfo{
    .key = "taper",
    .name = "Taper",
    .family = Family::bend,
    .purpose = "Makes one end wider or narrower, in two directions.",
    .words = "narrow widen cone flare bulge",
    .help = "Sizes across the axis go from 1 at the low end to the two factors at the high end, straight, eased, or "
            "with a bulge between.",
    .glyph = "M8 4h8 M4 20h16 M8 4 L4 20 M16 4 L20 20 M6 12h12",
    .gives = 0,
    .inputs = {{"shape", "Shape", deformable, true}},
    .parameters = with_span(
        {number_of("first", "End, one way", 0.5, -10, 10, "Factor at the high end along the next axis (x for z)."),
         number_of("second", "End, other way", 0.5, -10, 10,
                   "Factor at the high end along the axis after it (y for z)."),
         axis_of("axis", "Axis", "z", "What it tapers along."),
         choice_of("ramp", "Ramp", {{"straight", "straight"}, {"eased", "eased"}, {"bulge", "with a bulge"}},
                   "How the size changes between the ends."),
         when(number_of("bulge", "Bulge", 0.2, -2, 5, "Added in the middle."), "ramp=bulge")}),
    .telling = "{first} × {second}",
    .make = run_taper});

}  // namespace

}  // namespace bricol
