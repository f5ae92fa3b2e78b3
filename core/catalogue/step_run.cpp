// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/catalogue/step_run.h"

#include <algorithm>
#include <fmt/format.h>
#include <set>

#include "core/catalogue/settings.h"
#include "core/formula/elements.h"
#include "core/formula/formula.h"
#include "core/ground/words.h"
#include "core/kernels/numbers_on.h"
#include "core/kernels/stand_ins.h"

namespace bricol {

StepRun::StepRun(const StepInfo* step) : info(step) {}
StepRun::StepRun(StepRun&&) noexcept = default;
StepRun& StepRun::operator=(StepRun&&) noexcept = default;
StepRun::~StepRun() = default;

const Shape& StepRun::input(std::string_view key) const {
    static const Shape nothing;
    const auto found = inputs.find(key);
    return found == inputs.end() || !found->second ? nothing : *found->second;
}

ShapePtr StepRun::input_pointer(std::string_view key) const {
    const auto found = inputs.find(key);
    return found == inputs.end() ? nullptr : found->second;
}

void StepRun::give(Shape shape) { result = std::make_shared<const Shape>(std::move(shape)); }
void StepRun::give(Mesh mesh) {
    Shape shape;
    shape.mesh = std::move(mesh);
    give(std::move(shape));
}

Finding& StepRun::tell(Severity severity, std::string_view code, std::string text) {
    findings.push_back({severity, std::string(code), std::move(text), std::nullopt, {}});
    return findings.back();
}

bool StepRun::failed() const {
    return std::ranges::any_of(findings, [](const Finding& f) { return f.severity == Severity::error; });
}

bool StepRun::too_many(double elements, double bound, std::string_view what, std::string_view remedy) {
    bound *= raise_bounds;
    if (elements <= bound) return false;
    const auto amount = [](double n) {
        return n < 1e6 ? fmt::format("{:.0f}", n) : fmt::format("{:.3g} million", n / 1e6);
    };
    tell(Severity::error, "too-many",
         fmt::format("This would make {} {}; the bound is {}. {}", amount(elements), what, amount(bound), remedy));
    return true;
}

Mask StepRun::chosen(const Mesh& mesh, Domain domain, const std::string& name, std::optional<Domain> told_as) {
    const std::size_t count = mesh.domain_sizes()[static_cast<std::size_t>(domain)];
    if (name.empty()) return Mask(count, 1);
    if (auto members = set_members(mesh, domain, name)) {
        if (count_of(*members) == 0)
            tell(Severity::caution, "empty-set",
                 fmt::format("The set “{}” has no {} here, so this step changes nothing.", name,
                             plural_name(told_as.value_or(domain))));
        return *members;
    }
    // The mesh may be points that stand for knots or copies; a set of that name elsewhere on the shape is no riddle.
    for (const SetInfo& elsewhere : sets_on(shape()))
        if (elsewhere.name == name && (elsewhere.domain == Domain::knot || elsewhere.domain == Domain::instance)) {
            tell(Severity::error, "unknown-set",
                 fmt::format("“{}” is a set of {}, which this step does not work on here. Choose one of {}.", name,
                             plural_name(elsewhere.domain), plural_name(told_as.value_or(domain))));
            return Mask(count, 0);
        }
    const std::string near = nearest_set(mesh, name);
    Finding& finding =
        tell(Severity::error, "unknown-set",
             fmt::format("There is no set “{}” here.{}", name,
                         near.empty() ? sets_of(mesh).empty() ? " The shape has no sets; a Choose step makes one." : ""
                                      : fmt::format(" Did you mean “{}”?", near)));
    if (!near.empty()) finding.remedy = Remedy{fmt::format("Use “{}”", near), {{"", key_of(name), near}}, {}};
    return Mask(count, 0);
}

Selection StepRun::selected(const Mesh& mesh, Domain domain, const std::string& set, std::optional<Domain> told_as) {
    return set.empty() ? Selection() : Selection(chosen(mesh, domain, set, told_as));
}

Array<float> StepRun::weights(const Mesh& mesh, Domain domain, const std::string& name) {
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
    Finding& finding = tell(Severity::error, "unknown-attribute", std::move(text));
    if (!near.empty()) finding.remedy = Remedy{fmt::format("Use “{}”", near), {{"", key_of(name), near}}, {}};
    return Array<float>(count, 0.0f);
}

void StepRun::report(const std::vector<RowProblem>& problems, const std::vector<FormulaRow>& rows) {
    const std::string key = key_of(rows);
    // Rows behind one that failed miss what it would have made: only the first cause is worth saying.
    std::set<std::string, std::less<>> unmade;
    for (const RowProblem& problem : problems) {
        const bool note = problem.code == "hidden-dial";
        const bool follows = !problem.missing.empty() && unmade.contains(problem.missing);
        if (!note && problem.code != "not-finite" && problem.row < rows.size()) unmade.insert(rows[problem.row].target);
        if (follows) continue;
        Finding& finding = tell(note ? Severity::note : Severity::error,
                                problem.code == "not-finite" ? "bad-value" : problem.code, problem.text);
        finding.places = problem.places;
        if (key.empty() || problem.nearest.empty() || problem.row >= rows.size()) continue;
        finding.remedy = Remedy{fmt::format("Use “{}”", problem.nearest),
                                {{"", fmt::format("/{}/{}/formula", key, problem.row),
                                  with_name(rows[problem.row].text, problem.missing, problem.nearest)}},
                                {}};
    }
}

void StepRun::name_set(Mesh& mesh, Domain domain, const std::string& name, Mask mask) const {
    if (!name.empty()) keep_set(mesh, domain, name, std::move(mask));
}

void StepRun::bind(const void* settings, std::span<const FieldSlot> fields) {
    settings_ = settings;
    fields_ = fields;
}

std::string StepRun::key_at(const void* field) const {
    const auto offset = static_cast<std::size_t>(static_cast<const char*>(field) - static_cast<const char*>(settings_));
    for (std::size_t i = 0; settings_ && i < fields_.size(); ++i)
        if (fields_[i].offset == offset) return std::string(info->parameters[i].key);
    return {};
}

}  // namespace bricol
