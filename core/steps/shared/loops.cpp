// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/shared/loops.h"

#include "core/ground/parallel.h"
#include "core/ground/progress.h"
#include "core/ground/stop.h"

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

std::vector<InnerMade> made_together(StepRun& run, std::span<const std::size_t> like,
                                     const std::function<InnerWanted(std::size_t)>& wanted) {
    const std::size_t n = like.size();
    std::vector<std::optional<Result<InnerMade>>> made(n);
    const auto make = [&](std::size_t i) { made[i] = run.inner(wanted(i)); };
    std::vector<std::size_t> firsts, others;
    for (std::size_t i = 0; i < n; ++i) (like[i] == i ? firsts : others).push_back(i);
    std::vector<InnerMade> out;
    const auto failed = [&](std::size_t i) {
        if (*made[i]) return false;
        run.tell(Severity::error, "no-kit", made[i]->problem().text());
        return true;
    };
    make(firsts.front());
    if (failed(0)) return out;
    constexpr std::size_t batch = 64;  // between which progress is told
    for (auto* list : {&firsts, &others})
        for (std::size_t from = 0; from < list->size(); from += batch) {
            const std::size_t to = std::min(list->size(), from + batch);
            parallel::each(from, to, [&](std::size_t k) {
                stop_point();
                if (!made[(*list)[k]]) make((*list)[k]);
            });
            progress_of_work(static_cast<double>((list == &others ? firsts.size() : 0) + to) / static_cast<double>(n));
        }
    for (std::size_t i = 0; i < n; ++i) {
        if (failed(i)) return {};
        out.push_back(std::move(**made[i]));
    }
    return out;
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
