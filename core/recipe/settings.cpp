// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/recipe/settings.h"

namespace bricol {

namespace {

/// Every written setting with its description; null for settings the catalogue does not know.
void each_setting(Step& step, const auto& f) {
    const StepInfo* info = find_step_info(step.type);
    for (auto& [key, value] : step.settings.items()) f(info ? info->parameter(key) : nullptr, value);
}

void each_setting(const Step& step, const auto& f) {
    const StepInfo* info = find_step_info(step.type);
    for (const auto& [key, value] : step.settings.items()) f(info ? info->parameter(key) : nullptr, value);
}

}  // namespace

void each_formula(Step& step, const OnFormula& f) {
    each_setting(step, [&](const ParameterInfo* p, Json& value) {
        if (p)
            kind_info(*p).each_formula(value, f);
        else
            each_formula_in(value, f);
    });
}

void each_part_name(Step& step, const std::function<void(std::string&)>& f) {
    each_setting(step, [&](const ParameterInfo* p, Json& value) {
        if (p && p->kind == ParameterKind::part && value.is_string()) f(value.get_ref<std::string&>());
    });
}

const Json* written_of(const Step& step, ParameterKind kind) {
    const Json* found = nullptr;
    each_setting(step, [&](const ParameterInfo* p, const Json& value) {
        if (p && p->kind == kind && !found) found = &value;
    });
    return found;
}

void each_file_name(const Step& step, const std::function<void(const std::string&)>& f) {
    each_setting(step, [&](const ParameterInfo* p, const Json& value) {
        if (p && (p->kind == ParameterKind::kit || p->kind == ParameterKind::file) && value.is_string() &&
            !value.get_ref<const std::string&>().empty())
            f(value.get_ref<const std::string&>());
    });
}

std::string without_sign(const std::string& formula) {
    const std::size_t begin = formula.find_first_not_of(' ', formula.starts_with('=') ? 1 : 0);
    return begin == std::string::npos ? std::string() : formula.substr(begin);
}

}  // namespace bricol
