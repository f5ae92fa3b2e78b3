// SPDX-License-Identifier: GPL-3.0-or-later
// A blurred outline, for the shadow on the ground.
#pragma once

#include <cstdint>
#include <vector>

namespace bricol {

/// Where the alpha of a square picture of `pixels` across (RGBA, bytes) is not 0, blurred; one byte a pixel.
std::vector<std::uint8_t> soft_mask(const std::vector<std::uint8_t>& rgba, int pixels);

}  // namespace bricol
