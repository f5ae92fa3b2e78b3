// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers held between a setting's bounds.
#pragma once

#include "core/catalogue/kind.h"

namespace bricol::kinds {

/// The value within the setting's bounds; outside it is told, with `place` at the end (" (x)"), and clamped.
double held_within(const ParameterInfo& p, double value, const std::string& place, Reading& reading);

}  // namespace bricol::kinds
