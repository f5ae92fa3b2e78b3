// SPDX-License-Identifier: GPL-3.0-or-later
// Packing steps into a recipe step.
#include <algorithm>
#include <fmt/format.h>

#include "core/formula/formula.h"
#include "core/recipe/kit.h"
#include "core/recipe/recipe_json.h"
#include "core/recipe/resolve.h"
#include "core/recipe/settings.h"

namespace bricol {

void drop_needless_links(Part& part) {
    for (std::size_t s = 0; s < part.steps.size(); ++s) {
        const auto main = part.steps[s]->inputs.find("shape");
        const Step* before = step_before(part, s);
        if (main == part.steps[s]->inputs.end() || starts_chain(*part.steps[s]) || !before ||
            before->id != main->second)
            continue;
        Step kept = *part.steps[s];
        kept.inputs.erase("shape");
        part.steps[s] = std::make_shared<const Step>(std::move(kept));
    }
}

namespace {

const StepInfo* info_where(auto matches) {
    const auto all = all_steps();
    const auto found = std::ranges::find_if(all, [&](const StepInfo* info) { return matches(*info); });
    return found == all.end() ? nullptr : *found;
}

/// A dial for a number that has no range of its own: room for ten times the value either way.
Dial dial_about(double value) {
    Dial dial;
    dial.value = value;
    dial.low = std::min(value, 0.0) * 10 - 1;
    dial.high = std::max(value, 0.0) * 10 + 1;
    return dial;
}

/// One packing, taken step by step.
class Packing {
public:
    Packing(const Recipe& recipe, const Part& part, const std::set<std::string>& ids, std::string title,
            std::string_view as)
        : recipe_(recipe),
          part_(part),
          ids_(ids),
          title_(std::move(title)),
          holder_(as.empty() ? info_where([](const StepInfo& i) {
              return i.parameter_of(ParameterKind::kit) && i.loop_names.empty();
          })
                             : find_step_info(as)),
          resolver_(recipe) {
        for (std::size_t s = 0; s < part.steps.size(); ++s)
            if (ids.contains(part.steps[s]->id)) chosen_.push_back(s);
    }

    Edited run(std::string* made_id) {
        if (chosen_.empty() || chosen_.size() != ids_.size()) return Problem{"Choose the steps to pack first.", "", ""};
        if (auto problem = find_result()) return *problem;
        if (!holder_ || !holder_->parameter_of(ParameterKind::kit))
            return Problem{"Steps cannot be packed into a step of that kind.", "", ""};
        begin_inner();
        if (makes_many())
            for (const std::size_t s : chosen_)
                if (const std::string main = source_of(part_, s, "shape"); !main.empty() && !inside(main))
                    source_number(main);
        for (const std::size_t s : chosen_) take_in(s);
        if (sources_.size() > kit_inputs.size())
            return Problem{fmt::format("These steps take {} shapes from outside; a recipe step takes {}.",
                                       sources_.size(), kit_inputs.size()),
                           "", "Choose the steps that make some of them as well."};
        add_given_shapes();
        name_step();
        Recipe out = recipe_;
        move_used_numbers(out);
        if (!hidden_.empty())
            return Problem{
                fmt::format("A formula outside asks for “{}”, which would be hidden in the packed step.", hidden_), "",
                "Choose the step with that formula as well, or change the formula."};
        finish_step();
        if (made_id) *made_id = step_.id;
        Part outside = *out.part(part_.name);
        replace_steps(outside);
        for (auto& any : out.parts)
            if (any->name == part_.name) any = std::make_shared<const Part>(outside);
        if (const std::string circle = circle_in(outside); !circle.empty())
            return Problem{
                "A step outside lies between these steps, so packing them would make a circle: " + circle + ".", "",
                "Choose it as well."};
        if (auto problem = would_not_open(recipe_text(out))) {
            problem->what =
                "Packed so, the recipe could not be opened again: recipes would stand inside one another too deeply.";
            problem->remedy = "Open packed steps first.";
            return *problem;
        }
        return out;
    }

private:
    bool inside(const std::string& id) const { return ids_.contains(id); }
    /// The step that holds them makes them many times.
    bool makes_many() const { return !holder_->loop_names.empty(); }
    bool turns_by_itself(const std::string& dial) const {
        return std::ranges::find(holder_->loop_names, dial) != holder_->loop_names.end();
    }

    /// Inputs of a step, the one it takes by its place on the strip among them.
    std::map<std::string, std::string> inputs_of(std::size_t s) const {
        std::map<std::string, std::string> inputs = part_.steps[s]->inputs;
        if (const std::string main = source_of(part_, s, "shape"); !main.empty()) inputs["shape"] = main;
        return inputs;
    }

    std::optional<Problem> find_result() {
        std::set<std::string> used;
        for (std::size_t s = 0; s < part_.steps.size(); ++s)
            if (!inside(part_.steps[s]->id))
                for (const auto& [input, source] : inputs_of(s))
                    if (inside(source)) used.insert(source);
        if (const Step* result = result_step(part_); result && inside(result->id)) used.insert(result->id);
        if (used.empty())
            for (const std::size_t s : chosen_)
                if (!stands_aside(*part_.steps[s])) used = {part_.steps[s]->id};
        if (used.empty()) return Problem{"None of these steps makes a shape.", "", "Choose steps that end in one."};
        if (used.size() > 1) {
            std::string all;
            for (const std::string& id : used) all += (all.empty() ? "" : ", ") + id;
            return Problem{
                fmt::format("The results of several of these steps are used outside ({}); a recipe step has one.", all),
                "", "Choose steps that end in one."};
        }
        inner_part_.result = *used.begin();
        return std::nullopt;
    }

    void begin_inner() {
        inner_.title = title_.empty() ? "Packed steps" : title_;
        inner_.unit = recipe_.unit;
        inner_.budget = 0;
        inner_part_.name = "inside";
    }

    bool taken_inside(const std::string& name) const {
        return inner_.dial(name) || name == inner_part_.name || inside(name);
    }

    std::string given_name(std::size_t i) const {
        return free_name(fmt::format("given_{}", i + 1), [&](const std::string& n) { return inside(n); });
    }

    std::size_t source_number(const std::string& source) {
        const auto at = std::ranges::find(sources_, source);
        if (at != sources_.end()) return static_cast<std::size_t>(at - sources_.begin());
        sources_.push_back(source);
        return sources_.size() - 1;
    }

    /// The dial inside that stands for a name outside.
    std::string dial_for(const std::string& outside, double value = 0) {
        if (const auto known = dial_names_.find(outside); known != dial_names_.end()) return known->second;
        const Dial* outer = recipe_.dial(outside);
        Dial dial = outer ? *outer : dial_about(value);
        dial.name = free_name(name_from(outside), [&](const std::string& n) { return taken_inside(n); });
        inner_.dials.push_back(dial);
        if (!turns_by_itself(outside)) dials_[dial.name] = "= " + outside;
        return dial_names_[outside] = dial.name;
    }

    /// A step as it stands inside: links and formulas that lead outside go through given shapes and dials.
    void take_in(std::size_t s) {
        Step step = *part_.steps[s];
        step.inputs.clear();
        for (const auto& [input, source] : inputs_of(s))
            step.inputs[input] = inside(source) || source.empty() ? source : given_name(source_number(source));
        each_formula(step, [&](WrittenFormula formula) {
            const std::string text = formula.text.get<std::string>();
            std::map<std::string, std::string, std::less<>> renamed;
            for (const std::string& name : names_in(without_sign(text))) {
                if (inside(name.substr(0, name.find('.'))) || name == "frame" || name == "seed") continue;
                // What has no value here is an attribute, or a mistake that stays one. A colour has three.
                if (const Dial* dial = recipe_.dial(name); dial && dial->kind == DialKind::colour)
                    renamed[name] = dial_for(name);
                else if (const auto value = resolver_.name(part_.name, name))
                    renamed[name] = dial_for(name, *value);
                else if (const auto meant = resolver_.meant(part_.name, name); meant && meant->is_made())
                    renamed[name] = dial_for(name, 1);  // what it is, only a making knows
            }
            formula.text = with_names(text, renamed);
        });
        inner_part_.steps.push_back(std::make_shared<const Step>(std::move(step)));
    }

    void add_given_shapes() {
        const StepInfo* given_info = info_where([](const StepInfo& i) { return i.given; });
        for (std::size_t i = sources_.size(); i-- > 0;) {
            Step given;
            given.id = given_name(i);
            given.type = given_info->key;
            given.settings["which"] = kit_inputs[i];
            inner_part_.steps.insert(inner_part_.steps.begin(), std::make_shared<const Step>(std::move(given)));
        }
    }

    void name_step() {
        const std::string wanted = name_from(!title_.empty() ? title_
                                             : makes_many()  ? std::string(holder_->key)
                                                             : "packed");
        step_.type = holder_->key;
        step_.title = title_;
        step_.id = free_name(usable_name(wanted) ? wanted : "packed",
                             [&](const std::string& n) { return find_step(part_, n) && !inside(n); });
        step_.at = part_.steps[chosen_.back()]->at;
        // Nothing from outside: not what happens to stand before it on the strip either.
        if (sources_.empty() && chosen_.back() > 0 && !makes_many()) step_.inputs[std::string(kit_inputs[0])] = "";
        for (std::size_t i = 0; i < sources_.size(); ++i) step_.inputs[std::string(kit_inputs[i])] = sources_[i];
    }

    /// Numbers of theirs that formulas outside use move to the step's dials.
    void move_used_numbers(Recipe& out) {
        for (auto& any : out.parts) {
            const bool same_part = any->name == part_.name;
            Part changed = *any;
            for (auto& s : changed.steps) {
                if (same_part && inside(s->id)) continue;
                Step edited = *s;
                each_formula(edited, [&](WrittenFormula formula) { ask_the_step(formula.text, same_part); });
                if (!(edited == *s)) s = std::make_shared<const Step>(std::move(edited));
            }
            any = std::make_shared<const Part>(std::move(changed));
        }
    }

    /// Makes a formula outside ask the new step's dials where it asked a packed step.
    void ask_the_step(Json& formula, bool same_part) {
        const std::string text = formula.get<std::string>();
        std::map<std::string, std::string, std::less<>> renamed;
        for (const std::string& name : names_in(without_sign(text))) {
            std::string own = name;
            if (!same_part) {
                if (!name.starts_with(part_.name + ".")) continue;
                own = name.substr(part_.name.size() + 1);
            }
            const std::size_t dot = own.find('.');
            if (dot == std::string::npos || !inside(own.substr(0, dot))) continue;
            if (const auto meant = resolver_.meant(part_.name, own); meant && meant->is_made()) {
                // The new step makes what the result among them made; what the others made stays in there.
                const std::string id = own.substr(0, dot);
                if (id != inner_part_.result) hidden_ = name;
                renamed[name] = (same_part ? "" : part_.name + ".") + step_.id + own.substr(dot);
                continue;
            }
            if (!moved_.contains(own) && !move_number(own, dot)) continue;
            renamed[name] = (same_part ? "" : part_.name + ".") + step_.id + ".dials." + moved_[own];
        }
        formula = with_names(text, renamed);
    }

    /// Moves `step.number` (or one component of a vector) to a dial; false when it has no value.
    bool move_number(const std::string& own, std::size_t dot) {
        const auto value = resolver_.name(part_.name, own);
        if (!value) return false;
        const std::string id = own.substr(0, dot), path = own.substr(dot + 1), key = path.substr(0, path.find('.'));
        Dial dial = dial_about(*value);
        dial.name = free_name(name_from(path), [&](const std::string& n) { return taken_inside(n); });
        for (auto& held : inner_part_.steps) {
            if (held->id != id) continue;
            Step changed = *held;
            Json::json_pointer pointer("/" + key);
            if (key.size() < path.size()) {
                write_whole_vector(changed, key);
                pointer /= std::string_view("xyz").find(path[key.size() + 1]);
            }
            // A formula goes to the step as it was written outside, where its names mean what they did.
            const Json& before = part_.steps[step_index(part_, id)]->settings;
            dials_[dial.name] = before.contains(pointer) ? before[pointer] : Json(*value);
            changed.settings[pointer] = "= " + dial.name;
            held = std::make_shared<const Step>(std::move(changed));
        }
        inner_.dials.push_back(dial);
        moved_[own] = dial.name;
        return true;
    }

    /// Writes a vector's default out, so that one of its numbers can be replaced.
    static void write_whole_vector(Step& step, const std::string& key) {
        const StepInfo* info = find_step_info(step.type);
        const ParameterInfo* p = info ? info->parameter(key) : nullptr;
        if (!p || step.settings.contains(key)) return;
        step.settings[key] = {p->standard_vector.x, p->standard_vector.y, p->standard_vector.z};
    }

    void finish_step() {
        inner_.parts.push_back(std::make_shared<const Part>(inner_part_));
        const StepInfo* info = find_step_info(step_.type);
        step_.settings[std::string(info->parameter_of(ParameterKind::kit)->key)] = recipe_json(inner_);
        if (!dials_.empty()) step_.settings[std::string(info->parameter_of(ParameterKind::dials)->key)] = dials_;
    }

    /// The part with the one step in place of those that went in.
    void replace_steps(Part& outside) {
        std::vector<std::shared_ptr<const Step>> steps;
        for (std::size_t s = 0; s < outside.steps.size(); ++s) {
            if (s == chosen_.back()) {
                steps.push_back(std::make_shared<const Step>(step_));
                continue;
            }
            if (inside(outside.steps[s]->id)) continue;
            Step kept = *outside.steps[s];
            // A step that followed one of these by its place on the strip now says so by name, when its neighbour
            // changes.
            const std::string before = source_of(part_, s, "shape");
            for (auto& [input, source] : kept.inputs)
                if (inside(source)) source = step_.id;
            if (!kept.inputs.contains("shape") && !before.empty())
                kept.inputs["shape"] = inside(before) ? step_.id : before;
            steps.push_back(std::make_shared<const Step>(std::move(kept)));
        }
        outside.steps = std::move(steps);
        if (inside(outside.result)) outside.result = step_.id;
        drop_needless_links(outside);
    }

    const Recipe& recipe_;
    const Part& part_;
    const std::set<std::string>& ids_;
    std::string title_;
    const StepInfo* holder_;  ///< what they are packed into; null for an unknown kind
    Resolver resolver_;
    std::vector<std::size_t> chosen_;
    std::vector<std::string> sources_;               // what comes in from outside
    std::map<std::string, std::string> dial_names_;  // name outside → dial inside
    std::map<std::string, std::string> moved_;       // "step.number" → dial
    std::string hidden_;                             // what a formula outside asks and would not see any more
    Json dials_ = Json::object();
    Recipe inner_;
    Part inner_part_;
    Step step_;
};

}  // namespace

Edited packed(const Recipe& recipe, const std::string& part_name, const std::set<std::string>& ids,
              const std::string& title, std::string* made_id, std::string_view as) {
    const Part* part = recipe.part(part_name);
    if (!part) return Problem{fmt::format("There is no part “{}”.", part_name), "", ""};
    return Packing(recipe, *part, ids, title, as).run(made_id);
}

}  // namespace bricol
