// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/make/inner_kits.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/make/digest.h"
#include "core/shape/words.h"

namespace bricol {

namespace {

constexpr std::size_t deepest_kits = 16;

}  // namespace

std::uint64_t content_of_kit(const Kit& kit, const MakeOptions& options,
                             std::map<std::uint64_t, std::uint64_t>& known) {
    const std::uint64_t key = kit.content ^ std::hash<std::string>{}(kit.folder);
    if (const auto found = known.find(key); found != known.end()) return found->second;
    known[key] = kit.content;
    Digest digest;
    digest.add(kit.content);
    if (known.size() < 1000)
        for (const auto& part : kit.recipe->parts)
            for (const auto& step : part->steps)
                if (const StepInfo* info = find_step_info(step->type))
                    for (const ParameterInfo& p : info->parameters) {
                        const auto written = step->settings.find(std::string(p.key));
                        if (written == step->settings.end()) continue;
                        if (p.kind == ParameterKind::kit)
                            if (const auto inner = options.find_kit(*written, kit.folder))
                                digest.add(content_of_kit(*inner, options, known));
                        if (p.kind == ParameterKind::file && options.read_file && written->is_string())
                            if (const auto text = options.read_file(written->get<std::string>(), kit.folder))
                                digest.add(std::string_view(**text));
                    }
    return known[key] = digest.hash();
}

Result<InnerMade> Maker::make_inner(const Json& written, const std::string& part, const Json& dials,
                                    const MakeOptions& options, const Within& within) {
    if (!options.find_kit) return Problem{"Recipes inside recipes cannot be looked up here.", "", ""};
    auto kit = options.find_kit(written, options.folder);
    if (!kit) return kit.problem();
    const bool again = !kit->name.empty() && std::ranges::find(within.chain, kit->name) != within.chain.end();
    if (again || within.depth > deepest_kits) {
        std::string chain;
        for (const std::string& name : within.chain) chain += name + " → ";
        return Problem{again ? fmt::format("A recipe cannot contain itself: {}{}.", chain, kit->name)
                             : "Recipes stand inside one another too deeply.",
                       "", "Take another recipe here."};
    }
    InnerMade out;
    const auto find = [&](Severity severity, const char* code, std::string text) {
        out.findings.push_back({severity, code, std::move(text), {}, {}});
    };
    Recipe recipe = *kit->recipe;
    if (dials.is_object())
        for (const auto& [name, value] : dials.items()) {
            const auto dial = std::ranges::find(recipe.dials, name, &Dial::name);
            if (dial == recipe.dials.end()) {
                std::vector<std::string_view> words;
                for (const Dial& d : recipe.dials) words.push_back(d.name);
                const std::string_view near = nearest_word(words, name);
                find(Severity::caution, "unknown-dial",
                     fmt::format("The recipe has no dial “{}”.{}", name,
                                 near.empty() ? "" : fmt::format(" Did you mean “{}”?", near)));
            } else if (value.is_number()) {
                const double wanted = value.get<double>();
                dial->value = std::clamp(dial->unit == "count" ? std::round(wanted) : wanted, dial->low, dial->high);
                if (wanted < dial->low || wanted > dial->high)
                    find(Severity::caution, "out-of-range-dial",
                         fmt::format("“{}” is {} and was held at {}: the recipe allows {} to {}.", name,
                                     format_number(wanted), format_number(dial->value), format_number(dial->low),
                                     format_number(dial->high)));
            }
        }
    MakeOptions inside = options;
    inside.folder = kit->folder;
    inside.progress = nullptr;
    Within around = within;
    if (!kit->name.empty()) around.chain.push_back(kit->name);
    ++around.depth;
    const Made made = make_within(recipe, inside, around);
    if (made.stopped) return Problem{"Stopped.", "", ""};
    std::size_t wanted = recipe.parts.size();
    for (std::size_t p = 0; p < recipe.parts.size(); ++p)
        if (part.empty() ? !recipe.parts[p]->hidden : recipe.parts[p]->name == part) wanted = p;
    if (wanted == recipe.parts.size()) {
        std::vector<std::string_view> words;
        for (const auto& p : recipe.parts) words.push_back(p->name);
        const std::string_view near = nearest_word(words, part);
        return Problem{
            part.empty() ? "The recipe has no part to show." : fmt::format("The recipe has no part “{}”.", part), "",
            near.empty() ? "" : fmt::format("Did you mean “{}”?", near)};
    }
    for (std::size_t p = 0; p < made.steps.size(); ++p)
        for (std::size_t s = 0; s < made.steps[p].size(); ++s)
            for (const Finding& finding : made.steps[p][s]->findings)
                if (finding.severity != Severity::note)
                    out.findings.push_back({finding.severity,
                                            finding.code,
                                            fmt::format("Inside, at {}.{}: {}", recipe.parts[p]->name,
                                                        recipe.parts[p]->steps[s]->id, finding.text),
                                            {},
                                            finding.places});
    const Step* result = result_step(*recipe.parts[wanted]);
    const StepOutcome* outcome = result ? made.step(recipe, recipe.parts[wanted]->name, result->id) : nullptr;
    out.shape = outcome ? outcome->shape : std::make_shared<const Shape>();
    return out;
}

}  // namespace bricol
