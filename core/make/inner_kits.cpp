// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/make/inner_kits.h"

#include <algorithm>
#include <cmath>
#include <set>
#include <fmt/format.h>

#include "core/ground/stop.h"
#include "core/ground/words.h"
#include "core/make/making.h"
#include "core/make/run_step.h"
#include "core/make/stage.h"
#include "core/recipe/edit.h"
#include "core/recipe/settings.h"

namespace bricol {

namespace {

constexpr std::size_t deepest_kits = 16;
constexpr std::size_t most_kits = 1000;

/// What lies inside a kit, kits in it included.
struct KitInside {
    std::uint64_t content = 0;  ///< hash
    double recipes = 1;         ///< how many are made for one use of it, itself counted
};

/// Kits looked into, by content and folder; those in hand are in it too, which stops recipes that contain themselves.
using KnownKits = std::map<std::uint64_t, KitInside>;

KitInside inside_of_kit(const Kit& kit, const Environment& environment, KnownKits& known) {
    const std::uint64_t key = kit.content ^ std::hash<std::string>{}(kit.folder);
    if (const auto found = known.find(key); found != known.end()) return found->second;
    known[key].content = kit.content;
    KitInside out;
    Digest digest;
    digest.add(kit.content);
    std::set<std::string> made;  // the same kit with the same numbers and no shape to start from is made once
    if (known.size() < most_kits)
        for (const auto& part : kit.recipe->parts)
            for (const auto& step : part->steps) {
                if (const Json* written = written_of(*step, ParameterKind::kit))
                    if (const auto inner = environment.find_kit(*written, kit.folder)) {
                        const KitInside one = inside_of_kit(*inner, environment, known);
                        digest.add(one.content);
                        const auto source = step->inputs.find("shape");
                        const bool alone =
                            step->inputs.size() == 1 && source != step->inputs.end() && source->second.empty();
                        if (made.insert(alone ? json_text(step->settings) : "\n" + part->name + "\n" + step->id).second)
                            out.recipes += one.recipes;
                    }
                const Json* file = written_of(*step, ParameterKind::file);
                if (file && file->is_string() && environment.read_file)
                    if (const auto text = environment.read_file(file->get<std::string>(), kit.folder))
                        digest.add(std::string_view(**text));
                if (file && file->is_string() && environment.read_beside)
                    digest.add(std::string_view(environment.read_beside(file->get<std::string>(), kit.folder)));
            }
    out.content = digest.hash();
    return known[key] = out;
}

std::string file_name(const std::string& path) { return path.substr(path.find_last_of('/') + 1); }

std::string did_you_mean(std::string_view near) { return near.empty() ? "" : fmt::format("Did you mean “{}”?", near); }

constexpr auto as_written = []<class T>(const T& value) {
    if constexpr (std::is_same_v<T, DVec3>)
        return Json::array({value.x, value.y, value.z});
    else
        return Json(value);
};

/// Turns the dials of a recipe, from one of its presets if one is named; what cannot be turned so is told.
std::vector<Finding> turn_to(Recipe& recipe, const std::string& preset, const DialValues& dials) {
    std::vector<Finding> findings;
    const auto tell = [&](const char* code, std::string text) {
        findings.push_back({Severity::caution, code, std::move(text), {}, {}});
    };
    if (!preset.empty()) {
        if (auto there = apply_preset(recipe, preset))
            recipe = std::move(*there);
        else
            tell("unknown-preset", there.problem().text());
    }
    for (const auto& [name, value] : dials) {
        const auto dial = std::ranges::find(recipe.dials, name, &Dial::name);
        if (dial == recipe.dials.end()) {
            std::vector<std::string_view> words;
            for (const Dial& d : recipe.dials) words.push_back(d.name);
            const std::string hint = did_you_mean(nearest_word(words, name));
            tell("unknown-dial", fmt::format("The recipe has no dial “{}”.{}{}", name, hint.empty() ? "" : " ", hint));
            continue;
        }
        const Json written = std::visit(as_written, value);
        const auto changed = turned(*dial, written, Outside::held);
        if (!changed) {
            tell("bad-dial", changed.problem().text());
            continue;
        }
        *dial = *changed;
        const double* wanted = std::get_if<double>(&value);
        if (wanted && dial->kind == DialKind::number && (*wanted < dial->low || *wanted > dial->high))
            tell("out-of-range-dial",
                 fmt::format("“{}” is {} and was held at {}: the recipe allows {} to {}.", name, format_number(*wanted),
                             format_number(dial->value), format_number(dial->low), format_number(dial->high)));
    }
    return findings;
}

/// How a recipe step asks for all shown parts together.
constexpr std::string_view all_parts = "*";

/// Several parts as one shape, in their order.
ShapePtr joined(const std::vector<ShapePtr>& shapes) {
    Shape whole = *shapes.front();
    for (std::size_t i = 1; i < shapes.size(); ++i) {
        const Shape& other = *shapes[i];
        whole.mesh = appended(whole.mesh, other.mesh);
        whole.curves.insert(whole.curves.end(), other.curves.begin(), other.curves.end());
        whole.instances.insert(whole.instances.end(), other.instances.begin(), other.instances.end());
    }
    return std::make_shared<const Shape>(std::move(whole));
}

/// A part of cameras and lights alone makes no shape.
bool makes_shape(const Part& part) {
    return std::ranges::any_of(part.steps, [](const auto& step) { return !stands_aside(*step); });
}

/// The parts that are wanted of a recipe: the one of that name, all shown ones for “*”, or the last shown one.
Result<std::vector<std::string>> wanted_parts(const Recipe& recipe, const std::string& name) {
    std::vector<std::string> wanted, words;
    for (const auto& part : recipe.parts) {
        words.push_back(part->name);
        const bool shown = part->delivered() && makes_shape(*part);
        if (name.empty() ? !shown : name == all_parts ? !shown : part->name != name) continue;
        if (name != all_parts) wanted.clear();
        wanted.push_back(part->name);
    }
    if (!wanted.empty()) return wanted;
    if (name.empty() || name == all_parts) return Problem{"The recipe has no part to show.", "", ""};
    const std::vector<std::string_view> known(words.begin(), words.end());
    return Problem{fmt::format("The recipe has no part “{}”.", name), "", did_you_mean(nearest_word(known, name))};
}

}  // namespace

double add_kit(const KitWritten& written, const Environment& environment, Digest& digest) {
    KnownKits known;
    const auto kit = environment.find_kit(written.text ? *written.text : Json(""), environment.folder);
    if (!kit) {
        digest.add(std::string_view(kit.problem().text()));
        return 0;
    }
    const KitInside inside = inside_of_kit(*kit, environment, known);
    digest.add(inside.content);
    return inside.recipes;
}

std::vector<Finding> dark_kits(const Recipe& recipe, const Environment& environment) {
    if (!environment.find_kit || has_lights(recipe)) return {};
    std::vector<std::string> names;
    for (const auto& part : recipe.parts)
        for (const auto& step : part->steps) {
            const Json* written = part->hidden ? nullptr : written_of(*step, ParameterKind::kit);
            if (!written) continue;
            const auto kit = environment.find_kit(*written, environment.folder);
            if (kit && has_lights(*kit->recipe)) names.push_back(fmt::format("“{}.{}”", part->name, step->id));
        }
    if (names.empty()) return {};
    return {{Severity::note,
             "kit-lights",
             fmt::format("The lights inside {} do not shine here: a picture takes those of the recipe it is taken of, "
                         "and this one has none, so it has the standard lights. Add lamps or a sun here for others.",
                         fmt::join(names, ", ")),
             {},
             {}}};
}

Result<InnerMade> Making::make_inner(const InnerWanted& inner, const Within& within) {
    const Environment& outside = options_.environment;
    if (!outside.find_kit) return Problem{"Recipes inside recipes cannot be looked up here.", "", ""};
    auto kit = outside.find_kit(inner.kit.text ? *inner.kit.text : Json(""), outside.folder);
    if (!kit) return kit.problem();
    const bool again = !kit->name.empty() && std::ranges::find(within.chain, kit->name) != within.chain.end();
    if (again || within.depth > deepest_kits) {
        std::string chain;
        for (const std::string& name : within.chain) chain += file_name(name) + " → ";
        return Problem{again ? fmt::format("A recipe cannot contain itself: {}{}.", chain, file_name(kit->name))
                             : "Recipes stand inside one another too deeply.",
                       "", "Take another recipe here."};
    }
    Recipe recipe = *kit->recipe;
    DialValues dials = inner.dials;
    for (const auto& [name, value] : inner.names)
        if (recipe.dial(name)) dials.try_emplace(name, value);
    InnerMade out{nullptr, turn_to(recipe, inner.preset, dials)};
    MakeOptions inside = options_;
    inside.environment.surroundings.names = inner.names;
    inside.environment.folder = kit->folder;
    inside.progress = nullptr;
    inside.draft = nullptr;  // its parts stand nowhere in this recipe
    Within around = within;
    if (!kit->name.empty()) around.chain.push_back(kit->name);
    ++around.depth;
    if (inner.given) {
        around.given["shape"] = inner.given;
        Digest given;
        given.add(within.given_hash), given.add(inner.given_hash);
        around.given_hash = given.hash();
    }
    const Made made = Making(memory_, recipe, inside, around).run();
    if (made.stopped) throw Stopped{};  // not an error to be told and remembered
    const auto wanted = wanted_parts(recipe, inner.part);
    if (!wanted) return wanted.problem();
    // An error matters where the wanted part comes from; elsewhere it is only worth knowing.
    const std::vector<std::vector<bool>> needed = steps_behind(recipe, *wanted);
    for (std::size_t p = 0; p < made.steps.size(); ++p)
        for (std::size_t s = 0; s < made.steps[p].size(); ++s)
            for (const Finding& finding : made.steps[p][s]->findings)
                if (finding.severity != Severity::note)
                    out.findings.push_back({needed[p][s] ? finding.severity : Severity::caution,
                                            finding.code,
                                            fmt::format("Inside, at {}.{}: {}", recipe.parts[p]->name,
                                                        recipe.parts[p]->steps[s]->id, finding.text),
                                            {},
                                            finding.places});
    std::vector<ShapePtr> shapes;
    Digest digest;
    for (const std::string& name : *wanted) {
        const Step* result = result_step(*recipe.part(name));
        const StepOutcome* outcome = result ? made.step(recipe, name, result->id) : nullptr;
        if (!outcome) continue;
        shapes.push_back(outcome->shape);
        digest.add(outcome->hash);
    }
    out.hash = digest.hash();
    out.shape = shapes.empty() ? empty_shape() : shapes.size() == 1 ? shapes.front() : joined(shapes);
    return out;
}

}  // namespace bricol
