// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct RampSettings {
    double at = 0.5;
    DrawnRamp ramp;
    double from = 0, to = 1;
};

double ramp_value(const RampSettings& s) { return s.from + (s.to - s.from) * s.ramp.value(s.at); }

const BlockOf<RampSettings> ramp_step(
    StepInfo{.key = "ramp",
             .name = "Ramp",
             .family = Family::look,
             .purpose = "A drawn curve that turns one number into another.",
             .words = "curve falloff map remap easing value",
             .help = "The number goes in from 0 to 1, the drawn height comes out as `block.value`, spread between two "
                     "limits.",
             .glyph = "M4 19 C9 19 9 5 19 5 M4 4v16h16",
             .telling = "at {at}"},
    {number_of(&RampSettings::at, "at", "At", -1e6, 1e6, "Where the ramp is read, 0 to 1."),
     kind_of(&RampSettings::ramp, ParameterKind::ramp, "ramp", "Ramp", "The height over 0 to 1."),
     number_of(&RampSettings::from, "from", "Low", -1e6, 1e6, "What height 0 stands for."),
     number_of(&RampSettings::to, "to", "High", -1e6, 1e6, "What height 1 stands for.")},
    {{"value", "Value", "The height there, between the limits.", ramp_value}});

}  // namespace

}  // namespace bricol
