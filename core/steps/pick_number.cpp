// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <cmath>

#include "core/catalogue/step.h"

namespace bricol {

namespace {

double picked_number(const Values& values) {
    const int last = static_cast<int>(std::lround(std::get<double>(values.find("count")->second))) - 1;
    const int which =
        std::clamp(static_cast<int>(std::lround(std::get<double>(values.find("which")->second))), 0, last);
    static constexpr std::array<std::string_view, 6> keys = {"a", "b", "c", "d", "e", "f"};
    return std::get<double>(values.find(keys[static_cast<std::size_t>(which)])->second);
}

ParameterInfo entry(std::string_view key, std::string_view label, double standard) {
    return number_of(key, label, standard, -1e9, 1e9, "One of the numbers to pick from.");
}

const Registered pick_number_step(StepInfo{
    .key = "pick_number",
    .name = "Pick number",
    .family = Family::look,
    .purpose = "One of several numbers, chosen by another.",
    .words = "switch select choose value table option",
    .help = "Number 0 picks A, 1 picks B and so on; formulas ask for `block.value`.",
    .glyph = "M4 6h4 M4 12h4 M4 18h4 M8 6 L14 12 M16 12h4 M14.5 10.5 L16 12 L14.5 13.5",
    .gives = 0,
    .inputs = {},
    .parameters = {count_of("which", "Which", 0, 0, 5, 5, "Number of the entry, from 0."),
                   count_of("count", "Entries", 2, 1, 6, 6, "How many there are."), entry("a", "A", 0),
                   entry("b", "B", 1), entry("c", "C", 2), entry("d", "D", 3), entry("e", "E", 4), entry("f", "F", 5)},
    .telling = "entry {which}",
    .make = nullptr,
    .outputs = {{"value", "Value", "The picked number.", picked_number}},
    .aside = true});

}  // namespace

}  // namespace bricol
