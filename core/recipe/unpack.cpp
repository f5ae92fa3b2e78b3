// SPDX-License-Identifier: GPL-3.0-or-later
// Opening a recipe step in the part it stands in.
#include <algorithm>
#include <fmt/format.h>

#include "core/formula/formula.h"
#include "core/recipe/edit.h"
#include "core/recipe/kit.h"
#include "core/recipe/settings.h"
#include "core/ground/numbers.h"

namespace bricol {

namespace {

using Renames = std::map<std::string, std::string, std::less<>>;

bool plain_number(const std::string& text) {
    return !text.empty() && text.find_first_not_of("0123456789.") == std::string::npos;
}

/// What a name in a formula is replaced by: a name or number as it is, anything else in brackets.
std::string for_formula(const Json& written) {
    const std::string value =
        written.is_string() ? without_sign(written.get<std::string>()) : format_number(written.get<double>(), 12);
    return usable_name(value) || plain_number(value) ? value : "(" + value + ")";
}

/// A formula with names replaced; "= 0.5" alone is a number again.
void rename_in(Json& formula, const Renames& names) {
    const std::string text = with_names(formula.get<std::string>(), names);
    const std::string bare = without_sign(text);
    if (text.starts_with('=') && plain_number(bare))
        formula = number_of_digits(bare);
    else
        formula = text;
}

/// One opening, taken step by step.
class Opening {
public:
    Opening(Part& part, std::size_t place, const Recipe& inner)
        : part_(part), place_(place), step_(*part.steps[place]), inner_(inner) {}

    std::optional<Problem> run(std::vector<std::string>* made_ids) {
        if (auto problem = find_part()) return problem;
        name_steps();
        const Step* result = result_step(*inside_);
        result_ = result ? linked(result->id) : "";
        if (result_.empty()) return Problem{"The recipe makes no shape to put here.", "", ""};
        for (std::size_t s = 0; s < inside_->steps.size(); ++s)
            if (!given_.contains(inside_->steps[s]->id)) open(s);
        if (made_ids)
            for (const auto& step : opened_) made_ids->push_back(step->id);
        return std::nullopt;
    }

    /// The part with the opened steps in place of the one.
    void replace_step() {
        std::vector<std::shared_ptr<const Step>> steps;
        for (std::size_t s = 0; s < part_.steps.size(); ++s) {
            if (s == place_) {
                steps.insert(steps.end(), opened_.begin(), opened_.end());
                continue;
            }
            Step kept = *part_.steps[s];
            const std::string before = source_of(part_, s, "shape");
            for (auto& [input, source] : kept.inputs)
                if (source == step_.id) source = result_;
            if (before == step_.id) kept.inputs["shape"] = result_;
            steps.push_back(std::make_shared<const Step>(std::move(kept)));
        }
        if (part_.result == step_.id) part_.result = result_;
        part_.steps = std::move(steps);
        drop_needless_links(part_);
    }

    /// What formulas outside asked the step for, and what stands for it; `prefix` is "part." in other parts.
    Renames asked_outside(const std::string& prefix) const {
        Renames names;
        names[fmt::format("{}{}.made", prefix, step_.id)] = fmt::format("{}{}.made", prefix, result_);
        for (const auto& [name, value] : dials_.items())
            names[fmt::format("{}{}.dials.{}", prefix, step_.id, name)] = for_formula(value);
        return names;
    }

private:
    std::optional<Problem> find_part() {
        if (const Json* written = written_of(step_, ParameterKind::dials); written && written->is_object())
            dials_ = *written;
        const auto named = step_.settings.find("part");
        const std::string wanted =
            named != step_.settings.end() && named->is_string() ? named->get<std::string>() : std::string();
        for (const auto& p : inner_.parts)
            if (wanted.empty() ? p->delivered() : p->name == wanted) inside_ = p.get();
        if (!inside_) return Problem{"The recipe has no part to open.", "", ""};
        for (const auto& s : inside_->steps)
            if (std::ranges::any_of(s->inputs, [](const auto& link) { return link.second.starts_with("part:"); }) ||
                written_of(*s, ParameterKind::part))
                return Problem{
                    fmt::format("“{}” takes another part of that recipe, so it cannot be opened in one part.", s->id),
                    "", "Open the recipe's own file instead."};
        return std::nullopt;
    }

    /// New names where the old ones are taken, and what given shapes and dials stand for.
    void name_steps() {
        std::set<std::string> taken;
        for (const auto& s : part_.steps)
            if (s->id != step_.id) taken.insert(s->id);
        for (const auto& s : inside_->steps) {
            const StepInfo* info = find_step_info(s->type);
            if (info && info->given) {
                given_[s->id] = given_source(*s);
                // What formulas ask of the given shape, they ask of where it comes from.
                const std::string& source = given_[s->id];
                if (!source.empty()) renamed_[s->id] = source.substr(source.starts_with("part:") ? 5 : 0);
                continue;
            }
            const std::string name = free_name(s->id, [&](const std::string& n) { return taken.contains(n); });
            taken.insert(name);
            ids_[s->id] = name;
            if (name != s->id) renamed_[s->id] = name;
        }
        for (const Dial& dial : inner_.dials) {
            const auto turned_to = dials_.find(dial.name);
            if (turned_to != dials_.end() && turned_to->is_string() &&
                turned_to->get_ref<const std::string&>().starts_with('=')) {
                renamed_[dial.name] = for_formula(*turned_to);
                continue;
            }
            const auto fixed = turned_to == dials_.end() ? Result<Dial>(dial) : turned(dial, *turned_to, Outside::held);
            fixed_.push_back(fixed ? *fixed : dial);
            if (dial.kind == DialKind::colour)
                renamed_.merge(numbers_for_dial(fixed_.back()));
            else
                renamed_[dial.name] = for_formula(Json(fixed_.back().value));
        }
    }

    std::string given_source(const Step& given) const {
        const auto which = given.settings.find("which");
        const std::string key = which != given.settings.end() && which->is_string() ? which->get<std::string>()
                                                                                    : std::string(kit_inputs[0]);
        if (key == kit_inputs[0]) return source_of(part_, place_, "shape");
        const auto link = step_.inputs.find(key);
        return link == step_.inputs.end() ? std::string() : link->second;
    }

    std::string linked(const std::string& source) const {
        if (const auto given = given_.find(source); given != given_.end()) return given->second;
        const auto id = ids_.find(source);
        return id == ids_.end() ? source : id->second;
    }

    void open(std::size_t s) {
        const Step& old = *inside_->steps[s];
        Step changed = old;
        changed.inputs.clear();
        for (const auto& [input, source] : old.inputs)
            if (const std::string to = linked(source); !to.empty()) changed.inputs[input] = to;
        if (const std::string before = source_of(*inside_, s, "shape"); !before.empty())
            if (const std::string to = linked(before); !to.empty()) changed.inputs["shape"] = to;
        if (stands_aside(old) || starts_chain(old)) changed.inputs.erase("shape");
        changed.id = ids_[old.id];
        for (const Dial& dial : fixed_) write_dial_out(changed, dial);
        each_formula(changed, [&](WrittenFormula formula) { rename_in(formula.text, renamed_); });
        opened_.push_back(std::make_shared<const Step>(std::move(changed)));
    }

    Part& part_;
    std::size_t place_;
    const Step step_;
    const Recipe& inner_;
    const Part* inside_ = nullptr;
    Json dials_ = Json::object();
    std::map<std::string, std::string> ids_, given_;  // id inside → id here, or what the given shape stands for
    std::vector<Dial> fixed_;                         // dials that become plain values
    Renames renamed_;
    std::string result_;
    std::vector<std::shared_ptr<const Step>> opened_;
};

}  // namespace

Result<Recipe> recipe_inside(const Recipe& recipe, const std::string& part_name, const std::string& id,
                             const FindKit& find_kit, const std::string& folder) {
    const Part* part = recipe.part(part_name);
    const Step* step = part ? find_step(*part, id) : nullptr;
    if (!step) return Problem{fmt::format("There is no step “{}” in this part.", id), "", ""};
    const StepInfo* info = find_step_info(step->type);
    if (!info || !info->parameter_of(ParameterKind::kit))
        return Problem{fmt::format("“{}” holds no recipe.", id), "", "Choose a recipe step."};
    const Json* written = written_of(*step, ParameterKind::kit);
    const auto kit = find_kit(written ? *written : Json(""), folder);
    if (!kit) return kit.problem();
    return *kit->recipe;
}

Recipe at_named_preset(const Recipe& inside, const Step& step) {
    const Json* named = written_of(step, ParameterKind::preset);
    if (!named || !named->is_string() || !inside.preset(named->get<std::string>())) return inside;
    const auto there = apply_preset(inside, named->get<std::string>());
    return there ? *there : inside;
}

Edited unpacked(const Recipe& recipe, const std::string& part_name, const std::string& id, const FindKit& find_kit,
                const std::string& folder, std::vector<std::string>* made_ids) {
    const auto inner = recipe_inside(recipe, part_name, id, find_kit, folder);
    if (!inner) return inner.problem();
    Part part = *recipe.part(part_name);
    const Recipe inside = at_named_preset(*inner, *find_step(part, id));
    Opening opening(part, step_index(part, id), inside);
    if (auto problem = opening.run(made_ids)) return *problem;
    opening.replace_step();
    Recipe out = recipe;
    for (auto& any : out.parts) {
        const bool same_part = any->name == part_name;
        Part changed = same_part ? part : *any;
        // Formulas that asked for the step's dials get what the dials stood for.
        const Renames names = opening.asked_outside(same_part ? "" : part_name + ".");
        for (auto& s : changed.steps) {
            Step edited = *s;
            each_formula(edited, [&](WrittenFormula formula) {
                formula.text = with_names(formula.text.get<std::string>(), names);
            });
            if (!(edited == *s)) s = std::make_shared<const Step>(std::move(edited));
        }
        any = std::make_shared<const Part>(std::move(changed));
    }
    return out;
}

}  // namespace bricol
