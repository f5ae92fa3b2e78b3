// SPDX-License-Identifier: GPL-3.0-or-later
// Bodies that run into one another, as findings.
#pragma once

#include "core/make/outcome.h"

namespace bricol {

/// Pieces and copies of a part that overlap, and closed pieces wholly inside another. Says in `not_looked_for` what was
/// too much to look through.
void tell_overlaps(PartOutcome& outcome);

/// Parts that run into one another, of those that are shown and that no other part is made from.
std::vector<Finding> parts_in_one_another(const Recipe& recipe, const Made& made);

}  // namespace bricol
