// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/make/outcome.h"

#include <algorithm>

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

bool Made::has_errors() const {
    const auto any = [](const std::vector<Finding>& list) {
        return std::ranges::any_of(list, [](const Finding& f) { return f.severity == Severity::error; });
    };
    for (const auto& part : steps)
        for (const auto& outcome : part)
            if (outcome && any(outcome->findings)) return true;
    for (const auto& part : parts)
        if (part && any(part->findings)) return true;
    return any(findings);
}

std::size_t Made::faces(const Recipe& recipe) const {
    std::size_t sum = 0;
    for (std::size_t p = 0; p < recipe.parts.size() && p < parts.size(); ++p)
        if (!recipe.parts[p]->hidden && parts[p]) sum += parts[p]->shape->face_count();
    return sum;
}

}  // namespace bricol
