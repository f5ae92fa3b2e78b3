// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/shared/deformer.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Taper : DeformSpan {
    enum class RampChoice { straight, eased, bulge };
    double first = 0.5;
    double second = 0.5;
    Axis axis = Axis::z;
    RampChoice ramp = RampChoice::straight;
    double bulge = 0.2;
};

void run_taper(const Taper& s, StepRun& run) {
    const auto frame = frame_of(run, s, s.axis);
    if (!frame) return;
    const Taper::RampChoice ramp = s.ramp;
    give_deformed(run, s.only,
                  taper_map(frame->span, s.first, s.second, frame->centre,
                            ramp == Taper::RampChoice::eased   ? Ramp::eased
                            : ramp == Taper::RampChoice::bulge ? Ramp::bulge
                                                               : Ramp::straight,
                            s.bulge));
}

const StepOf<Taper> taper_step(
    StepInfo{
        .key = "taper",
        .name = "Taper",
        .family = Family::bend,
        .purpose = "Makes one end wider or narrower, in two directions.",
        .words = "narrow widen cone flare bulge",
        .help =
            "Sizes across the axis go from 1 at the low end to the two factors at the high end, straight, eased, or "
            "with a bulge between.",
        .glyph = "M8 4h8 M4 20h16 M8 4 L4 20 M16 4 L20 20 M6 12h12",
        .gives = 0,
        .inputs = {{"shape", "Shape", deformable, true}},
        .telling = "{first} × {second}"},
    with_span<Taper>({number_of(&Taper::first, "first", "End, one way", -10, 10,
                                "Factor at the high end along the next axis (x for z)."),
                      number_of(&Taper::second, "second", "End, other way", -10, 10,
                                "Factor at the high end along the axis after it (y for z)."),
                      axis_of(&Taper::axis, "axis", "Axis", "What it tapers along."),
                      choice_of(&Taper::ramp, "ramp", "Ramp",
                                {{Taper::RampChoice::straight, "straight", "straight"},
                                 {Taper::RampChoice::eased, "eased", "eased"},
                                 {Taper::RampChoice::bulge, "bulge", "with a bulge"}},
                                "How the size changes between the ends."),
                      when(number_of(&Taper::bulge, "bulge", "Bulge", -2, 5, "Added in the middle."), "ramp=bulge")}),
    run_taper);

}  // namespace

}  // namespace bricol
