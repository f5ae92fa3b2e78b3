// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/document/renamed.h"

#include <algorithm>

namespace bricol {

std::string part_now(const Recipe& before, const Recipe& now, const std::string& part) {
    if (now.part(part)) return part;
    const auto name = [](const auto& one) { return one->name; };
    const auto at = std::ranges::find(before.parts, part, name);
    if (at == before.parts.end() || before.parts.size() != now.parts.size()) return {};
    const auto place = static_cast<std::size_t>(at - before.parts.begin());
    for (std::size_t i = 0; i < now.parts.size(); ++i)
        if ((before.parts[i]->name != now.parts[i]->name) != (i == place)) return {};
    return now.parts[place]->name;
}

std::string step_now(const Part& before, const Part& now, const std::string& step) {
    if (find_step(now, step)) return step;
    const std::size_t place = step_index(before, step);
    if (place == before.steps.size() || before.steps.size() != now.steps.size()) return {};
    for (std::size_t i = 0; i < now.steps.size(); ++i)
        if ((before.steps[i]->id != now.steps[i]->id) != (i == place)) return {};
    return before.steps[place]->type == now.steps[place]->type ? now.steps[place]->id : "";
}

}  // namespace bricol
