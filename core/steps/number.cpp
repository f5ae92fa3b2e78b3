// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct NumberSettings {
    double value = 1;
};

const BlockOf<NumberSettings> number_step(
    StepInfo{.key = "number",
             .name = "Number",
             .family = Family::look,
             .purpose = "One number that other numbers can be wired to.",
             .words = "value constant float parameter variable",
             .help = "Formulas ask for it by this block's name: `= sides.value`. A dial is a number "
                     "for whoever uses the recipe; this one is for yourself.",
             .glyph = "M7 4 L5 20 M15 4 L13 20 M4 9h14 M3.5 15h14",
             .telling = "{value}"},
    {number_of(&NumberSettings::value, "value", "Value", -1e9, 1e9, "What the block gives.")});

}  // namespace

}  // namespace bricol
