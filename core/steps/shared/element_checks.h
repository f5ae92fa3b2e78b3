// SPDX-License-Identifier: GPL-3.0-or-later
// Whether formulas and mixers find what they run over.
#pragma once

#include <algorithm>
#include <fmt/format.h>

#include "core/catalogue/step_run.h"
#include "core/catalogue/value.h"
#include "core/kernels/stand_ins.h"

namespace bricol {

/// True when the shape has elements of that kind. Otherwise an error says what there is instead and what to do: rows
/// over nothing would leave the shape as it was without a word.
bool has_elements(StepRun& run, Domain domain);

/// The members of the set that a setting names; all when it is empty. Copies and knots have their sets among their
/// values.
Selection only_these(StepRun& run, const Shape& shape, Domain domain, const std::string& only);

/// Tells rows that would put numbers on copies which nothing behind them reads.
void look_for_deaf_targets(StepRun& run, Domain domain, const std::vector<FormulaRow>& rows);

}  // namespace bricol
