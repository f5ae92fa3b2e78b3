// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/recipe/recipe.h"

#include "core/catalogue/step_info.h"

namespace bricol {

const Part* Recipe::part(const std::string& name) const {
    for (const auto& part : parts)
        if (part->name == name) return part.get();
    return nullptr;
}

const Preset* Recipe::preset(const std::string& name) const {
    for (const Preset& preset : presets)
        if (preset.name == name) return &preset;
    return nullptr;
}

const Dial* Recipe::dial(const std::string& name) const {
    for (const Dial& dial : dials)
        if (dial.name == name) return &dial;
    return nullptr;
}

bool starts_chain(const Step& step) {
    const StepInfo* info = find_step_info(step.type);
    return info && info->starts();
}

bool stands_aside(const Step& step) {
    const StepInfo* info = find_step_info(step.type);
    return info && info->aside;
}

std::size_t step_index(const Part& part, const std::string& id) {
    std::size_t i = 0;
    while (i < part.steps.size() && part.steps[i]->id != id) ++i;
    return i;
}

const Step* find_step(const Part& part, const std::string& id) {
    const std::size_t i = step_index(part, id);
    return i < part.steps.size() ? part.steps[i].get() : nullptr;
}

const Step* step_before(const Part& part, std::size_t step) {
    while (step-- > 0)
        if (!stands_aside(*part.steps[step])) return part.steps[step].get();
    return nullptr;
}

std::string source_of(const Part& part, std::size_t step, const std::string& input) {
    const Step& here = *part.steps[step];
    if (const auto link = here.inputs.find(input); link != here.inputs.end()) return link->second;
    const Step* before =
        input == "shape" && !starts_chain(here) && !stands_aside(here) ? step_before(part, step) : nullptr;
    return before ? before->id : std::string();
}

const Step* result_step(const Part& part) {
    if (const Step* named = find_step(part, part.result)) return named;
    return step_before(part, part.steps.size());
}

bool same(const Recipe& a, const Recipe& b) {
    if (a.title != b.title || a.unit != b.unit || a.budget != b.budget || a.raise_bounds != b.raise_bounds ||
        a.dials != b.dials || a.presets != b.presets || a.pictures != b.pictures || a.extra != b.extra ||
        a.parts.size() != b.parts.size())
        return false;
    for (std::size_t i = 0; i < a.parts.size(); ++i) {
        const Part &p = *a.parts[i], &q = *b.parts[i];
        if (&p == &q) continue;
        if (p.name != q.name || p.result != q.result || p.hidden != q.hidden || p.helper != q.helper ||
            p.extra != q.extra || p.frames != q.frames || p.steps.size() != q.steps.size())
            return false;
        for (std::size_t s = 0; s < p.steps.size(); ++s)
            if (p.steps[s] != q.steps[s] && !(*p.steps[s] == *q.steps[s])) return false;
    }
    return true;
}

}  // namespace bricol
