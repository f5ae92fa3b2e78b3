// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/make/unused_settings.h"

#include <algorithm>
#include <fmt/format.h>

#include "core/ground/words.h"
#include "core/recipe/stock_words.h"

namespace bricol {

namespace {

std::string hint(const std::vector<std::string_view>& words, std::string_view name) {
    const std::string_view near = nearest_word(words, name);
    return near.empty() ? "" : fmt::format(" Did you mean “{}”?", near);
}

/// "how=each" as "how = each", "a|b" as "a or b", "weld" as "weld is on".
std::string condition_words(std::string_view when) {
    const std::size_t mark = when.find_first_of("=>");
    if (mark == std::string_view::npos) return fmt::format("“{}” is on", when);
    const std::string_view key = when.substr(0, mark);
    if (when[mark] == '>') return fmt::format("“{}” is more than 0", key);
    std::string values;
    for (std::string_view rest = when.substr(mark + 1); !rest.empty();) {
        const std::size_t end = std::min(rest.find('|'), rest.size());
        values += (values.empty() ? "" : " or ") + std::string(rest.substr(0, end));
        rest.remove_prefix(std::min(end + 1, rest.size()));
    }
    return fmt::format("“{}” is {}", key, values);
}

}  // namespace

void look_for_unused(const StepInfo& info, const Step& step, const Values& values, std::vector<Finding>& findings) {
    std::vector<std::string_view> keys, inputs;
    for (const ParameterInfo& p : info.parameters) keys.push_back(p.key);
    for (const InputInfo& input : info.inputs) inputs.push_back(input.key);
    const auto tell = [&](Severity severity, const char* code, std::string text) {
        findings.push_back({severity, code, std::move(text), {}, {}});
    };
    std::string idle;
    for (const auto& [key, written] : step.settings.items()) {
        const ParameterInfo* parameter = info.parameter(key);
        if (!parameter)
            tell(Severity::caution, "unknown-setting",
                 fmt::format("{} has no setting “{}”, so it does nothing.{}", info.name, shortened(key),
                             hint(keys, key)));
        else if (!asked_for(info, *parameter, values))
            idle +=
                fmt::format("{}“{}” works when {}", idle.empty() ? "" : "; ", key, condition_words(parameter->when));
    }
    if (!idle.empty()) tell(Severity::note, "idle-setting", fmt::format("Written but without effect here: {}.", idle));
    for (const auto& [key, source] : step.inputs)
        if (std::ranges::find(inputs, key) == inputs.end() && !(key == "shape" && source.empty()))
            tell(Severity::caution, "unknown-input",
                 fmt::format("{} has no input “{}”, so what is linked there does nothing.{}", info.name, shortened(key),
                             hint(inputs, key)));
}

std::vector<Finding> unknown_keys(const Recipe& recipe) {
    std::vector<Finding> findings;
    const auto look = [&](const Json& extra, const std::string& where) {
        for (const auto& [key, value] : extra.items()) {
            if (&extra == &recipe.extra && key == stock_words_key) continue;
            findings.push_back(
                {Severity::caution,
                 "unknown-key",
                 fmt::format("Bricol does not know “{}” {}; it is kept and does nothing.", shortened(key), where),
                 {},
                 {}});
        }
    };
    look(recipe.extra, "in the recipe");
    for (const Dial& dial : recipe.dials) look(dial.extra, fmt::format("at the dial “{}”", dial.name));
    for (const Preset& preset : recipe.presets) look(preset.extra, fmt::format("in the preset “{}”", preset.name));
    for (const auto& part : recipe.parts) look(part->extra, fmt::format("in the part “{}”", part->name));
    return findings;
}

std::vector<Finding> dial_findings(const Recipe& recipe) {
    std::vector<Finding> findings;
    const auto tell = [&](const char* code, std::string text) {
        findings.push_back({Severity::caution, code, std::move(text), {}, {}});
    };
    std::vector<std::string_view> names;
    for (const Dial& dial : recipe.dials) names.push_back(dial.name);
    for (const Dial& dial : recipe.dials) {
        const std::string about = condition_dial(dial.when);
        if (!dial.when.empty() && !recipe.dial(about))
            tell("lost-condition",
                 fmt::format("The dial “{}” is to be shown while “{}” allows it, and there is no such "
                             "dial, so it is always shown.{} Change when it is shown.",
                             dial.name, about, hint(names, about)));
    }
    for (const Preset& preset : recipe.presets)
        for (const auto& [name, written] : preset.dials) {
            const Dial* dial = recipe.dial(name);
            if (!dial) {
                tell("lost-dial", fmt::format("The preset “{}” names a dial “{}” that is not there.{} Keep the preset "
                                              "again under its name to be rid of it.",
                                              preset.name, name, hint(names, name)));
                continue;
            }
            const auto there = turned(*dial, written);
            if (!there)
                tell("bad-preset", fmt::format("The preset “{}”: {} Keep the preset again under its name.", preset.name,
                                               there.problem().text()));
        }
    return findings;
}

}  // namespace bricol
