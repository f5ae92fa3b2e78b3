// SPDX-License-Identifier: GPL-3.0-or-later
// Running one step on its inputs.
#pragma once

#include "core/catalogue/step_info.h"
#include "core/catalogue/step_run.h"

namespace bricol {

/// Runs a step and gives its shape: what it made, or its main input when it failed. Inputs it cannot take are told,
/// copies are written out for steps that cannot take copies, and whatever it throws becomes an error finding.
/// Afterwards `run.findings` holds all that was told. `failed`: an error made the input pass through.
ShapePtr run_step(const StepInfo& info, StepRun& run, bool& failed);

/// A shape with nothing in it, shared.
ShapePtr empty_shape();

}  // namespace bricol
