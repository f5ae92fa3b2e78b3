// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/step.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <memory>
#include <stdexcept>

#include "core/formula/elements.h"
#include "core/formula/formula.h"
#include "core/kernels/numbers_on.h"
#include "core/shape/words.h"

namespace bricol {

std::string_view severity_name(Severity severity) {
    constexpr std::array<std::string_view, 3> names = {"note", "caution", "error"};
    return names[static_cast<std::size_t>(severity)];
}

std::string_view family_name(Family family) {
    constexpr std::array<std::string_view, 8> names = {
        "Make",   "Curves",        "Surfaces from curves", "Faces and edges",
        "Copies", "Bend and push", "Sets and attributes",  "Look and order"};
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

namespace {

ParameterInfo plain(std::string_view key, std::string_view label, std::string_view help) {
    ParameterInfo p;
    p.key = key;
    p.label = label;
    p.help = help;
    return p;
}

std::vector<std::unique_ptr<const StepInfo>>& registry() {
    static std::vector<std::unique_ptr<const StepInfo>> list;  // filled before main by each step's file
    return list;
}

}  // namespace

ParameterInfo length_of(std::string_view key, std::string_view label, double standard, double low, double soft_high,
                        std::string_view help) {
    ParameterInfo p = plain(key, label, help);
    p.quantity = Quantity::length;
    p.standard = standard;
    p.low = low;
    p.high = 1e5;
    p.soft_low = low;
    p.soft_high = soft_high;
    return p;
}

ParameterInfo offset_of(std::string_view key, std::string_view label, double standard, std::string_view help) {
    ParameterInfo p = length_of(key, label, standard, -1e5, 2, help);
    p.soft_low = -2;
    return p;
}

ParameterInfo angle_of(std::string_view key, std::string_view label, double standard, double low, double high,
                       std::string_view help) {
    ParameterInfo p = plain(key, label, help);
    p.quantity = Quantity::angle;
    p.standard = standard;
    p.low = p.soft_low = low;
    p.high = p.soft_high = high;
    return p;
}

ParameterInfo count_of(std::string_view key, std::string_view label, int standard, int low, int high, int soft_high,
                       std::string_view help) {
    ParameterInfo p = plain(key, label, help);
    p.quantity = Quantity::count;
    p.standard = standard;
    p.low = p.soft_low = low;
    p.high = high;
    p.soft_high = soft_high;
    return p;
}

ParameterInfo number_of(std::string_view key, std::string_view label, double standard, double low, double high,
                        std::string_view help) {
    ParameterInfo p = plain(key, label, help);
    p.standard = standard;
    p.low = p.soft_low = low;
    p.high = p.soft_high = high;
    return p;
}

ParameterInfo vector_of(std::string_view key, std::string_view label, Quantity quantity, DVec3 standard,
                        std::string_view help) {
    ParameterInfo p = plain(key, label, help);
    p.kind = ParameterKind::vector;
    p.quantity = quantity;
    p.standard_vector = standard;
    p.low = -1e5;
    p.high = 1e5;
    p.soft_low = quantity == Quantity::angle ? -180 : -2;
    p.soft_high = quantity == Quantity::angle ? 180 : 2;
    return p;
}

ParameterInfo choice_of(std::string_view key, std::string_view label, std::vector<Choice> choices,
                        std::string_view help) {
    ParameterInfo p = plain(key, label, help);
    p.kind = ParameterKind::choice;
    p.choices = std::move(choices);
    return p;
}

ParameterInfo toggle_of(std::string_view key, std::string_view label, bool standard, std::string_view help) {
    ParameterInfo p = plain(key, label, help);
    p.kind = ParameterKind::toggle;
    p.standard = standard;
    return p;
}

ParameterInfo axis_of(std::string_view key, std::string_view label, std::string_view standard, std::string_view help) {
    std::vector<Choice> axes = {{"x", "x"}, {"y", "y"}, {"z", "z, up"}};
    std::rotate(axes.begin(), std::ranges::find(axes, standard, &Choice::key), axes.end());
    return choice_of(key, label, std::move(axes), help);
}

ParameterInfo sampling_of(std::string_view key) {
    return count_of(
        key, "Pieces per bend", 8, 1, 512, 32,
        "How many straight pieces a bent span becomes when a later step needs points. Straight spans stay one.");
}

ParameterInfo when(ParameterInfo parameter, std::string_view condition) {
    parameter.when = condition;
    return parameter;
}

ParameterInfo only_of(std::string_view help) { return set_of("only", "Only", help); }

ParameterInfo set_of(std::string_view key, std::string_view label, std::string_view help) {
    ParameterInfo p = plain(key, label, help);
    p.kind = ParameterKind::set;
    return p;
}

ParameterInfo new_set_of(std::string_view key, std::string_view label, std::string_view standard,
                         std::string_view help) {
    ParameterInfo p = plain(key, label, help);
    p.kind = ParameterKind::text;
    p.standard_text = standard;
    return p;
}

ParameterInfo colour_of(std::string_view key, std::string_view label, DVec3 standard, std::string_view help) {
    ParameterInfo p = plain(key, label, help);
    p.kind = ParameterKind::colour;
    p.standard_vector = standard;
    p.low = 0, p.high = 1;
    return p;
}

ParameterInfo kind_of(ParameterKind kind, std::string_view key, std::string_view label, std::string_view help) {
    ParameterInfo p = plain(key, label, help);
    p.kind = kind;
    return p;
}

ParameterInfo attribute_of(std::string_view key, std::string_view label, std::string_view standard,
                           std::string_view help) {
    ParameterInfo p = kind_of(ParameterKind::attribute, key, label, help);
    p.standard_text = standard;
    return p;
}

ParameterInfo text_of(std::string_view key, std::string_view label, std::string_view standard, std::string_view help) {
    ParameterInfo p = kind_of(ParameterKind::text, key, label, help);
    p.standard_text = standard;
    return p;
}

ParameterInfo file_of(std::string_view key, std::string_view label, std::string_view endings, std::string_view help) {
    ParameterInfo p = kind_of(ParameterKind::file, key, label, help);
    p.elements = endings;
    return p;
}

ParameterInfo seed_of(std::string_view key) {
    return count_of(key, "Seed", 1, 0, 1000000000, 100,
                    "Another number shuffles what is random; the same number always gives the same.");
}

ParameterInfo pulled(ParameterInfo parameter, HandleKind kind, std::string_view axis, std::string_view origin) {
    parameter.handle = {kind, axis, origin};
    return parameter;
}

ParameterInfo places_of(std::string_view key, std::string_view label, std::string_view elements,
                        std::string_view help) {
    ParameterInfo p = plain(key, label, help);
    p.elements = elements;
    p.kind = ParameterKind::places;
    return p;
}

Registered::Registered(StepInfo info) {
    auto& list = registry();
    const auto before = [](const StepInfo& a, const StepInfo& b) {
        return a.family != b.family ? a.family < b.family : a.name < b.name;
    };
    auto made = std::make_unique<const StepInfo>(std::move(info));
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
    for (const StepInfo* info : all_steps())
        if (info->key == key) return info;
    return nullptr;
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

const Shape& StepRun::input(std::string_view key) const {
    static const Shape nothing;
    const auto found = inputs.find(key);
    return found == inputs.end() || !found->second ? nothing : *found->second;
}

ShapePtr StepRun::input_pointer(std::string_view key) const {
    const auto found = inputs.find(key);
    return found == inputs.end() ? nullptr : found->second;
}

int StepRun::integer(std::string_view key) const { return static_cast<int>(std::lround(number(key))); }

int StepRun::axis(std::string_view key) const { return choice(key) == "x" ? 0 : choice(key) == "y" ? 1 : 2; }

void StepRun::give(Mesh mesh) {
    Shape shape;
    shape.mesh = std::move(mesh);
    give(std::move(shape));
}

Finding& StepRun::find(Severity severity, std::string code, std::string text) {
    findings.push_back({severity, std::move(code), std::move(text), std::nullopt, {}});
    return findings.back();
}

bool StepRun::too_many(double elements, double bound, std::string_view what, std::string_view remedy) {
    bound *= raise_bounds;
    if (elements <= bound) return false;
    find(Severity::error, "too-many",
         fmt::format("This would make {:.3g} million {}; the bound is {:.3g} million. {}", elements / 1e6, what,
                     bound / 1e6, remedy));
    return true;
}

Mask StepRun::chosen(const Mesh& mesh, Domain domain, std::string_view key) {
    const std::string& name = choice(key);
    const std::size_t count = mesh.domain_sizes()[static_cast<std::size_t>(domain)];
    if (name.empty()) return Mask(count, 1);
    if (auto members = set_members(mesh, domain, name)) {
        if (count_of(*members) == 0)
            find(Severity::caution, "empty-set",
                 fmt::format("The set “{}” has no {} here, so this step changes nothing.", name,
                             domain == Domain::vertex ? "vertices"
                             : domain == Domain::edge ? "edges"
                                                      : "faces"));
        return *members;
    }
    const std::string near = nearest_set(mesh, name);
    Finding& finding =
        find(Severity::error, "unknown-set",
             fmt::format("There is no set “{}” here.{}", name,
                         near.empty() ? sets_of(mesh).empty() ? " The shape has no sets; a Choose step makes one." : ""
                                      : fmt::format(" Did you mean “{}”?", near)));
    if (!near.empty()) finding.remedy = Remedy{fmt::format("Use “{}”", near), {{"", std::string(key), near}}, {}};
    return Mask(count, 0);
}

Array<float> StepRun::weights(const Mesh& mesh, Domain domain, std::string_view key) {
    const std::string& name = choice(key);
    const std::size_t count = mesh.domain_sizes()[static_cast<std::size_t>(domain)];
    if (name.empty()) return Array<float>(count, 1.0f);
    if (auto values = numbers_on(mesh, domain, name)) return std::move(*values);
    std::vector<std::string_view> known;
    for (const Attribute& a : mesh.attributes.all()) known.push_back(a.name);
    const std::string near(nearest_word(known, name));
    std::string text = fmt::format("There is no attribute “{}” here.", name);
    if (!near.empty())
        text += fmt::format(" Did you mean “{}”?", near);
    else if (known.empty())
        text += " An Attribute, Formula or Choose step makes one.";
    Finding& finding = find(Severity::error, "unknown-attribute", std::move(text));
    if (!near.empty()) finding.remedy = Remedy{fmt::format("Use “{}”", near), {{"", std::string(key), near}}, {}};
    return Array<float>(count, 0.0f);
}

void StepRun::report(const std::vector<RowProblem>& problems, std::string_view key) {
    for (const RowProblem& problem : problems) {
        Finding& finding =
            find(Severity::error, problem.code == "not-finite" ? "bad-value" : problem.code, problem.text);
        finding.places = problem.places;
        const auto row = values.find(key);
        if (problem.nearest.empty() || row == values.end() ||
            !std::holds_alternative<std::vector<FormulaRow>>(row->second))
            continue;
        const auto& rows = std::get<std::vector<FormulaRow>>(row->second);
        if (problem.row >= rows.size()) continue;
        const std::size_t from = problem.text.find("“") + std::string_view("“").size();
        const std::string missing = problem.text.substr(from, problem.text.find("”", from) - from);
        finding.remedy = Remedy{fmt::format("Use “{}”", problem.nearest),
                                {{"", fmt::format("/{}/{}/formula", key, problem.row),
                                  with_name(rows[problem.row].text, missing, problem.nearest)}},
                                {}};
    }
}

void StepRun::name_set(Mesh& mesh, Domain domain, std::string_view key, Mask mask) const {
    if (const std::string& name = choice(key); !name.empty()) keep_set(mesh, domain, name, std::move(mask));
}

const Value& StepRun::value(std::string_view key) const {
    const auto found = values.find(key);
    if (found == values.end()) throw std::logic_error(fmt::format("step reads undeclared parameter “{}”", key));
    return found->second;
}

}  // namespace bricol
