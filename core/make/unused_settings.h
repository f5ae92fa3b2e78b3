// SPDX-License-Identifier: GPL-3.0-or-later
// What is written in a recipe and does nothing.
#pragma once

#include "core/catalogue/finding.h"
#include "core/catalogue/step_info.h"
#include "core/recipe/recipe.h"

namespace bricol {

/// Tells settings and inputs the step does not know, with the nearest name it does know, and settings that do nothing
/// beside the values the others have.
void look_for_unused(const StepInfo& info, const Step& step, const Values& values, std::vector<Finding>& findings);

/// The same for keys of the recipe, its parts and dials.
std::vector<Finding> unknown_keys(const Recipe& recipe);
/// Presets that name dials which are gone or cannot be turned so, and dials shown by one that is gone.
std::vector<Finding> dial_findings(const Recipe& recipe);

}  // namespace bricol
