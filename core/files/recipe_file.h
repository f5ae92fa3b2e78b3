// SPDX-License-Identifier: GPL-3.0-or-later
// The `.bricol` file.
#pragma once

#include <optional>

#include "core/recipe/recipe_json.h"

namespace bricol {

/// A recipe from a file; problems name the file and the place in it.
Result<Recipe> load_recipe(const std::string& path);

/// Saves atomically: either the old file stays or the new one is complete.
std::optional<Problem> save_recipe(const Recipe& recipe, const std::string& path);

}  // namespace bricol
