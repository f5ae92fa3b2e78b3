// SPDX-License-Identifier: GPL-3.0-or-later
// What is called otherwise after an edit, so that a choice stays with it: undo knows recipes, not what was done to
// them.
#pragma once

#include <string>

#include "core/recipe/recipe.h"

namespace bricol {

/// What a part is called now: its own name while there is such a part; that of the part in its place where there are as
/// many and it is the only one called otherwise; else empty.
std::string part_now(const Recipe& before, const Recipe& now, const std::string& part);

/// The same for a step of a part that is called `part` in both; a step in its place is it when it is of the same kind.
std::string step_now(const Part& before, const Part& now, const std::string& step);

}  // namespace bricol
