// SPDX-License-Identifier: GPL-3.0-or-later
// Carrying out what a finding offers.
#pragma once

#include "core/catalogue/finding.h"
#include "core/recipe/edit.h"

namespace bricol {

/// The recipe with a finding's remedy carried out. Refused when what it would change is gone.
Edited with_remedy(const Recipe& recipe, const std::string& part, const std::string& step, const Remedy& remedy);

}  // namespace bricol
