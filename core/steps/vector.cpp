// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct VectorSettings {
    DVec3 value{0, 0, 1};
};

double length_of_vector(const VectorSettings& s) { return glm::length(s.value); }

const BlockOf<VectorSettings> vector_step(
    StepInfo{.key = "vector",
             .name = "Vector",
             .family = Family::look,
             .purpose = "Three numbers that others can be wired to.",
             .words = "value constant point direction xyz",
             .help = "Formulas ask for `block.value.x`, `.y`, `.z`, and `block.length`.",
             .glyph = "M5 19 L18 6 M18 6h-6 M18 6v6 M5 19v-7 M5 19h7",
             .telling = "{value}"},
    {vector_of(&VectorSettings::value, "value", "Value", Quantity::plain, "What the block gives.")},
    {{"length", "Length", "How long it is.", length_of_vector}});

}  // namespace

}  // namespace bricol
