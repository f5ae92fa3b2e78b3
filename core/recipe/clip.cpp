// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/recipe/clip.h"

#include <algorithm>

#include "core/recipe/recipe_json.h"

namespace bricol {

std::string copied_steps(const Recipe& recipe, const std::string& part_name, const std::set<std::string>& ids) {
    Json list = Json::array();
    if (const Part* part = recipe.part(part_name))
        for (std::size_t s = 0; s < part->steps.size(); ++s) {
            if (!ids.contains(part->steps[s]->id)) continue;
            Step step = *part->steps[s];
            // What followed by its place on the strip says so by name, wherever it is put.
            if (const std::string main = source_of(*part, s, "shape"); !main.empty()) step.inputs["shape"] = main;
            list.push_back(step_json(step));
        }
    return pretty_json(Json{{"bricol_steps", list}});
}

Edited pasted_steps(const Recipe& recipe, const std::string& part_name, const std::string& after,
                    const std::string& text, std::array<double, 2> shift, std::vector<std::string>* made_ids) {
    const Part* part = recipe.part(part_name);
    if (!part) return Problem{"There is no part to put the steps into.", "", "Make a part first."};
    const Json json = Json::parse(text, nullptr, false);
    Json list;
    if (!json.is_discarded() && json.is_object() && json.contains("bricol_steps") && json["bricol_steps"].is_array())
        list = json["bricol_steps"];
    else if (!json.is_discarded() && json.is_object() && json.contains("step"))
        list = Json::array({json});
    if (list.empty()) return Problem{"The clipboard holds no steps.", "", "Copy some first."};
    Part changed = *part;
    std::size_t at = changed.steps.size();
    if (const std::size_t wanted = step_index(changed, after); wanted < changed.steps.size()) at = wanted + 1;
    std::map<std::string, std::string, std::less<>> renamed;
    std::vector<Step> steps;
    for (std::size_t i = 0; i < list.size(); ++i) {
        auto step = step_from_json(list[i], "clipboard/" + std::to_string(i));
        if (!step) return step.problem();
        const std::string old = step->id;
        std::string id = old;
        const auto taken = [&](const std::string& name) {
            return find_step(changed, name) || std::ranges::any_of(steps, [&](const Step& s) { return s.id == name; });
        };
        const std::size_t digits = old.find_last_not_of("0123456789") + 1;
        for (int n = 2; taken(id); ++n) id = old.substr(0, digits) + std::to_string(n);
        renamed[old] = id;
        step->id = id;
        if (step->at) (*step->at)[0] += shift[0], (*step->at)[1] += shift[1];
        for (auto& [input, pins] : step->via)
            for (auto& pin : pins) pin[0] += shift[0], pin[1] += shift[1];
        steps.push_back(std::move(*step));
    }
    for (Step& step : steps) {
        for (auto link = step.inputs.begin(); link != step.inputs.end();) {
            if (const auto moved = renamed.find(link->second); moved != renamed.end()) {
                link->second = moved->second;
                ++link;
            } else if (!link->second.empty() && !find_step(*part, link->second) &&
                       !(link->second.starts_with("part:") && recipe.part(link->second.substr(5)))) {
                link->second = "";  // what it took is not here: left open rather than taking a neighbour unasked
                ++link;
            } else {
                ++link;
            }
        }
    }
    Recipe holder;  // formulas among the steps follow the new names
    Part only;
    only.name = part_name;
    for (Step& step : steps) only.steps.push_back(std::make_shared<const Step>(std::move(step)));
    holder.parts.push_back(std::make_shared<const Part>(std::move(only)));
    holder = with_names_replaced(holder, renamed, part_name);
    if (made_ids)
        for (const auto& step : holder.parts[0]->steps) made_ids->push_back(step->id);
    // A step behind them that followed by its place goes on following what it followed.
    if (at < changed.steps.size()) {
        const std::string before = source_of(changed, at, "shape");
        if (!before.empty() && !changed.steps[at]->inputs.contains("shape")) {
            Step next = *changed.steps[at];
            next.inputs["shape"] = before;
            changed.steps[at] = std::make_shared<const Step>(std::move(next));
        }
    } else if (changed.result.empty()) {
        if (const Step* result = result_step(changed)) changed.result = result->id;
    }
    changed.steps.insert(changed.steps.begin() + static_cast<std::ptrdiff_t>(at), holder.parts[0]->steps.begin(),
                         holder.parts[0]->steps.end());
    Recipe out = recipe;
    for (auto& any : out.parts)
        if (any->name == part_name) any = std::make_shared<const Part>(changed);
    if (const std::string circle = circle_in(changed); !circle.empty())
        return Problem{"Putting the steps here would make a circle: " + circle + ".", "", "Choose another place."};
    return out;
}

}  // namespace bricol
