// SPDX-License-Identifier: GPL-3.0-or-later
// Everything a making has told, in one walk.
#pragma once

#include <functional>

#include "core/make/outcome.h"

namespace bricol {

/// All findings of one step, part, or the recipe as a whole; `step` is empty for a part, `part` too for the recipe.
using SeeFindings =
    std::function<void(const std::string& part, const std::string& step, const std::vector<Finding>& findings)>;
/// Calls `see` part by part, steps before their part, the recipe last.
void each_told(const Recipe& recipe, const Made& made, const SeeFindings& see);

}  // namespace bricol
