// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <array>
#include <fmt/format.h>

#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct PickNumber {
    int which = 0, count = 2;
    double a = 0, b = 1, c = 2, d = 3, e = 4, f = 5;
};

double picked_number(const PickNumber& s) {
    const std::array<double, 6> entries = {s.a, s.b, s.c, s.d, s.e, s.f};
    return entries[static_cast<std::size_t>(std::clamp(s.which, 0, s.count - 1))];
}

void tell_pick_number(const PickNumber& s, StepRun& run) {
    if (s.which >= s.count)
        run.tell(Severity::caution, "out-of-entries",
                 fmt::format("There is no entry {}; the last one, {}, was taken.", s.which, s.count - 1));
}

Setting<PickNumber> entry(double PickNumber::*field, std::string_view key, std::string_view label) {
    return number_of(field, key, label, -1e9, 1e9, "One of the numbers to pick from.");
}

const BlockOf<PickNumber> pick_number_step(
    StepInfo{.key = "pick_number",
             .name = "Pick number",
             .family = Family::look,
             .purpose = "One of several numbers, chosen by another.",
             .words = "switch select choose value table option",
             .help = "Number 0 picks A, 1 picks B and so on; formulas ask for `block.value`.",
             .glyph = "M4 6h4 M4 12h4 M4 18h4 M8 6 L14 12 M16 12h4 M14.5 10.5 L16 12 L14.5 13.5",
             .telling = "entry {which}"},
    {count_of(&PickNumber::which, "which", "Which", 0, 5, 5, "Number of the entry, from 0."),
     count_of(&PickNumber::count, "count", "Entries", 1, 6, 6, "How many there are."), entry(&PickNumber::a, "a", "A"),
     entry(&PickNumber::b, "b", "B"), entry(&PickNumber::c, "c", "C"), entry(&PickNumber::d, "d", "D"),
     entry(&PickNumber::e, "e", "E"), entry(&PickNumber::f, "f", "F")},
    {{"value", "Value", "The picked number.", picked_number}}, tell_pick_number);

}  // namespace

}  // namespace bricol
