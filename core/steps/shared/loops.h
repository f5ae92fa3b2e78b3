// SPDX-License-Identifier: GPL-3.0-or-later
// What steps share that make the recipe inside them many times.
#pragma once

#include <algorithm>
#include <fmt/format.h>
#include <functional>
#include <span>

#include "core/catalogue/settings.h"

namespace bricol {

/// Its settings that name the recipe and how it is made.
template <class T>
Settings<T> inner_settings(KitWritten T::*kit, std::string T::*part, std::string T::*preset, DialValues T::*dials) {
    return {kind_of(kit, ParameterKind::kit, "kit", "Recipe", "A kit recipe's file, or the packed steps themselves."),
            text_of(part, "part", "Part",
                    "Which of its parts is given; empty for its last shown one, * for all that are shown."),
            kind_of(preset, ParameterKind::preset, "preset", "Preset",
                    "One of its presets; its dials below are turned from there."),
            kind_of(dials, ParameterKind::dials, "dials", "Its dials",
                    "A number or formula for each dial; others keep the preset's or the recipe's own value, or what "
                    "this step turns them to each time.")};
}

/// Inputs that the recipe inside is given besides the main one.
std::vector<InputInfo> inner_inputs(unsigned main_content);

/// True when there is nothing to make a recipe with, which is told.
bool no_inner(StepRun& run);

/// The recipe inside made once for each element, on all threads; `like` tells for each the first one it is like, and
/// that one goes before it, so that what does not depend on an element's own numbers is made once. Empty, and told,
/// when the recipe cannot be made.
std::vector<InnerMade> made_together(StepRun& run, std::span<const std::size_t> like,
                                     const std::function<InnerWanted(std::size_t)>& wanted);

/// What the recipe inside had to say, each sentence once, with how often and where first.
class InnerFindings {
public:
    void add(std::vector<Finding> findings, std::size_t number);
    /// `one` names one making ("piece"), `of` is how many there were, `from` what they are counted from.
    void tell(StepRun& run, std::string_view one, std::string_view several, std::size_t of, std::size_t from);

private:
    struct Said {
        Finding finding;
        std::size_t number, times;
    };
    std::vector<Said> list_;
};

/// Adds a number under its own name and under the step's ("each.index"), for where the first is a formula's own.
void add_loop_name(std::map<std::string, double>& names, std::string_view step, const std::string& name, double value);

}  // namespace bricol
