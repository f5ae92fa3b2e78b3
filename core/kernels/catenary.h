// SPDX-License-Identifier: GPL-3.0-or-later
// How a rope hangs between two points.
#pragma once

#include <optional>

#include "core/shape/curve.h"

namespace bricol {

/// A rope of even weight between two points, in the upright plane through both: y = a cosh(u / a), u along the ground
/// from its lowest point (E. Lockwood, A Book of Curves, 1961, chapter 13).
struct Catenary {
    DVec3 from{0}, to{0};
    double length = 0;  ///< metres
    double across = 0;  ///< metres from end to end along the ground
    double a = 0;       ///< metres; the pull along the ground in lengths of rope; 0 where it hangs straight down
    double first = 0;   ///< u of `from`

    /// Height of its lowest point, the ends included (metres).
    double lowest() const;
    /// Pull at an end, in lengths of rope: times its weight a metre it is newtons.
    double pull_from() const;
    double pull_to() const;
};

/// Nothing when the rope is shorter than the points are apart (by more than a billionth). Newton's rule on
/// sinh x = s x, from the series for a taut rope or the logarithm for a slack one.
std::optional<Catenary> hung(const DVec3& from, const DVec3& to, double length);

/// Knots at equal lengths along the rope, `pieces` + 1 of them, whose handles follow its slope; where it hangs straight
/// down, its ends and its lowest point.
std::vector<Knot> knots_along(const Catenary& rope, int pieces);

}  // namespace bricol
