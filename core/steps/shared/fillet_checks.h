// SPDX-License-Identifier: GPL-3.0-or-later
// What is said of fillets that did not fit.
#pragma once

#include <fmt/format.h>

#include "core/kernels/flatten.h"
#include "core/catalogue/settings.h"

namespace bricol {

void tell_held_fillets(StepRun& run, const std::vector<Curve>& curves);

}  // namespace bricol
