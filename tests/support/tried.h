// SPDX-License-Identifier: GPL-3.0-or-later
// A recipe of one part “p”, made, with its findings at hand.
#pragma once

#include <catch2/catch.hpp>

#include "core/files/kits.h"
#include "core/files/read_shape.h"
#include "core/files/recipe_file.h"
#include "core/recipe/edit.h"
#include "core/recipe/remedy.h"
#include "tests/support/shapes.h"

namespace bricol::test {

struct Tried {
    Recipe recipe;
    Made made;

    const StepOutcome& step(const std::string& id) const {
        const StepOutcome* outcome = made.step(recipe, "p", id);
        REQUIRE(outcome);
        return *outcome;
    }
    const Mesh& mesh(const std::string& id) const { return step(id).shape->mesh; }
    const Finding* finding(const std::string& id, const std::string& code) const {
        for (const Finding& f : step(id).findings)
            if (f.code == code) return &f;
        return nullptr;
    }
    bool clean(const std::string& id) const {
        for (const Finding& f : step(id).findings)
            if (f.severity == Severity::error) {
                UNSCOPED_INFO(f.text);
                return false;
            }
        return true;
    }
    const PartOutcome& part() const { return *made.part(recipe, "p"); }
    bool part_says(const std::string& code) const {
        return std::ranges::any_of(part().findings, [&](const Finding& f) { return f.code == code; });
    }
};

inline Recipe recipe_of(const Json& steps, const Json& dials = Json::array()) {
    auto recipe = recipe_from_text(
        Json{{"bricol", 1}, {"dials", dials}, {"parts", Json::array({{{"name", "p"}, {"steps", steps}}})}}.dump());
    INFO((recipe ? "" : recipe.problem().text()));
    REQUIRE(recipe);
    return *recipe;
}

inline Tried tried(const Recipe& recipe, MakeOptions options = {}) {
    if (!options.environment.find_kit) options.environment.find_kit = kit_reader();
    if (!options.environment.read_file) options.environment.read_file = file_reader();
    if (!options.environment.read_shape) options.environment.read_shape = shape_reader();
    return {recipe, Maker().make(recipe, options)};
}
inline Tried tried(std::initializer_list<Json> steps) { return tried(recipe_of(Json(steps))); }

/// Carries out the button of a finding.
inline Tried mended(const Tried& before, const std::string& id, const std::string& code) {
    const Finding* finding = before.finding(id, code);
    REQUIRE(finding);
    REQUIRE(finding->remedy);
    auto recipe = with_remedy(before.recipe, "p", id, *finding->remedy);
    INFO((recipe ? "" : recipe.problem().text()));
    REQUIRE(recipe);
    return tried(*recipe);
}

/// A recipe of the demo kit.
inline const std::string demo_folder = std::string(SOURCE_FOLDER) + "/demo";
inline const std::string buoy_file = demo_folder + "/buoy.bricol";

inline Recipe demo_recipe(const std::string& name) {
    auto recipe = load_recipe(std::string(SOURCE_FOLDER) + "/demo/" + name + ".bricol");
    INFO((recipe ? "" : recipe.problem().text()));
    REQUIRE(recipe);
    return *recipe;
}

template <class T>
const Array<T>& column(const Mesh& mesh, Domain domain, std::string_view name) {
    const auto* values = mesh.attributes.values<T>(domain, name);
    REQUIRE(values);
    return *values;
}

}  // namespace bricol::test
