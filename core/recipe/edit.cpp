// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/recipe/edit.h"

#include <algorithm>
#include <cctype>
#include <fmt/format.h>
#include <set>
#include <unordered_map>

#include "core/formula/formula.h"
#include "core/recipe/settings.h"

namespace bricol {

std::string free_name(const std::string& wanted, const std::function<bool(const std::string&)>& taken) {
    if (!taken(wanted)) return wanted;
    const std::string stem = wanted.substr(0, wanted.find_last_not_of("0123456789") + 1);
    for (int n = 2;; ++n)
        if (std::string name = stem + std::to_string(n); !taken(name)) return name;
}

namespace {

Problem no_part(const std::string& name) { return {fmt::format("There is no part “{}”.", name), "", ""}; }
Problem no_step(const std::string& id) { return {fmt::format("There is no step “{}” in this part.", id), "", ""}; }

/// Copies the one part that changes; everything else is shared.
template <class Change>
Edited change_part(const Recipe& recipe, const std::string& name, Change change) {
    for (std::size_t i = 0; i < recipe.parts.size(); ++i) {
        if (recipe.parts[i]->name != name) continue;
        Part part = *recipe.parts[i];
        if (std::optional<Problem> problem = change(part)) return *problem;
        Recipe out = recipe;
        out.parts[i] = std::make_shared<const Part>(std::move(part));
        return out;
    }
    return no_part(name);
}

template <class Change>
Edited change_step(const Recipe& recipe, const std::string& part, const std::string& id, Change change) {
    return change_part(recipe, part, [&](Part& p) -> std::optional<Problem> {
        const std::size_t i = step_index(p, id);
        if (i == p.steps.size()) return no_step(id);
        Step step = *p.steps[i];
        if (std::optional<Problem> problem = change(step)) return problem;
        p.steps[i] = std::make_shared<const Step>(std::move(step));
        return std::nullopt;
    });
}

std::string unique_id(const Part& part, const std::string& wanted) {
    return free_name(wanted, [&](const std::string& id) { return find_step(part, id) != nullptr; });
}

Json::json_pointer pointer_of(const std::string& path) {
    return Json::json_pointer(path.starts_with('/') ? path : "/" + path);
}

}  // namespace

namespace {

/// What each step of a part is fed by, as numbers of steps.
std::vector<std::vector<std::size_t>> links_within(const Part& part) {
    std::unordered_map<std::string_view, std::size_t> number;
    for (std::size_t i = 0; i < part.steps.size(); ++i) number.emplace(part.steps[i]->id, i);
    std::vector<std::vector<std::size_t>> sources(part.steps.size());
    for (std::size_t i = 0; i < part.steps.size(); ++i) {
        const auto add = [&](std::string_view id) {
            if (const auto found = number.find(id); found != number.end()) sources[i].push_back(found->second);
        };
        for (const auto& [input, source] : part.steps[i]->inputs)
            if (!source.starts_with("part:")) add(source);
        if (!part.steps[i]->inputs.contains("shape")) add(source_of(part, i, "shape"));
    }
    return sources;
}

/// A circle that can be reached from a step, spelled; each step is gone through once for all calls with the same marks.
std::string circle_from(const Part& part, const std::vector<std::vector<std::size_t>>& sources, std::size_t start,
                        std::vector<std::uint8_t>& marks) {
    enum : std::uint8_t { fresh, open, done };
    // Depth first without recursion on the machine stack: a part may have thousands of steps.
    std::vector<std::pair<std::size_t, std::size_t>> path;  // step, and how many of its sources were looked at
    if (marks[start] != fresh) return {};
    path.emplace_back(start, 0);
    marks[start] = open;
    while (!path.empty()) {
        auto& [step, looked] = path.back();
        if (looked == sources[step].size()) {
            marks[step] = done;
            path.pop_back();
            continue;
        }
        const std::size_t next = sources[step][looked++];
        if (marks[next] == fresh) {
            marks[next] = open;
            path.emplace_back(next, 0);
        } else if (marks[next] == open) {
            const auto first = std::ranges::find(path, next, &std::pair<std::size_t, std::size_t>::first);
            std::string circle;
            for (auto at = first; at != path.end() && circle.size() < 400; ++at)
                circle += part.steps[at->first]->id + " ← ";
            return circle + part.steps[next]->id;
        }
    }
    return {};
}

}  // namespace

std::string circle_through(const Part& part, const std::string& start) {
    const std::size_t at = step_index(part, start);
    if (at == part.steps.size()) return {};
    std::vector<std::uint8_t> marks(part.steps.size(), 0);
    return circle_from(part, links_within(part), at, marks);
}

std::string circle_in(const Part& part) {
    const auto sources = links_within(part);
    std::vector<std::uint8_t> marks(part.steps.size(), 0);
    for (std::size_t i = 0; i < part.steps.size(); ++i)
        if (std::string circle = circle_from(part, sources, i, marks); !circle.empty()) return circle;
    return {};
}

Edited set_setting(const Recipe& recipe, const std::string& part, const std::string& step, const std::string& path,
                   const Json& value) {
    return change_step(recipe, part, step, [&](Step& s) -> std::optional<Problem> {
        try {
            s.settings[pointer_of(path)] = value;
        } catch (const Json::exception&) {
            return Problem{"This value has no place in the step.", path, ""};
        }
        return std::nullopt;
    });
}

Edited reset_setting(const Recipe& recipe, const std::string& part, const std::string& step, const std::string& path) {
    return change_step(recipe, part, step, [&](Step& s) -> std::optional<Problem> {
        const auto pointer = pointer_of(path);
        if (!s.settings.contains(pointer)) return std::nullopt;
        auto& holder = s.settings[pointer.parent_pointer()];
        if (holder.is_object()) holder.erase(pointer.back());
        return std::nullopt;
    });
}

Edited replace_step(const Recipe& recipe, const std::string& part, const Step& changed) {
    return change_step(recipe, part, changed.id, [&](Step& s) -> std::optional<Problem> {
        s = changed;
        return std::nullopt;
    });
}

Edited insert_step(const Recipe& recipe, const std::string& part, const std::string& after, Step step,
                   std::string* made_id) {
    return change_part(recipe, part, [&](Part& p) -> std::optional<Problem> {
        const std::size_t at = after.empty() ? 0 : step_index(p, after) + 1;
        if (at > p.steps.size()) return no_step(after);
        step.id = unique_id(p, step.id.empty() ? name_from(step.type) : step.id);
        if (made_id) *made_id = step.id;
        if (!after.empty() && p.result == after) p.result = step.id;
        p.steps.insert(p.steps.begin() + static_cast<std::ptrdiff_t>(at),
                       std::make_shared<const Step>(std::move(step)));
        return std::nullopt;
    });
}

Edited remove_step(const Recipe& recipe, const std::string& part, const std::string& id) {
    return change_part(recipe, part, [&](Part& p) -> std::optional<Problem> {
        const std::size_t at = step_index(p, id);
        if (at == p.steps.size()) return no_step(id);
        const std::string source = source_of(p, at, "shape");
        for (auto& step : p.steps) {
            Step changed = *step;
            for (auto link = changed.inputs.begin(); link != changed.inputs.end();) {
                if (link->second != id) {
                    ++link;
                } else if (source.empty()) {
                    link = changed.inputs.erase(link);
                } else {
                    link->second = source;
                    ++link;
                }
            }
            if (changed.inputs != step->inputs) step = std::make_shared<const Step>(std::move(changed));
        }
        if (p.result == id) p.result = source.starts_with("part:") ? "" : source;
        p.steps.erase(p.steps.begin() + static_cast<std::ptrdiff_t>(at));
        return std::nullopt;
    });
}

Edited move_step(const Recipe& recipe, const std::string& part, const std::string& id, std::size_t to) {
    return change_part(recipe, part, [&](Part& p) -> std::optional<Problem> {
        const std::size_t from = step_index(p, id);
        if (from == p.steps.size()) return no_step(id);
        const bool last_was_result = p.result == p.steps.back()->id;
        const auto step = p.steps[from];
        p.steps.erase(p.steps.begin() + static_cast<std::ptrdiff_t>(from));
        p.steps.insert(p.steps.begin() + static_cast<std::ptrdiff_t>(std::min(to, p.steps.size())), step);
        if (last_was_result) p.result = p.steps.back()->id;
        if (const std::string circle = circle_in(p); !circle.empty())
            return Problem{"Moving the step here would make it feed itself: " + circle + ".", "",
                           "Change the link first."};
        return std::nullopt;
    });
}

Edited duplicate_step(const Recipe& recipe, const std::string& part, const std::string& id, std::string* made_id) {
    const Part* p = recipe.part(part);
    const Step* step = p ? find_step(*p, id) : nullptr;
    if (!step) return no_step(id);
    Step copy = *step;
    copy.inputs.erase("shape");  // the copy follows the original
    return insert_step(recipe, part, id, std::move(copy), made_id);
}

Edited rename_step_id(const Recipe& recipe, const std::string& part, const std::string& from, const std::string& to) {
    if (from == to) return recipe;
    if (!usable_name(to)) return unusable_name(to, "a step");
    Edited edited = change_part(recipe, part, [&](Part& p) -> std::optional<Problem> {
        if (find_step(p, to))
            return Problem{fmt::format("There is already a step “{}”.", to), "", "Choose another name."};
        bool found = false;
        for (auto& step : p.steps) {
            Step changed = *step;
            if (changed.id == from) changed.id = to, found = true;
            for (auto& [input, source] : changed.inputs)
                if (source == from) source = to;
            if (!(changed == *step)) step = std::make_shared<const Step>(std::move(changed));
        }
        if (!found) return no_step(from);
        if (p.result == from) p.result = to;
        return std::nullopt;
    });
    if (!edited) return edited;
    const Recipe inside = with_name_replaced(*edited, from, to, part);
    return with_name_replaced(inside, part + "." + from, part + "." + to);
}

Recipe with_given_renamed(const Recipe& recipe, const std::string& part, const std::string& step,
                          const std::string& from, const std::string& to) {
    const std::string before = step + "." + from, after = step + "." + to;
    return with_name_replaced(with_name_replaced(recipe, before, after, part), part + "." + before, part + "." + after);
}

Edited link_input(const Recipe& recipe, const std::string& part, const std::string& step, const std::string& input,
                  const std::string& source) {
    Edited edited = change_step(recipe, part, step, [&](Step& s) -> std::optional<Problem> {
        if (source.empty())
            s.inputs.erase(input);
        else
            s.inputs[input] = source;
        return std::nullopt;
    });
    if (!edited) return edited;
    if (const std::string circle = circle_through(*edited->part(part), step); !circle.empty())
        return Problem{"This link would make a circle: " + circle + ".", "",
                       "Link a step that does not follow from this one."};
    return edited;
}

Edited cut_input(const Recipe& recipe, const std::string& part, const std::string& step, const std::string& input) {
    return change_part(recipe, part, [&](Part& p) -> std::optional<Problem> {
        const std::size_t at = step_index(p, step);
        if (at == p.steps.size()) return no_step(step);
        Step changed = *p.steps[at];
        changed.inputs.erase(input);
        changed.via.erase(input);
        p.steps[at] = std::make_shared<const Step>(changed);
        if (!source_of(p, at, input).empty()) {
            changed.inputs[input] = "";
            p.steps[at] = std::make_shared<const Step>(std::move(changed));
        }
        return std::nullopt;
    });
}

Edited add_part(const Recipe& recipe, std::string name, std::string* made_name) {
    Recipe out = recipe;
    auto part = std::make_shared<Part>();
    part->name = free_name(name_from(name), [&](const std::string& n) { return recipe.part(n) || recipe.dial(n); });
    if (made_name) *made_name = part->name;
    out.parts.push_back(std::move(part));
    return out;
}

Edited remove_part(const Recipe& recipe, const std::string& name) {
    Recipe out = recipe;
    if (std::erase_if(out.parts, [&](const auto& p) { return p->name == name; }) == 0) return no_part(name);
    return out;
}

Edited rename_part(const Recipe& recipe, const std::string& from, const std::string& to) {
    if (from == to) return recipe;
    if (!usable_name(to)) return unusable_name(to, "a part");
    if (recipe.part(to)) return Problem{fmt::format("There is already a part “{}”.", to), "", "Choose another name."};
    Edited edited = change_part(recipe, from, [&](Part& p) -> std::optional<Problem> {
        p.name = to;
        return std::nullopt;
    });
    if (!edited) return edited;
    Recipe out = with_name_replaced(*edited, from, to);
    for (auto& part : out.parts) {
        Part changed = *part;
        bool touched = false;
        for (auto& step : changed.steps) {
            Step s = *step;
            for (auto& [input, source] : s.inputs)
                if (source == "part:" + from) source = "part:" + to;
            each_part_name(s, [&](std::string& name) {
                if (name == from) name = to;
            });
            if (s == *step) continue;
            step = std::make_shared<const Step>(std::move(s));
            touched = true;
        }
        if (touched) part = std::make_shared<const Part>(std::move(changed));
    }
    return out;
}

Edited set_hidden(const Recipe& recipe, const std::string& part, bool hidden) {
    return change_part(recipe, part, [&](Part& p) -> std::optional<Problem> {
        p.hidden = hidden;
        return std::nullopt;
    });
}

Edited set_helper(const Recipe& recipe, const std::string& part, bool helper) {
    return change_part(recipe, part, [&](Part& p) -> std::optional<Problem> {
        p.helper = helper;
        return std::nullopt;
    });
}

Edited set_result(const Recipe& recipe, const std::string& part, const std::string& step) {
    return change_part(recipe, part, [&](Part& p) -> std::optional<Problem> {
        if (!find_step(p, step)) return no_step(step);
        p.result = step;
        return std::nullopt;
    });
}

Recipe with_name_replaced(const Recipe& recipe, const std::string& from, const std::string& to,
                          const std::string& only_part) {
    return with_names_replaced(recipe, {{from, to}}, only_part);
}

Recipe with_names_replaced(const Recipe& recipe, const std::map<std::string, std::string, std::less<>>& names,
                           const std::string& only_part) {
    Recipe out = recipe;
    for (auto& part : out.parts) {
        if (!only_part.empty() && part->name != only_part) continue;
        Part changed = *part;
        bool touched = false;
        for (auto& step : changed.steps) {
            Step s = *step;
            bool renamed = false;
            each_formula(s, [&](WrittenFormula formula) {
                const auto& text = formula.text.get_ref<const std::string&>();
                std::string replaced = with_names(text, names);
                if (replaced == text) return;
                formula.text = std::move(replaced);
                renamed = true;
            });
            if (!renamed) continue;
            step = std::make_shared<const Step>(std::move(s));
            touched = true;
        }
        if (touched) part = std::make_shared<const Part>(std::move(changed));
    }
    return out;
}

}  // namespace bricol
