// SPDX-License-Identifier: GPL-3.0-or-later
// Blurs a mask, for the shadow on the ground.
#pragma once

#include <vector>

namespace bricol {

/// Blurs a square of `pixels` across nearly as a Gaussian does: three box blurs, each over `radius` pixels to both
/// sides. Nothing is done for a radius of 0 or less.
void soften(std::vector<float>& mask, int pixels, int radius);

}  // namespace bricol
