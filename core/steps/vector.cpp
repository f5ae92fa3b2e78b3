// SPDX-License-Identifier: GPL-3.0-or-later
#include <cmath>

#include "core/catalogue/step.h"

namespace bricol {

namespace {

double length(const Values& values) { return glm::length(std::get<DVec3>(values.find("value")->second)); }

const Registered vector_step(StepInfo{
    .key = "vector",
    .name = "Vector",
    .family = Family::look,
    .purpose = "Three numbers that others can be wired to.",
    .words = "value constant point direction xyz",
    .help = "Formulas ask for `block.value.x`, `.y`, `.z`, and `block.length`.",
    .glyph = "M5 19 L18 6 M18 6h-6 M18 6v6 M5 19v-7 M5 19h7",
    .gives = 0,
    .inputs = {},
    .parameters = {vector_of("value", "Value", Quantity::plain, {0, 0, 1}, "What the block gives.")},
    .telling = "{value}",
    .make = nullptr,
    .outputs = {{"length", "Length", "How long it is.", length}},
    .aside = true});

}  // namespace

}  // namespace bricol
