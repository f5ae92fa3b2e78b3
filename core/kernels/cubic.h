// SPDX-License-Identifier: GPL-3.0-or-later
// One cubic Bézier span.
#pragma once

#include <array>

#include "core/ground/types.h"

namespace bricol {

/// Control points of a cubic Bézier span (metres).
using Cubic = std::array<DVec3, 4>;

/// The place at a parameter, 0..1 (Bernstein's form).
inline DVec3 cubic_at(const Cubic& c, double t) {
    const double s = 1 - t;
    return s * s * s * c[0] + 3 * s * s * t * c[1] + 3 * s * t * t * c[2] + t * t * t * c[3];
}

/// A third of the slope at a parameter: the way the span runs there, not of unit length.
inline DVec3 cubic_way(const Cubic& c, double t) {
    const double s = 1 - t;
    return s * s * (c[1] - c[0]) + 2 * s * t * (c[2] - c[1]) + t * t * (c[3] - c[2]);
}

}  // namespace bricol
