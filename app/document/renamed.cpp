// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/document/renamed.h"

namespace bricol {

namespace {

constexpr std::size_t nowhere = static_cast<std::size_t>(-1);

/// Where a name stood in a list of which nothing else is called otherwise now; `nowhere` where that is not so.
template <class List, class NameOf>
std::size_t place_of_renamed(const List& before, const List& now, const std::string& name, const NameOf& name_of) {
    if (before.size() != now.size()) return nowhere;
    std::size_t place = nowhere;
    for (std::size_t i = 0; i < now.size(); ++i) {
        if (name_of(before[i]) == name_of(now[i])) continue;
        if (name_of(before[i]) != name) return nowhere;
        place = i;
    }
    return place;
}

}  // namespace

std::string part_now(const Recipe& before, const Recipe& now, const std::string& part) {
    if (now.part(part)) return part;
    const std::size_t place = place_of_renamed(
        before.parts, now.parts, part, [](const auto& one) -> const auto& { return one->name; });
    return place == nowhere ? "" : now.parts[place]->name;
}

std::string step_now(const Part& before, const Part& now, const std::string& step) {
    if (find_step(now, step)) return step;
    const std::size_t place = place_of_renamed(
        before.steps, now.steps, step, [](const auto& one) -> const auto& { return one->id; });
    if (place == nowhere || before.steps[place]->type != now.steps[place]->type) return {};
    return now.steps[place]->id;
}

}  // namespace bricol
