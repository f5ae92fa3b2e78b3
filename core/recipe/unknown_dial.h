// SPDX-License-Identifier: GPL-3.0-or-later
// The words for a dial that a recipe has not.
#pragma once

#include "core/ground/result.h"
#include "core/recipe/recipe.h"

namespace bricol {

/// Says that the recipe has no such dial, names the nearest and those there are.
Problem unknown_dial(const Recipe& recipe, const std::string& name);

}  // namespace bricol
