// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct SwitchSettings {
    int which = 0;
    bool wrap = false;
};

constexpr std::array<std::string_view, 6> keys = {"shape", "second", "third", "fourth", "fifth", "sixth"};

void run_switch(const SwitchSettings& s, StepRun& run) {
    int last = -1;
    for (std::size_t i = 0; i < keys.size(); ++i)
        if (run.input_pointer(keys[i])) last = static_cast<int>(i);
    const int wanted = s.which;
    const int which = s.wrap && last >= 0 ? wanted % (last + 1) : std::min(wanted, last);
    if (which != wanted && !s.wrap)
        run.tell(Severity::caution, "out-of-inputs",
                 fmt::format("There is no input {}; the last one, {}, was taken.", wanted, last));
    const ShapePtr chosen = which >= 0 ? run.input_pointer(keys[static_cast<std::size_t>(which)]) : nullptr;
    if (chosen)
        run.give(chosen);
    else
        run.tell(Severity::error, "no-input", fmt::format("Nothing is linked to input {}.", which));
}

const StepOf<SwitchSettings> switch_step(
    StepInfo{
        .key = "switch",
        .name = "Switch",
        .family = Family::look,
        .purpose = "Chooses one of several shapes by a number.",
        .words = "select alternative option variant choose input if",
        .help = "Inputs count from 0. With a formula or a dial as the number, one recipe has several forms.",
        .glyph = "M3 6h5 M3 12h5 M3 18h5 M8 12 L15 6.5 M15 12h6 M13.6 12a1.4 1.4 0 1 0 2.8 0a1.4 1.4 0 1 0 -2.8 0z",
        .gives = 0,
        .inputs = {{"shape", "Input 0", content_any, false},
                   {"second", "Input 1", content_any, false},
                   {"third", "Input 2", content_any, false},
                   {"fourth", "Input 3", content_any, false},
                   {"fifth", "Input 4", content_any, false},
                   {"sixth", "Input 5", content_any, false}},
        .telling = "input {which}"},
    {count_of(&SwitchSettings::which, "which", "Which", 0, 1000000, 5, "Number of the input, from 0."),
     toggle_of(&SwitchSettings::wrap, "wrap", "Start over", "Numbers past the last input begin again at the first.")},
    run_switch);

}  // namespace

}  // namespace bricol
