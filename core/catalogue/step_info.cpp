// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/catalogue/step_info.h"

#include <algorithm>
#include <array>
#include <memory>
#include <unordered_map>

#include "core/ground/words.h"

namespace bricol {

std::string_view family_name(Family family) {
    constexpr std::array<std::string_view, 9> names = {"Make",
                                                       "Curves",
                                                       "Surfaces from curves",
                                                       "Faces and edges",
                                                       "Copies",
                                                       "Bend and push",
                                                       "Sets and attributes",
                                                       "Look and order",
                                                       "Light and pictures"};
    return names[static_cast<std::size_t>(family)];
}

const ParameterInfo* StepInfo::parameter(std::string_view wanted) const {
    for (const ParameterInfo& p : parameters)
        if (p.key == wanted) return &p;
    return nullptr;
}

const InputInfo* StepInfo::input(std::string_view wanted) const {
    for (const InputInfo& i : inputs)
        if (i.key == wanted) return &i;
    return nullptr;
}

const ParameterInfo* StepInfo::parameter_of(ParameterKind kind) const {
    for (const ParameterInfo& p : parameters)
        if (p.kind == kind) return &p;
    return nullptr;
}

namespace {

std::vector<std::unique_ptr<const StepInfo>>& registry() {
    static std::vector<std::unique_ptr<const StepInfo>> list;  // filled before main by each step's file
    return list;
}

}  // namespace

StepInfo::~StepInfo() = default;

Registered::Registered(const StepInfo& info) {
    auto& list = registry();
    const auto before = [](const StepInfo& a, const StepInfo& b) {
        return a.family != b.family ? a.family < b.family : a.name < b.name;
    };
    auto made = std::make_unique<const StepInfo>(info);
    const auto place = std::ranges::find_if(list, [&](const auto& other) { return before(*made, *other); });
    list.insert(place, std::move(made));
}

std::span<const StepInfo* const> all_steps() {
    static const std::vector<const StepInfo*> list = [] {
        std::vector<const StepInfo*> pointers;
        for (const auto& info : registry()) pointers.push_back(info.get());
        return pointers;
    }();
    return list;
}

const StepInfo* find_step_info(std::string_view key) {
    static const std::unordered_map<std::string_view, const StepInfo*> by_key = [] {
        std::unordered_map<std::string_view, const StepInfo*> map;
        for (const StepInfo* info : all_steps()) map.emplace(info->key, info);
        return map;
    }();
    const auto found = by_key.find(key);
    return found == by_key.end() ? nullptr : found->second;
}

std::string_view nearest_step(std::string_view key) {
    std::vector<std::string_view> keys;
    for (const StepInfo* info : all_steps()) keys.push_back(info->key);
    return nearest_word(keys, key);
}

bool asked_for(const StepInfo& info, const ParameterInfo& parameter, const Values& values) {
    if (parameter.when.empty()) return true;
    const std::size_t mark = parameter.when.find_first_of("=>");
    const std::string_view key = parameter.when.substr(0, mark);
    if (const ParameterInfo* ruler = info.parameter(key); ruler && !asked_for(info, *ruler, values)) return false;
    const auto found = values.find(key);
    if (found == values.end()) return true;
    if (mark == std::string_view::npos)
        return std::holds_alternative<bool>(found->second) && std::get<bool>(found->second);
    if (parameter.when[mark] == '>') return std::get<double>(found->second) > 0;
    for (std::string_view wanted = parameter.when.substr(mark + 1); !wanted.empty();) {
        const std::size_t end = std::min(wanted.find('|'), wanted.size());
        if (wanted.substr(0, end) == std::get<std::string>(found->second)) return true;
        wanted.remove_prefix(std::min(end + 1, wanted.size()));
    }
    return false;
}

}  // namespace bricol
