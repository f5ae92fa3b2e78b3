// SPDX-License-Identifier: GPL-3.0-or-later
// Walking a step's settings by what the catalogue says of them. Whatever changes or looks through settings (renaming,
// packing, taking dials away, copying) comes through here.
#pragma once

#include "core/catalogue/kind.h"
#include "core/catalogue/step_info.h"
#include "core/recipe/recipe.h"

namespace bricol {

/// Every formula of a step's settings, attribute formulas included, those inside a packed recipe left out: they belong
/// to that recipe. Settings the catalogue does not know are walked as plain JSON.
void each_formula(Step& step, const OnFormula& f);

/// Every setting of a step that names a part of the recipe.
void each_part_name(Step& step, const std::function<void(std::string& part)>& f);

/// What stands at a setting of a kind, with the setting's key: the first setting of that kind that is written.
const Json* written_of(const Step& step, ParameterKind kind);

/// Every file that a step names: kits by their file's name, and other files.
void each_file_name(const Step& step, const std::function<void(const std::string& name)>& f);

/// The formula without its sign and the space behind it.
std::string without_sign(const std::string& formula);

}  // namespace bricol
