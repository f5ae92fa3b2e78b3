// SPDX-License-Identifier: GPL-3.0-or-later
// What steps share that make the recipe inside them many times.
#pragma once

#include <algorithm>
#include <fmt/format.h>

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
inline std::vector<InputInfo> inner_inputs(unsigned main_content) {
    return {{"shape", "Shape", main_content},
            {"second", "Second shape", content_any, false},
            {"third", "Third shape", content_any, false},
            {"fourth", "Fourth shape", content_any, false}};
}

/// True when there is nothing to make a recipe with, which is told.
inline bool no_inner(StepRun& run) {
    if (run.inner) return false;
    if (!run.failed()) run.tell(Severity::error, "no-kit", "Recipes inside recipes cannot be looked up here.");
    return true;
}

/// What the recipe inside had to say, each sentence once, with how often and where first.
class InnerFindings {
public:
    void add(std::vector<Finding> findings, std::size_t number) {
        for (Finding& finding : findings) {
            const auto known =
                std::ranges::find_if(list_, [&](const Said& said) { return said.finding.text == finding.text; });
            if (known != list_.end())
                ++known->times;
            else
                list_.push_back({std::move(finding), number, 1});
        }
    }
    /// `one` names one making ("piece"), `of` is how many there were, `from` what they are counted from.
    void tell(StepRun& run, std::string_view one, std::string_view several, std::size_t of, std::size_t from) {
        for (Said& said : list_) {
            if (said.finding.severity == Severity::error) said.finding.code = "inside";
            if (of > 1)
                said.finding.text += said.times == 1 ? fmt::format(" (At {} {}.)", one, said.number + from)
                                                     : fmt::format(" (At {} of {} {}, first at {}.)", said.times, of,
                                                                   several, said.number + from);
            run.findings.push_back(std::move(said.finding));
        }
    }

private:
    struct Said {
        Finding finding;
        std::size_t number, times;
    };
    std::vector<Said> list_;
};

/// Adds a number under its own name and under the step's ("each.index"), for where the first is a formula's own.
inline void add_loop_name(std::map<std::string, double>& names, std::string_view step, const std::string& name,
                          double value) {
    names[name] = value;
    names[fmt::format("{}.{}", step, name)] = value;
}

}  // namespace bricol
