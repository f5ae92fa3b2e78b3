// SPDX-License-Identifier: GPL-3.0-or-later
// The recipe as JSON and back: the text of a `.bricol` file, a recipe kept inside another, steps on the clipboard.
#pragma once

#include "core/recipe/recipe.h"

namespace bricol {

/// Version this program writes; older ones are migrated when read.
inline constexpr int recipe_version = 1;

/// A recipe from text. Damaged or hostile text gives one problem that names the place; never half a recipe.
/// Bounds: 64 levels of nesting, 20 000 steps, 1 000 parts, 1 000 dials.
Result<Recipe> recipe_from_text(std::string_view text, const std::string& file_name = {});
Result<Recipe> recipe_from_json(const Json& json);
Result<Step> step_from_json(const Json& json, const std::string& place);

/// Text of a recipe: two spaces a level, short lists and objects on one line, keys in a fixed order.
std::string recipe_text(const Recipe& recipe);
/// Why a recipe's text would not be opened again (nested too deeply, too many steps); nothing when it would.
std::optional<Problem> would_not_open(const std::string& text);
Json recipe_json(const Recipe& recipe);
Json step_json(const Step& step);

/// JSON the way recipes are written.
std::string pretty_json(const Json& json, std::size_t width = 130);

}  // namespace bricol
