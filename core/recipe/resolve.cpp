// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/recipe/resolve.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <unordered_set>

#include "core/catalogue/kind.h"
#include "core/ground/colour.h"
#include "core/ground/numbers.h"
#include "core/ground/words.h"
#include "core/recipe/settings.h"

namespace bricol {

namespace {

/// Settings read as they are seen from one step.
class StepReading final : public Reading {
public:
    StepReading(Resolver& resolver, std::string part, std::string step, std::vector<Finding>& findings)
        : Reading(std::move(step), findings), resolver_(resolver), part_(std::move(part)) {}
    Result<double> number(const Json& written) override { return resolver_.number(part_, written); }
    Result<double> component(const Json& written, int axis) override { return resolver_.number(part_, written, axis); }
    std::optional<Value> named(const Json& written) override { return resolver_.named(written); }
    std::map<std::string, double> constants(const std::string& formula) override {
        return resolver_.constants(part_, formula);
    }

private:
    Resolver& resolver_;
    std::string part_;
};

/// How what was made is asked for.
constexpr std::string_view made_word = "made.";

const Json* written_setting(const Step& step, std::string_view key) {
    const auto found = step.settings.find(std::string(key));
    return found == step.settings.end() ? nullptr : &*found;
}

}  // namespace

Resolver::Resolver(const Recipe& recipe, Surroundings surroundings, AskMade made)
    : recipe_(recipe), surroundings_(surroundings), made_(std::move(made)) {
    // Dials first: they are most of what formulas ask for.
    for (const Dial& dial : recipe.dials) {
        if (dial.kind != DialKind::colour) {
            known_.emplace("\n" + dial.name, dial.value);
            continue;
        }
        for (int i = 0; i < 3; ++i)
            known_.emplace(fmt::format("\n{}.{}", dial.name, colour_words[static_cast<std::size_t>(i)]),
                           dial.colour[i]);
        known_.emplace("\n" + dial.name, Problem{fmt::format("“{}” is a colour, not one number.", dial.name), "",
                                                 fmt::format("Write {0}.red, {0}.green or {0}.blue.", dial.name)});
    }
}

const Step* Resolver::step_of(const std::string& part_name, const std::string& id) {
    auto& steps = steps_[part_name];
    if (steps.empty())
        if (const Part* part = recipe_.part(part_name))
            for (const auto& step : part->steps) steps.emplace(step->id, step.get());
    const auto found = steps.find(id);
    return found == steps.end() ? nullptr : found->second;
}

std::optional<Resolver::Meant> Resolver::meant(const std::string& part_name, const std::string& name) {
    const std::size_t dot = name.find('.');
    if (dot == std::string::npos) return std::nullopt;
    const std::string first = name.substr(0, dot), rest = name.substr(dot + 1);
    if (const Step* step = step_of(part_name, first)) return Meant{recipe_.part(part_name), step, rest};
    const Part* other = recipe_.part(first);
    const std::size_t second = rest.find('.');
    if (const Step* there = other && second != std::string::npos ? step_of(first, rest.substr(0, second)) : nullptr)
        return Meant{other, there, rest.substr(second + 1)};
    if (const Step* result = other && rest.starts_with(made_word) ? result_step(*other) : nullptr)
        return Meant{other, result, rest};
    return std::nullopt;
}

bool Resolver::Meant::is_made() const {
    const StepInfo* info = find_step_info(step->type);
    return path.starts_with(made_word) && !(info && info->parameter(made_word.substr(0, made_word.size() - 1)));
}

namespace {

void names_written(const Json& written, std::vector<std::string>& names) {
    if (written.is_string()) {
        const auto& text = written.get_ref<const std::string&>();
        if (text.starts_with('='))
            for (std::string& name : names_in(std::string_view(text).substr(1))) names.push_back(std::move(name));
    } else if (written.is_structured()) {
        for (const Json& inner : written) names_written(inner, names);
    }
}

}  // namespace

namespace {

/// Circles of so many numbers are followed by recursion, from whoever asks, and spelled out.
constexpr std::size_t longest_spelled = 500;

}  // namespace

/// Follows links on a stack of its own and works the farthest numbers out first, so that a chain of thousands needs no
/// depth of the machine's stack. Circles are left to whoever asks.
void Resolver::work_out_behind(const std::string& part, const std::string& name) {
    struct Visit {
        std::string part, name;
        std::vector<std::string> behind;  // names still to be looked at, as its step's part sees them
        std::string seen_from;
        bool circular = false;  // something behind it was still being looked at
    };
    std::unordered_set<std::string> entered;
    std::vector<Visit> stack;
    const auto enter = [&](const std::string& from, const std::string& wanted) {
        const std::string key = from + "\n" + wanted;
        if (known_.contains("\n" + wanted) || known_.contains(key)) return;
        if (!entered.insert(key).second) {
            // Only what is still being looked at can be here again: a circle. Short ones are spelled by whoever asks.
            if (!stack.empty()) stack.back().circular = true;
            if (stack.size() > longest_spelled)
                for (const Visit& visit : stack)
                    known_.try_emplace(visit.part + "\n" + visit.name,
                                       Problem{fmt::format("These numbers depend on one another in a circle of {}: {}.",
                                                           stack.size(), wanted),
                                               "", "Give one of them a value of its own."});
            return;
        }
        const auto found = meant(from, wanted);
        if (!found) return;
        Visit visit{from, wanted, {}, found->part->name, false};
        const StepInfo* info = find_step_info(found->step->type);
        const std::string first = found->path.substr(0, found->path.find('.'));
        const auto written = found->step->settings.find(first);
        const std::size_t axis =
            found->path.size() == first.size() + 2 ? axis_letters.find(found->path.back()) : std::string_view::npos;
        if (written != found->step->settings.end()) {
            names_written(written->is_array() && axis < written->size() ? (*written)[axis] : *written, visit.behind);
            if (axis < axis_letters.size())  // where a name may stand for three
                for (std::size_t n = visit.behind.size(); n-- > 0;)
                    visit.behind.push_back(visit.behind[n] + "." + axis_letters[axis]);
        } else if (info && (info->named_numbers ||
                            std::ranges::find(info->outputs, first, &OutputInfo::key) != info->outputs.end()))
            names_written(found->step->settings, visit.behind);
        stack.push_back(std::move(visit));
    };
    enter(part, name);
    while (!stack.empty()) {
        if (stack.back().behind.empty()) {
            const Visit done = std::move(stack.back());
            stack.pop_back();
            const bool spelled = done.circular && stack.size() < longest_spelled;
            if (!stack.empty() && spelled) stack.back().circular = true;
            if (!stack.empty() && !spelled) follow(done.part, done.name);
            continue;
        }
        const std::string next = std::move(stack.back().behind.back());
        stack.back().behind.pop_back();
        enter(std::string(stack.back().seen_from), next);
    }
}

Result<double> Resolver::name(const std::string& part_name, const std::string& name) {
    if (path_.empty() && name.find('.') != std::string::npos) work_out_behind(part_name, name);
    return follow(part_name, name);
}

Result<double> Resolver::follow(const std::string& part_name, const std::string& name) {
    if (name == "frame") return surroundings_.frame;
    if (name == "seed") return surroundings_.seed;
    if (const auto dial = known_.find("\n" + name); dial != known_.end()) return dial->second;
    if (const auto given = surroundings_.names.find(name); given != surroundings_.names.end()) return given->second;
    const std::string key = part_name + "\n" + name;
    if (const auto known = known_.find(key); known != known_.end()) return known->second;

    if (const auto from = std::ranges::find(path_, key); from != path_.end()) {
        std::string circle;
        for (auto at = from; at != path_.end() && circle.size() < 400; ++at)
            circle += at->substr(at->find('\n') + 1) + " → ";
        const Problem problem{"These numbers depend on one another in a circle: " + circle + name + ".", "",
                              "Give one of them a value of its own."};
        // Whoever asks for one of them next is told the same; a problem is worked out once like a number.
        for (auto at = from; at != path_.end(); ++at) known_.insert_or_assign(*at, problem);
        return problem;
    }
    path_.push_back(key);
    Result<double> found = Problem{fmt::format("Nothing here is called “{}”.", name), "",
                                   "Formulas know dials, step.number, part.step.number and step.made.size.x."};
    if (const auto there = meant(part_name, name)) {
        if (!there->is_made())
            found = setting(*there->part, *there->step, there->path, name);
        else if (auto number =
                     made_ ? made_(*there->part, *there->step, std::string_view(there->path).substr(made_word.size()))
                           : Result<double>(Problem{"It is not made yet.", "", ""}))
            found = *number;
        else
            found = Problem{fmt::format("“{}”: {}", name, number.problem().what), "", number.problem().remedy};
    }
    path_.pop_back();
    return known_.try_emplace(key, found).first->second;
}

/// A number that a step gives beside its settings; nothing when it gives none of that name.
std::optional<Result<double>> Resolver::given_number(const Part& part, const Step& step, const StepInfo& info,
                                                     const std::string& key, const std::string& name) {
    const auto output = std::ranges::find(info.outputs, key, &OutputInfo::key);
    if (output == info.outputs.end() && !info.named_numbers) return std::nullopt;
    std::vector<Finding> findings;
    const Values values = parameters(part, step, info, findings);
    if (!findings.empty()) {
        // The first cause alone: along a chain of links each would repeat the one behind it.
        const std::string& cause = findings.front().text;
        const std::size_t told =
            cause.find("cannot be worked out") == std::string::npos ? std::string::npos : cause.find("“");
        return Problem{
            told != std::string::npos ? cause.substr(told) : fmt::format("“{}” cannot be worked out: {}", name, cause),
            "", ""};
    }
    if (output == info.outputs.end()) return info.named_numbers.work_out(values, key);
    const double value = output->work_out(values);
    if (!std::isfinite(value)) return Problem{fmt::format("“{}” is not a finite number.", name), "", ""};
    return value;
}

Result<double> Resolver::setting(const Part& part, const Step& step, const std::string& path, const std::string& name) {
    const StepInfo* info = find_step_info(step.type);
    const std::size_t dot = path.find('.');
    const std::string key = path.substr(0, dot);
    const ParameterInfo* parameter = info ? info->parameter(key) : nullptr;
    std::vector<Finding> findings;
    if (info && !parameter && dot == std::string::npos)
        if (auto given = given_number(part, step, *info, key, name)) return *given;
    if (!parameter) return Problem{fmt::format("“{}”: the step “{}” has no number “{}”.", name, step.id, key), "", ""};
    const Kind& kind = kind_info(*parameter);
    StepReading reading(*this, part.name, step.id, findings);
    const std::string_view rest =
        dot == std::string::npos ? std::string_view{} : std::string_view(path).substr(dot + 1);
    if (auto number = kind.single(*parameter, written_setting(step, key), rest, reading)) return *number;
    return Problem{fmt::format("“{}” is not a single number.", name), "", ""};
}

std::optional<Value> Resolver::named(const Json& written) const {
    if (!written.is_string()) return std::nullopt;
    const auto& text = written.get_ref<const std::string&>();
    if (!text.starts_with('=')) return std::nullopt;
    const Dial* dial = recipe_.dial(without_sign(text));
    if (!dial) return std::nullopt;
    if (dial->kind == DialKind::choice) return Value(dial->word());
    if (dial->kind == DialKind::colour) return Value(dial->colour);
    return std::nullopt;
}

Result<double> Resolver::number(const std::string& part, const Json& written, int axis) {
    if (written.is_number()) {
        const double value = written.get<double>();
        if (!std::isfinite(value)) return Problem{"This is not a finite number.", "", ""};
        return value;
    }
    if (written.is_string()) {
        const auto& text = written.get_ref<const std::string&>();
        if (text.starts_with('='))
            return evaluate(std::string_view(text).substr(1), [&](const std::string& n) {
                auto one = name(part, n);
                if (one || axis < 0) return one;
                auto of_three = name(part, n + "." + axis_letters[static_cast<std::size_t>(axis)]);
                return of_three ? of_three : one;
            });
        return Problem{fmt::format("“{}” is text where a number is wanted.", shortened(text)), "",
                       "A formula starts with “=”."};
    }
    return Problem{fmt::format("A number or a formula is wanted, not {}.", written.type_name()), "", ""};
}

std::map<std::string, double> Resolver::constants(const std::string& part, const std::string& text) {
    std::map<std::string, double> known;
    for (const std::string& wanted : names_in(text))
        if (const auto value = name(part, wanted)) known.emplace(wanted, *value);
    return known;
}

Values Resolver::parameters(const Part& part, const Step& step, const StepInfo& info, std::vector<Finding>& findings) {
    Values values;
    StepReading reading(*this, part.name, step.id, findings);
    for (const ParameterInfo& p : info.parameters) {
        const Kind& kind = kind_info(p);
        const Json* written = written_setting(step, p.key);
        values.emplace(p.key, written ? kind.read(p, *written, reading) : kind.standard(p));
    }
    return values;
}

}  // namespace bricol
