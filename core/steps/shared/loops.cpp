// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/shared/loops.h"

namespace bricol {

std::vector<InputInfo> inner_inputs(unsigned main_content) {
    return {{"shape", "Shape", main_content},
            {"second", "Second shape", content_any, false},
            {"third", "Third shape", content_any, false},
            {"fourth", "Fourth shape", content_any, false}};
}

bool no_inner(StepRun& run) {
    if (run.inner) return false;
    if (!run.failed()) run.tell(Severity::error, "no-kit", "Recipes inside recipes cannot be looked up here.");
    return true;
}

void add_loop_name(std::map<std::string, double>& names, std::string_view step, const std::string& name, double value) {
    names[name] = value;
    names[fmt::format("{}.{}", step, name)] = value;
}

void InnerFindings::add(std::vector<Finding> findings, std::size_t number) {
    for (Finding& finding : findings) {
        const auto known =
            std::ranges::find_if(list_, [&](const Said& said) { return said.finding.text == finding.text; });
        if (known != list_.end())
            ++known->times;
        else
            list_.push_back({std::move(finding), number, 1});
    }
}

void InnerFindings::tell(StepRun& run, std::string_view one, std::string_view several, std::size_t of,
                         std::size_t from) {
    for (Said& said : list_) {
        if (said.finding.severity == Severity::error) said.finding.code = "inside";
        if (of > 1)
            said.finding.text += said.times == 1 ? fmt::format(" (At {} {}.)", one, said.number + from)
                                                 : fmt::format(" (At {} of {} {}, first at {}.)", said.times, of,
                                                               several, said.number + from);
        run.findings.push_back(std::move(said.finding));
    }
}

}  // namespace bricol
