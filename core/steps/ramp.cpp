// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/catalogue/step.h"

namespace bricol {

namespace {

double ramp_value(const Values& values) {
    const double x = std::get<double>(values.find("at")->second), low = std::get<double>(values.find("from")->second),
                 high = std::get<double>(values.find("to")->second);
    return low + (high - low) * std::get<DrawnRamp>(values.find("ramp")->second).value(x);
}

const Registered ramp_step(StepInfo{
    .key = "ramp",
    .name = "Ramp",
    .family = Family::look,
    .purpose = "A drawn curve that turns one number into another.",
    .words = "curve falloff map remap easing value",
    .help = "The number goes in from 0 to 1, the drawn height comes out as `block.value`, spread between two limits.",
    .glyph = "M4 19 C9 19 9 5 19 5 M4 4v16h16",
    .gives = 0,
    .inputs = {},
    .parameters = {number_of("at", "At", 0.5, -1e6, 1e6, "Where the ramp is read, 0 to 1."),
                   kind_of(ParameterKind::ramp, "ramp", "Ramp", "The height over 0 to 1."),
                   number_of("from", "Low", 0, -1e6, 1e6, "What height 0 stands for."),
                   number_of("to", "High", 1, -1e6, 1e6, "What height 1 stands for.")},
    .telling = "at {at}",
    .make = nullptr,
    .outputs = {{"value", "Value", "The height there, between the limits.", ramp_value}},
    .aside = true});

}  // namespace

}  // namespace bricol
