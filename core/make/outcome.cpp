// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/make/outcome.h"

#include <algorithm>

#include "core/make/graph.h"

namespace bricol {

const StepOutcome* Made::step(const Recipe& recipe, const std::string& part, const std::string& id) const {
    for (std::size_t p = 0; p < recipe.parts.size() && p < steps.size(); ++p)
        if (recipe.parts[p]->name == part) {
            const std::size_t s = step_index(*recipe.parts[p], id);
            return s < steps[p].size() ? steps[p][s].get() : nullptr;
        }
    return nullptr;
}

const PartOutcome* Made::part(const Recipe& recipe, const std::string& name) const {
    for (std::size_t p = 0; p < recipe.parts.size() && p < parts.size(); ++p)
        if (recipe.parts[p]->name == name) return parts[p].get();
    return nullptr;
}

namespace {

bool any_error(const std::vector<Finding>& list) {
    return std::ranges::any_of(list, [](const Finding& f) { return f.severity == Severity::error; });
}

}  // namespace

bool Made::has_errors() const {
    for (const auto& part : steps)
        for (const auto& outcome : part)
            if (outcome && any_error(outcome->findings)) return true;
    for (const auto& part : parts)
        if (part && any_error(part->findings)) return true;
    return any_error(findings);
}

bool Made::has_errors(const Recipe& recipe, const std::vector<std::string>& only) const {
    if (only.empty()) return has_errors();
    const auto behind = steps_behind(recipe, only);
    for (std::size_t p = 0; p < steps.size(); ++p) {
        const bool wanted = std::ranges::find(only, recipe.parts[p]->name) != only.end();
        if (wanted && parts[p] && any_error(parts[p]->findings)) return true;
        for (std::size_t s = 0; s < steps[p].size(); ++s)
            if ((wanted || behind[p][s]) && steps[p][s] && any_error(steps[p][s]->findings)) return true;
    }
    return any_error(findings);
}

std::size_t Made::faces(const Recipe& recipe) const {
    std::size_t sum = 0;
    for (std::size_t p = 0; p < recipe.parts.size() && p < parts.size(); ++p)
        if (recipe.parts[p]->delivered() && parts[p]) sum += parts[p]->shape->face_count();
    return sum;
}

}  // namespace bricol
