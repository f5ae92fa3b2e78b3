// SPDX-License-Identifier: GPL-3.0-or-later
// Edits of dials and presets.
#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/formula/formula.h"
#include "core/ground/colour.h"
#include "core/ground/words.h"
#include "core/recipe/edit.h"
#include "core/recipe/kit.h"
#include "core/recipe/settings.h"
#include "core/recipe/unknown_dial.h"

namespace bricol {

namespace {

Problem no_preset(const Recipe& recipe, const std::string& name) {
    std::string known;
    for (const Preset& preset : recipe.presets) known += (known.empty() ? "" : ", ") + preset.name;
    return {fmt::format("There is no preset “{}”.", shortened(name)), "",
            known.empty() ? "The recipe has no presets." : "Presets: " + known + "."};
}

/// What of a preset can still be turned to; the rest is told when the recipe is made.
WrittenDials still_there(const Recipe& recipe, const Preset& preset) {
    WrittenDials out;
    for (const auto& [name, written] : preset.dials)
        if (const Dial* dial = recipe.dial(name); dial && turned(*dial, written, Outside::held)) out[name] = written;
    return out;
}

Edited replace_dial(const Recipe& recipe, const Dial& dial) {
    Recipe out = recipe;
    const auto found = std::ranges::find(out.dials, dial.name, &Dial::name);
    if (found == out.dials.end()) return unknown_dial(recipe, dial.name);
    *found = dial;
    return out;
}

}  // namespace

namespace {

/// A colour's dial as the numbers of a setting.
Json colour_at(const ParameterInfo& p, const Dial& dial) {
    const DVec3 c = p.on_screen ? screen_from_linear(dial.colour) : dial.colour;
    const auto tidy = [](double part) { return std::round(part * 1e7) / 1e7; };
    return Json::array({tidy(c.x), tidy(c.y), tidy(c.z)});
}

}  // namespace

void write_dial_out(Step& step, const Dial& dial) {
    const StepInfo* info = find_step_info(step.type);
    if (!info || (dial.kind != DialKind::choice && dial.kind != DialKind::colour)) return;
    const auto is_it = [&](const Json& written) {
        return written.is_string() && written.get_ref<const std::string&>().starts_with('=') &&
               without_sign(written.get<std::string>()) == dial.name;
    };
    for (auto& [key, written] : step.settings.items()) {
        const ParameterInfo* p = info->parameter(key);
        if (!p) continue;
        if (p->kind == ParameterKind::choice && is_it(written)) written = dial_value(dial);
        if (p->kind == ParameterKind::colour && is_it(written)) written = colour_at(*p, dial);
        if (p->kind == ParameterKind::dials && written.is_object())
            for (auto& [inner, value] : written.items())
                if (is_it(value)) value = dial_value(dial);
    }
}

std::map<std::string, std::string, std::less<>> numbers_for_dial(const Dial& dial) {
    const auto number = [](double value) { return fmt::format("({})", format_number(value, 9)); };
    if (dial.kind != DialKind::colour) return {{dial.name, number(dial.value)}};
    return {{dial.name + ".red", number(dial.colour.x)},
            {dial.name + ".green", number(dial.colour.y)},
            {dial.name + ".blue", number(dial.colour.z)}};
}

Edited set_dial(const Recipe& recipe, const Dial& dial) {
    if (dial.kind == DialKind::choice && dial.choices.empty())
        return Problem{"A choice needs at least one word.", "", "Write its words, with commas between them."};
    return replace_dial(recipe, tidy_dial(dial));
}

Edited turn_dial(const Recipe& recipe, const std::string& name, const Json& written) {
    const Dial* dial = recipe.dial(name);
    if (!dial) return unknown_dial(recipe, name);
    auto changed = turned(*dial, written, Outside::held);
    if (!changed) return changed.problem();
    return replace_dial(recipe, *changed);
}

Edited add_dial(const Recipe& recipe, Dial dial, std::string* made_name) {
    Recipe out = recipe;
    dial.name = free_name(name_from(dial.name), [&](const std::string& n) { return recipe.dial(n) || recipe.part(n); });
    if (made_name) *made_name = dial.name;
    out.dials.push_back(tidy_dial(std::move(dial)));
    return out;
}

Edited remove_dial(const Recipe& recipe, const std::string& name) {
    const Dial* found = recipe.dial(name);
    if (!found) return unknown_dial(recipe, name);
    const Dial dial = *found;
    Recipe out = recipe;
    for (auto& part : out.parts) {
        Part changed = *part;
        bool touched = false;
        for (auto& step : changed.steps) {
            Step s = *step;
            write_dial_out(s, dial);
            if (s == *step) continue;
            step = std::make_shared<const Step>(std::move(s));
            touched = true;
        }
        if (touched) part = std::make_shared<const Part>(std::move(changed));
    }
    out = with_names_replaced(out, numbers_for_dial(dial));
    std::erase_if(out.dials, [&](const Dial& d) { return d.name == name; });
    for (Dial& other : out.dials)
        if (condition_dial(other.when) == name) other.when.clear();
    for (Preset& preset : out.presets) preset.dials.erase(name);
    return out;
}

Edited rename_dial(const Recipe& recipe, const std::string& from, const std::string& to) {
    if (from == to) return recipe;
    if (!recipe.dial(from)) return unknown_dial(recipe, from);
    if (!usable_name(to)) return unusable_name(to, "a dial");
    if (recipe.dial(to)) return Problem{fmt::format("There is already a dial “{}”.", to), "", "Choose another name."};
    Recipe out = with_name_replaced(recipe, from, to);
    for (Dial& dial : out.dials) {
        if (dial.name == from) dial.name = to;
        if (condition_dial(dial.when) == from) dial.when = to + dial.when.substr(from.size());
    }
    for (Preset& preset : out.presets)
        if (auto held = preset.dials.extract(from)) {
            held.key() = to;
            preset.dials.insert(std::move(held));
        }
    return out;
}

Edited move_dial(const Recipe& recipe, const std::string& name, std::size_t to) {
    Recipe out = recipe;
    const auto found = std::ranges::find(out.dials, name, &Dial::name);
    if (found == out.dials.end()) return unknown_dial(recipe, name);
    const Dial dial = *found;
    out.dials.erase(found);
    out.dials.insert(out.dials.begin() + static_cast<std::ptrdiff_t>(std::min(to, out.dials.size())), dial);
    return out;
}

WrittenDials dials_of(const Recipe& recipe) {
    WrittenDials out;
    for (const Dial& dial : recipe.dials) out[dial.name] = dial_value(dial);
    return out;
}

Edited with_dials(const Recipe& recipe, const WrittenDials& dials, Outside outside) {
    Recipe out = recipe;
    for (const auto& [name, written] : dials) {
        const auto dial = std::ranges::find(out.dials, name, &Dial::name);
        if (dial == out.dials.end()) return unknown_dial(recipe, name);
        auto changed = turned(*dial, written, outside);
        if (!changed) return changed.problem();
        *dial = std::move(*changed);
    }
    return out;
}

Edited apply_preset(const Recipe& recipe, const std::string& name) {
    const Preset* preset = recipe.preset(name);
    if (!preset) return no_preset(recipe, name);
    return with_dials(recipe, still_there(recipe, *preset), Outside::held);
}

Edited keep_preset(const Recipe& recipe, const std::string& name, const WrittenDials& dials) {
    if (name.empty()) return Problem{"A preset needs a name.", "", ""};
    if (auto turned_to = with_dials(recipe, dials, Outside::held); !turned_to) return turned_to.problem();
    Recipe out = recipe;
    const auto known = std::ranges::find(out.presets, name, &Preset::name);
    if (known != out.presets.end())
        known->dials = dials;
    else
        out.presets.push_back({name, dials, Json::object()});
    return out;
}

Edited rename_preset(const Recipe& recipe, const std::string& from, const std::string& to) {
    if (from == to) return recipe;
    if (to.empty()) return Problem{"A preset needs a name.", "", ""};
    if (recipe.preset(to))
        return Problem{fmt::format("There is already a preset “{}”.", to), "", "Choose another name."};
    Recipe out = recipe;
    const auto found = std::ranges::find(out.presets, from, &Preset::name);
    if (found == out.presets.end()) return no_preset(recipe, from);
    found->name = to;
    return out;
}

Edited remove_preset(const Recipe& recipe, const std::string& name) {
    Recipe out = recipe;
    if (std::erase_if(out.presets, [&](const Preset& preset) { return preset.name == name; }) == 0)
        return no_preset(recipe, name);
    return out;
}

bool at_preset(const Recipe& recipe, const Preset& preset) {
    const auto there = with_dials(recipe, still_there(recipe, preset), Outside::held);
    return there && there->dials == recipe.dials;
}

}  // namespace bricol
