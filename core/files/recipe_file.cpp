// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/recipe_file.h"

#include "core/files/files.h"

namespace bricol {

Result<Recipe> load_recipe(const std::string& path) {
    const auto text = read_file(path);
    if (!text) return text.problem();
    return recipe_from_text(*text, path);
}

std::optional<Problem> save_recipe(const Recipe& recipe, const std::string& path) {
    const std::string text = recipe_text(recipe);
    if (const auto problem = would_not_open(text)) return problem;
    return write_file(path, text);
}

}  // namespace bricol
