// SPDX-License-Identifier: GPL-3.0-or-later
// Recipes inside recipes.
#pragma once

#include <vector>

#include "core/catalogue/digest.h"
#include "core/catalogue/finding.h"
#include "core/catalogue/value.h"
#include "core/make/environment.h"
#include "core/recipe/recipe.h"

namespace bricol {

/// Adds everything a kit's result may depend on to a digest: its text, its own kits and the files its steps read; or
/// why it cannot be found. Each kit is looked into once, however often it stands in others. Gives how many recipes are
/// made for it, itself and those inside it each time they are used; 0 when there is none.
double add_kit(const KitWritten& written, const Environment& environment, Digest& digest);

/// In a recipe without lights: whose lights, of the recipes inside it, do not shine.
std::vector<Finding> dark_kits(const Recipe& recipe, const Environment& environment);

/// How many of them one step may ask for.
inline constexpr double most_inner_recipes = 2000;

}  // namespace bricol
