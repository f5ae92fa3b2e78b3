// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/recipe/resolve.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/catalogue/kind.h"
#include "core/ground/words.h"

namespace bricol {

namespace {

constexpr std::size_t deepest_links = 200;

/// Settings read as they are seen from one step.
class StepReading final : public Reading {
public:
    StepReading(Resolver& resolver, std::string part, std::string step, std::vector<Finding>& findings)
        : Reading(std::move(step), findings), resolver_(resolver), part_(std::move(part)) {}
    Result<double> number(const Json& written) override { return resolver_.number(part_, written); }
    std::map<std::string, double> constants(const std::string& formula) override {
        return resolver_.constants(part_, formula);
    }

private:
    Resolver& resolver_;
    std::string part_;
};

const Json* written_setting(const Step& step, std::string_view key) {
    const auto found = step.settings.find(std::string(key));
    return found == step.settings.end() ? nullptr : &*found;
}

}  // namespace

Resolver::Resolver(const Recipe& recipe, Surroundings surroundings) : recipe_(recipe), surroundings_(surroundings) {
    // Dials first: they are most of what formulas ask for.
    for (const Dial& dial : recipe.dials) known_.emplace("\n" + dial.name, dial.value);
}

Result<double> Resolver::name(const std::string& part_name, const std::string& name) {
    if (name == "frame") return surroundings_.frame;
    if (name == "seed") return surroundings_.seed;
    if (const auto dial = known_.find("\n" + name); dial != known_.end()) return dial->second;
    const std::string key = part_name + "\n" + name;
    if (const auto known = known_.find(key); known != known_.end()) return known->second;

    if (std::ranges::find(path_, key) != path_.end() || path_.size() > deepest_links) {
        std::string circle;
        auto from = std::ranges::find(path_, key);
        for (auto at = from == path_.end() ? path_.begin() : from; at != path_.end() && circle.size() < 400; ++at)
            circle += at->substr(at->find('\n') + 1) + " → ";
        return Problem{"These numbers depend on one another in a circle: " + circle + name + ".", "",
                       "Give one of them a value of its own."};
    }
    path_.push_back(key);
    Result<double> found = Problem{fmt::format("Nothing here is called “{}”.", name), "",
                                   "Formulas know dials, step.number and part.step.number."};
    const std::size_t dot = name.find('.');
    if (dot != std::string::npos) {
        const std::string first = name.substr(0, dot), rest = name.substr(dot + 1);
        const Part* here = recipe_.part(part_name);
        if (const Step* step = here ? find_step(*here, first) : nullptr) {
            found = setting(*here, *step, rest, name);
        } else if (const Part* other = recipe_.part(first)) {
            const std::size_t second = rest.find('.');
            const Step* there = find_step(*other, rest.substr(0, second));
            if (there && second != std::string::npos) found = setting(*other, *there, rest.substr(second + 1), name);
        }
    }
    path_.pop_back();
    // A problem inside a circle belongs to whoever asked first; only settled answers are kept.
    if (found || path_.empty()) known_.insert_or_assign(key, found);
    return found;
}

Result<double> Resolver::setting(const Part& part, const Step& step, const std::string& path, const std::string& name) {
    const StepInfo* info = find_step_info(step.type);
    const std::size_t dot = path.find('.');
    const std::string key = path.substr(0, dot);
    const ParameterInfo* parameter = info ? info->parameter(key) : nullptr;
    std::vector<Finding> findings;
    if (info && !parameter && dot == std::string::npos)
        for (const OutputInfo& output : info->outputs)
            if (output.key == key) {
                const Values values = parameters(part, step, *info, findings);
                if (!findings.empty())
                    return Problem{fmt::format("“{}” cannot be worked out: {}", name, findings.front().text), "", ""};
                const double value = output.work_out(values);
                if (!std::isfinite(value)) return Problem{fmt::format("“{}” is not a finite number.", name), "", ""};
                return value;
            }
    if (!parameter) return Problem{fmt::format("“{}”: the step “{}” has no number “{}”.", name, step.id, key), "", ""};
    const Kind& kind = kind_info(*parameter);
    StepReading reading(*this, part.name, step.id, findings);
    const std::string_view rest =
        dot == std::string::npos ? std::string_view{} : std::string_view(path).substr(dot + 1);
    if (auto number = kind.single(*parameter, written_setting(step, key), rest, reading)) return *number;
    return Problem{fmt::format("“{}” is not a single number.", name), "", ""};
}

Result<double> Resolver::number(const std::string& part, const Json& written) {
    if (written.is_number()) {
        const double value = written.get<double>();
        if (!std::isfinite(value)) return Problem{"This is not a finite number.", "", ""};
        return value;
    }
    if (written.is_string()) {
        const auto& text = written.get_ref<const std::string&>();
        if (text.starts_with('='))
            return evaluate(std::string_view(text).substr(1), [&](const std::string& n) { return name(part, n); });
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
