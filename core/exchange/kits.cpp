// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/kits.h"

#include <algorithm>
#include <filesystem>
#include <fmt/format.h>
#include <mutex>
#include <xxhash.h>

#include "core/exchange/recipe_file.h"
#include "core/formula/formula.h"

namespace bricol {

namespace {

namespace fs = std::filesystem;

struct Shelf {
    struct Read {
        fs::file_time_type changed;
        std::uintmax_t size = 0;
        Kit kit;
    };
    std::mutex mutex;
    std::map<std::string, Read> files;
    std::map<std::uint64_t, Kit> inside;

    Result<Kit> file(const std::string& written, const std::string& folder) {
        const std::string path = kit_path(written, folder);
        std::error_code gone;
        const auto changed = fs::last_write_time(path, gone);
        const auto size = gone ? 0 : fs::file_size(path, gone);
        if (gone)
            return Problem{fmt::format("The kit recipe “{}” is not there.", written), "",
                           "It may have been moved or renamed: choose it again, or put it back beside this recipe."};
        {
            const std::scoped_lock lock(mutex);
            if (const auto known = files.find(path);
                known != files.end() && known->second.changed == changed && known->second.size == size)
                return known->second.kit;
        }
        const auto text = read_file(path);
        if (!text) return text.problem();
        auto recipe = recipe_from_text(*text, written);
        if (!recipe) return recipe.problem();
        Kit kit{std::make_shared<const Recipe>(std::move(*recipe)), fs::path(path).parent_path().string(),
                fs::weakly_canonical(path, gone).filename().string(), XXH3_64bits(text->data(), text->size())};
        const std::scoped_lock lock(mutex);
        files[path] = {changed, size, kit};
        return kit;
    }

    Result<Kit> kept_inside(const Json& json, const std::string& folder) {
        const std::string text = json.dump();
        const std::uint64_t content = XXH3_64bits(text.data(), text.size());
        const std::uint64_t key = content ^ std::hash<std::string>{}(folder);
        {
            const std::scoped_lock lock(mutex);
            if (const auto known = inside.find(key); known != inside.end()) return known->second;
        }
        auto recipe = recipe_from_json(json);
        if (!recipe) return recipe.problem();
        Kit kit{std::make_shared<const Recipe>(std::move(*recipe)), folder, "", content};
        const std::scoped_lock lock(mutex);
        if (inside.size() > 512) inside.clear();
        inside[key] = kit;
        return kit;
    }
};

Problem no_step(const std::string& id) { return {fmt::format("There is no step “{}” in this part.", id), "", ""}; }

/// The parameter of a step that holds a recipe; null for every other step.
const ParameterInfo* kit_parameter(const Step& step) {
    const StepInfo* info = find_step_info(step.type);
    if (info)
        for (const ParameterInfo& p : info->parameters)
            if (p.kind == ParameterKind::kit) return &p;
    return nullptr;
}

const StepInfo* info_where(auto matches) {
    for (const StepInfo* info : all_steps())
        if (matches(*info)) return info;
    return nullptr;
}

/// Every formula in a JSON value.
void each_formula(Json& value, const auto& f) {
    if (value.is_string()) {
        if (value.get_ref<const std::string&>().starts_with('=')) f(value);
    } else if (value.is_structured()) {
        for (auto& item : value) each_formula(item, f);
    }
}
/// Every formula of a step's settings, those inside a kept recipe left out, attribute formulas included.
void each_formula(Step& step, const auto& f) {
    const StepInfo* info = find_step_info(step.type);
    for (auto& [key, value] : step.settings.items()) {
        const ParameterInfo* p = info ? info->parameter(key) : nullptr;
        if (p && p->kind == ParameterKind::kit) continue;
        if (p && p->kind == ParameterKind::rows && value.is_array()) {
            for (auto& row : value)
                if (row.is_object() && row.contains("formula")) f(row["formula"]);
            continue;
        }
        each_formula(value, f);
    }
}
std::string without_sign(const std::string& formula) {
    std::string text = formula.starts_with('=') ? formula.substr(1) : formula;
    while (text.starts_with(' ')) text.erase(0, 1);
    return text;
}

std::string free_name(const std::string& wanted, const auto& taken) {
    std::string name = wanted;
    for (int n = 2; taken(name); ++n) name = wanted + std::to_string(n);
    return name;
}

const Part* part_with(const Recipe& recipe, const std::string& part) { return recipe.part(part); }

}  // namespace

FindKit kit_reader() {
    auto shelf = std::make_shared<Shelf>();
    return [shelf](const Json& written, const std::string& folder) -> Result<Kit> {
        if (written.is_object()) return shelf->kept_inside(written, folder);
        if (!written.is_string() || written.get_ref<const std::string&>().empty())
            return Problem{"No recipe has been chosen.", "", "Choose a kit recipe file, or pack steps into one."};
        return shelf->file(written.get<std::string>(), folder);
    };
}

ReadFile file_reader() {
    struct Read {
        fs::file_time_type changed;
        std::uintmax_t size = 0;
        std::shared_ptr<const std::string> text;
    };
    struct Known {
        std::mutex mutex;
        std::map<std::string, Read> files;
    };
    auto known = std::make_shared<Known>();
    return [known](const std::string& name, const std::string& folder) -> Result<std::shared_ptr<const std::string>> {
        if (name.empty()) return Problem{"No file has been chosen.", "", "Choose one."};
        const std::string path = kit_path(name, folder);
        std::error_code gone;
        const auto changed = fs::last_write_time(path, gone);
        const auto size = gone ? 0 : fs::file_size(path, gone);
        if (gone)
            return Problem{fmt::format("The file “{}” is not there.", name), "",
                           "It may have been moved or renamed: choose it again, or put it back beside this recipe."};
        const std::scoped_lock lock(known->mutex);
        if (const auto at = known->files.find(path);
            at != known->files.end() && at->second.changed == changed && at->second.size == size)
            return at->second.text;
        auto text = read_file(path, std::size_t(64) << 20);
        if (!text) return text.problem();
        auto kept = std::make_shared<const std::string>(std::move(*text));
        known->files[path] = {changed, size, kept};
        return kept;
    };
}

std::string kit_path(const std::string& written, const std::string& folder) {
    const fs::path path(written);
    return (path.is_absolute() || folder.empty() ? path : fs::path(folder) / path).lexically_normal().string();
}

Edited packed(const Recipe& recipe, const std::string& part_name, const std::set<std::string>& ids,
              const std::string& title, std::string* made_id) {
    const Part* part = part_with(recipe, part_name);
    if (!part) return Problem{fmt::format("There is no part “{}”.", part_name), "", ""};
    std::vector<std::size_t> chosen;
    for (std::size_t s = 0; s < part->steps.size(); ++s)
        if (ids.contains(part->steps[s]->id)) chosen.push_back(s);
    if (chosen.empty() || chosen.size() != ids.size()) return Problem{"Choose the steps to pack first.", "", ""};

    // What comes in from outside, and what of theirs is used outside.
    std::vector<std::string> sources;
    std::set<std::string> used_outside;
    const auto source_number = [&](const std::string& source) {
        const auto at = std::ranges::find(sources, source);
        if (at == sources.end()) sources.push_back(source);
        return static_cast<std::size_t>(std::ranges::find(sources, source) - sources.begin());
    };
    const auto given_name = [&](std::size_t i) {
        return free_name(fmt::format("given_{}", i + 1), [&](const std::string& n) { return ids.contains(n); });
    };
    const auto inputs_of = [&](std::size_t s) {
        std::map<std::string, std::string> inputs = part->steps[s]->inputs;
        if (const std::string main = source_of(*part, s, "shape"); !main.empty()) inputs["shape"] = main;
        return inputs;
    };
    for (std::size_t s = 0; s < part->steps.size(); ++s) {
        const bool inside = ids.contains(part->steps[s]->id);
        for (const auto& [input, source] : inputs_of(s))
            if (!inside && ids.contains(source)) used_outside.insert(source);
    }
    const Step* result = result_step(*part);
    if (result && ids.contains(result->id)) used_outside.insert(result->id);
    if (used_outside.empty())
        for (const std::size_t s : chosen)
            if (!part->steps[s]->aside) used_outside = {part->steps[s]->id};
    if (used_outside.size() > 1) {
        std::string all;
        for (const std::string& id : used_outside) all += (all.empty() ? "" : ", ") + id;
        return Problem{
            fmt::format("The results of several of these steps are used outside ({}); a recipe step has one.", all), "",
            "Choose steps that end in one."};
    }
    if (used_outside.empty()) return Problem{"None of these steps makes a shape.", "", "Choose steps that end in one."};

    const StepInfo* given_info = info_where([](const StepInfo& i) { return i.given; });
    const StepInfo* kit_info = info_where([](const StepInfo& i) {
        return std::ranges::any_of(i.parameters, [](const ParameterInfo& p) { return p.kind == ParameterKind::kit; });
    });
    Recipe inner;
    inner.title = title.empty() ? "Packed steps" : title;
    inner.unit = recipe.unit;
    inner.budget = 0;
    Part inside;
    inside.name = "inside";
    inside.result = *used_outside.begin();
    Json dials = Json::object();
    std::map<std::string, std::string> dial_names;  // name outside → dial inside
    const auto dial_for = [&](const std::string& outside, Dial dial) {
        const auto known = dial_names.find(outside);
        if (known != dial_names.end()) return known->second;
        dial.name = free_name(name_from(outside), [&](const std::string& n) {
            return inner.dial(n) != nullptr || n == "inside" || ids.contains(n);
        });
        inner.dials.push_back(dial);
        dials[dial.name] = "= " + outside;
        return dial_names[outside] = dial.name;
    };
    Resolver resolver(recipe);
    const auto first_of = [](const std::string& name) { return name.substr(0, name.find('.')); };

    for (const std::size_t s : chosen) {
        Step step = *part->steps[s];
        std::map<std::string, std::string> inputs;
        for (const auto& [input, source] : inputs_of(s)) {
            if (ids.contains(source))
                inputs[input] = source;
            else
                inputs[input] = given_name(source_number(source));
        }
        step.inputs = std::move(inputs);
        each_formula(step, [&](Json& formula) {
            std::string text = formula.get<std::string>();
            for (const std::string& name : names_in(without_sign(text))) {
                if (ids.contains(first_of(name)) || name == "frame" || name == "seed") continue;
                const auto value = resolver.name(part_name, name);
                if (!value) continue;  // an attribute, or a mistake that stays one
                Dial dial;
                if (const Dial* outer = recipe.dial(name))
                    dial = *outer;
                else
                    dial.value = *value, dial.low = std::min(*value, 0.0) * 10 - 1,
                    dial.high = std::max(*value, 0.0) * 10 + 1;
                text = with_name(text, name, dial_for(name, dial));
            }
            formula = text;
        });
        inside.steps.push_back(std::make_shared<const Step>(std::move(step)));
    }
    if (sources.size() > kit_inputs.size())
        return Problem{fmt::format("These steps take {} shapes from outside; a recipe step takes {}.", sources.size(),
                                   kit_inputs.size()),
                       "", "Choose the steps that make some of them as well."};
    for (std::size_t i = sources.size(); i-- > 0;) {
        Step given;
        given.id = given_name(i);
        given.type = given_info->key;
        given.starts = true;
        given.settings["which"] = kit_inputs[i];
        inside.steps.insert(inside.steps.begin(), std::make_shared<const Step>(std::move(given)));
    }

    // The new step, and the part without what went in.
    Part outside = *part;
    Step step;
    step.type = kit_info->key;
    step.title = title;
    step.id =
        free_name(usable_name(name_from(title.empty() ? "packed" : title)) ? name_from(title.empty() ? "packed" : title)
                                                                           : "packed",
                  [&](const std::string& n) { return find_step(*part, n) && !ids.contains(n); });
    step.at = part->steps[chosen.back()]->at;
    for (std::size_t i = 0; i < sources.size(); ++i) step.inputs[std::string(kit_inputs[i])] = sources[i];
    step.starts = false;

    // Numbers of theirs that formulas outside use move to the step's dials.
    std::map<std::string, std::string> moved;  // "step.number" → dial
    const auto look = [&](Json& formula, bool same_part) {
        std::string text = formula.get<std::string>();
        for (const std::string& name : names_in(without_sign(text))) {
            std::string own = name;
            if (!same_part) {
                if (!name.starts_with(part_name + ".")) continue;
                own = name.substr(part_name.size() + 1);
            }
            const std::size_t dot = own.find('.');
            if (dot == std::string::npos || !ids.contains(own.substr(0, dot))) continue;
            const std::string key = own.substr(dot + 1);
            if (!moved.contains(own)) {
                Json::json_pointer pointer("/" + key);
                if (const std::size_t component = key.find('.'); component != std::string::npos)
                    pointer = Json::json_pointer("/" + key.substr(0, component) + "/" +
                                                 std::to_string(std::string_view("xyz").find(key[component + 1])));
                const auto value = resolver.name(part_name, own);
                if (!value) continue;
                Dial dial;
                dial.name = free_name(name_from(key), [&](const std::string& n) {
                    return inner.dial(n) != nullptr || n == "inside" || ids.contains(n);
                });
                dial.value = *value, dial.low = std::min(*value, 0.0) * 10 - 1,
                dial.high = std::max(*value, 0.0) * 10 + 1;
                for (auto& held : inside.steps) {
                    if (held->id != own.substr(0, dot)) continue;
                    Step changed = *held;
                    const Json before = changed.settings.contains(pointer) ? changed.settings[pointer] : Json(*value);
                    dials[dial.name] = before.is_string() ? Json(*value) : before;
                    if (before.is_string())
                        dials[dial.name] = part->steps[step_index(*part, held->id)]->settings[pointer];
                    changed.settings[pointer] = "= " + dial.name;
                    held = std::make_shared<const Step>(std::move(changed));
                }
                inner.dials.push_back(dial);
                moved[own] = dial.name;
            }
            text = with_name(text, name, (same_part ? "" : part_name + ".") + step.id + ".dials." + moved[own]);
        }
        formula = text;
    };
    Recipe out = recipe;
    for (auto& any : out.parts) {
        Part changed = any->name == part_name ? outside : *any;
        const bool same_part = any->name == part_name;
        for (auto& s : changed.steps) {
            if (same_part && ids.contains(s->id)) continue;
            Step edited = *s;
            each_formula(edited, [&](Json& formula) { look(formula, same_part); });
            if (!(edited == *s)) s = std::make_shared<const Step>(std::move(edited));
        }
        if (same_part)
            outside = changed;
        else
            any = std::make_shared<const Part>(std::move(changed));
    }
    inner.parts.push_back(std::make_shared<const Part>(std::move(inside)));
    step.settings["kit"] = recipe_json(inner);
    if (!dials.empty()) step.settings["dials"] = dials;
    if (made_id) *made_id = step.id;

    std::vector<std::shared_ptr<const Step>> steps;
    for (std::size_t s = 0; s < outside.steps.size(); ++s) {
        if (s == chosen.back()) {
            steps.push_back(std::make_shared<const Step>(step));
            continue;
        }
        if (ids.contains(outside.steps[s]->id)) continue;
        Step kept = *outside.steps[s];
        // A step that followed one of these by its place on the strip now says so by name, when its neighbour changes.
        const std::string before = source_of(*part, s, "shape");
        for (auto& [input, source] : kept.inputs)
            if (ids.contains(source)) source = step.id;
        if (!kept.inputs.contains("shape") && !before.empty())
            kept.inputs["shape"] = ids.contains(before) ? step.id : before;
        steps.push_back(std::make_shared<const Step>(std::move(kept)));
    }
    outside.steps = std::move(steps);
    if (ids.contains(outside.result)) outside.result = step.id;
    // Links that say no more than the place on the strip does are left out again.
    for (std::size_t s = 0; s < outside.steps.size(); ++s) {
        Step kept = *outside.steps[s];
        const auto main = kept.inputs.find("shape");
        if (main == kept.inputs.end()) continue;
        const Step* before = step_before(outside, s);
        if (kept.starts || !before || before->id != main->second) continue;
        kept.inputs.erase(main);
        outside.steps[s] = std::make_shared<const Step>(std::move(kept));
    }
    for (auto& any : out.parts)
        if (any->name == part_name) any = std::make_shared<const Part>(outside);
    for (const auto& s : outside.steps)
        if (const std::string circle = circle_through(outside, s->id); !circle.empty())
            return Problem{
                "A step outside lies between these steps, so packing them would make a circle: " + circle + ".", "",
                "Choose it as well."};
    return out;
}

Result<Recipe> recipe_inside(const Recipe& recipe, const std::string& part_name, const std::string& id,
                             const FindKit& find_kit, const std::string& folder) {
    const Part* part = part_with(recipe, part_name);
    const Step* step = part ? find_step(*part, id) : nullptr;
    if (!step) return no_step(id);
    const ParameterInfo* parameter = kit_parameter(*step);
    if (!parameter) return Problem{fmt::format("“{}” holds no recipe.", id), "", "Choose a recipe step."};
    const std::string key(parameter->key);
    const auto kit = find_kit(step->settings.contains(key) ? step->settings[key] : Json(""), folder);
    if (!kit) return kit.problem();
    return *kit->recipe;
}

Edited unpacked(const Recipe& recipe, const std::string& part_name, const std::string& id, const FindKit& find_kit,
                const std::string& folder, std::vector<std::string>* made_ids) {
    const auto inner = recipe_inside(recipe, part_name, id, find_kit, folder);
    if (!inner) return inner.problem();
    Part part = *recipe.part(part_name);
    const std::size_t place = step_index(part, id);
    const Step step = *part.steps[place];
    const std::string wanted = step.settings.contains("part") && step.settings["part"].is_string()
                                   ? step.settings["part"].get<std::string>()
                                   : "";
    const Part* inside = nullptr;
    for (const auto& p : inner->parts)
        if (wanted.empty() ? !p->hidden : p->name == wanted) inside = p.get();
    if (!inside) return Problem{"The recipe has no part to open.", "", ""};
    for (const auto& s : inside->steps) {
        bool other = std::ranges::any_of(s->inputs, [](const auto& link) { return link.second.starts_with("part:"); });
        if (const StepInfo* info = find_step_info(s->type))
            for (const ParameterInfo& p : info->parameters)
                other |= p.kind == ParameterKind::part && s->settings.contains(std::string(p.key));
        if (other)
            return Problem{
                fmt::format("“{}” takes another part of that recipe, so it cannot be opened in one part.", s->id), "",
                "Open the recipe's own file instead."};
    }

    // New names where the old ones are taken, and what dials and given shapes stand for.
    std::map<std::string, std::string> ids, given;
    std::set<std::string> taken;
    for (const auto& s : part.steps) taken.insert(s->id);
    const std::string main = source_of(part, place, "shape");
    const StepInfo* given_info = info_where([](const StepInfo& i) { return i.given; });
    for (const auto& s : inside->steps) {
        if (s->type == given_info->key) {
            const std::string which = s->settings.contains("which") ? s->settings["which"].get<std::string>() : "shape";
            given[s->id] = which == "shape" ? main : step.inputs.contains(which) ? step.inputs.at(which) : "";
            continue;
        }
        ids[s->id] = free_name(s->id, [&](const std::string& n) { return taken.contains(n) && n != id; });
        taken.insert(ids[s->id]);
    }
    const auto linked = [&](const std::string& source) {
        return given.contains(source) ? given[source] : ids.contains(source) ? ids[source] : source;
    };
    const Json dials = step.settings.contains("dials") ? step.settings["dials"] : Json::object();
    std::vector<std::shared_ptr<const Step>> opened;
    for (std::size_t s = 0; s < inside->steps.size(); ++s) {
        if (given.contains(inside->steps[s]->id)) continue;
        Step changed = *inside->steps[s];
        const std::string before = source_of(*inside, s, "shape");
        changed.inputs.clear();
        for (const auto& [input, source] : inside->steps[s]->inputs)
            if (const std::string to = linked(source); !to.empty()) changed.inputs[input] = to;
        if (!before.empty())
            if (const std::string to = linked(before); !to.empty()) changed.inputs["shape"] = to;
        if (inside->steps[s]->aside || inside->steps[s]->starts) changed.inputs.erase("shape");
        changed.id = ids[changed.id];
        each_formula(changed, [&](Json& formula) {
            std::string text = formula.get<std::string>();
            for (const auto& [from, to] : ids)
                if (from != to) text = with_name(text, from, to);
            for (const Dial& dial : inner->dials) {
                std::string value = format_number(dial.value, 12);
                if (dials.contains(dial.name))
                    value = dials[dial.name].is_string() ? without_sign(dials[dial.name].get<std::string>())
                                                         : format_number(dials[dial.name].get<double>(), 12);
                if (usable_name(value) || value.find_first_not_of("0123456789.") == std::string::npos)
                    text = with_name(text, dial.name, value);
                else
                    text = with_name(text, dial.name, "(" + value + ")");
            }
            // "= 0.5" alone is a number again.
            const std::string bare = without_sign(text);
            if (text.starts_with('=') && !bare.empty() && bare.find_first_not_of("0123456789.") == std::string::npos)
                formula = std::stod(bare);
            else
                formula = text;
        });
        if (made_ids) made_ids->push_back(changed.id);
        opened.push_back(std::make_shared<const Step>(std::move(changed)));
    }
    const Step* inner_result = result_step(*inside);
    const std::string result = inner_result ? linked(inner_result->id) : "";
    if (result.empty()) return Problem{"The recipe makes no shape to put here.", "", ""};

    std::vector<std::shared_ptr<const Step>> steps;
    for (std::size_t s = 0; s < part.steps.size(); ++s) {
        if (s == place) {
            steps.insert(steps.end(), opened.begin(), opened.end());
            continue;
        }
        Step kept = *part.steps[s];
        const std::string before = source_of(part, s, "shape");
        for (auto& [input, source] : kept.inputs)
            if (source == id) source = result;
        if (before == id) kept.inputs["shape"] = result;
        // Formulas that asked for the step's dials get what the dials stood for.
        each_formula(kept, [&](Json& formula) {
            std::string text = formula.get<std::string>();
            for (const auto& [name, value] : dials.items())
                text = with_name(text, fmt::format("{}.dials.{}", id, name),
                                 value.is_string() ? "(" + without_sign(value.template get<std::string>()) + ")"
                                                   : format_number(value.template get<double>(), 12));
            formula = text;
        });
        steps.push_back(std::make_shared<const Step>(std::move(kept)));
    }
    if (part.result == id) part.result = result;
    part.steps = std::move(steps);
    for (std::size_t s = 0; s < part.steps.size(); ++s) {
        const auto link = part.steps[s]->inputs.find("shape");
        const Step* before = step_before(part, s);
        if (link == part.steps[s]->inputs.end() || !before || part.steps[s]->starts || before->id != link->second)
            continue;
        Step kept = *part.steps[s];
        kept.inputs.erase("shape");
        part.steps[s] = std::make_shared<const Step>(std::move(kept));
    }
    Recipe out = recipe;
    for (auto& any : out.parts)
        if (any->name == part_name) any = std::make_shared<const Part>(part);
    return out;
}

}  // namespace bricol
