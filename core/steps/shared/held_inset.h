// SPDX-License-Identifier: GPL-3.0-or-later
// What is told when an inset does not fit everywhere.
#pragma once

#include <fmt/format.h>

#include "core/catalogue/step_run.h"
#include "core/formula/units.h"
#include "core/ground/words.h"
#include "core/kernels/extrude.h"

namespace bricol {

/// Tells the width that was made and where it was held, with an answer that asks for no more than fits. `key` is that
/// of the width.
void tell_held_inset(StepRun& run, const ExtrudeResult& result, double width, bool together, const std::string& key);

}  // namespace bricol
