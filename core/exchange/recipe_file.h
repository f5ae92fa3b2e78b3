// SPDX-License-Identifier: GPL-3.0-or-later
// The `.bricol` file: recipe to JSON and back.
#pragma once

#include "core/exchange/files.h"
#include "core/recipe/recipe.h"

namespace bricol {

/// Version this program writes; older ones are migrated when read.
inline constexpr int recipe_version = 1;

/// A recipe from text. Damaged or hostile text gives one problem that names the place; never half a recipe.
/// Bounds: 64 levels of nesting, 20 000 steps, 1 000 parts, 1 000 dials.
Result<Recipe> recipe_from_text(std::string_view text, const std::string& file_name = {});
Result<Recipe> load_recipe(const std::string& path);

/// Text of a recipe: two spaces a level, short lists and objects on one line, keys in a fixed order.
std::string recipe_text(const Recipe& recipe);
std::optional<Problem> save_recipe(const Recipe& recipe, const std::string& path);

/// The same as JSON values: for a recipe kept inside another.
Json recipe_json(const Recipe& recipe);
Result<Recipe> recipe_from_json(const Json& json);

/// One step as JSON, for the clipboard.
Json step_json(const Step& step);
Result<Step> step_from_json(const Json& json, const std::string& place);

/// JSON the way recipes are written.
std::string pretty_json(const Json& json, std::size_t width = 130);

}  // namespace bricol
