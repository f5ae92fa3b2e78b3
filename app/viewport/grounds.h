// SPDX-License-Identifier: GPL-3.0-or-later
// Sheets that shapes stand on: a sea, a floor. They are seen, but nobody looks for them.
#pragma once

#include <cstdint>
#include <span>
#include <vector>

#include "core/ground/box.h"

namespace bricol {

/// 1 for each box of a ground: level, no higher than a hundredth of its width, and more than eight times as wide as
/// all that is left besides it is in any direction.
std::vector<std::uint8_t> grounds_among(std::span<const Box> boxes);

}  // namespace bricol
