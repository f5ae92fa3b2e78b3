// SPDX-License-Identifier: GPL-3.0-or-later
// What can be wrong with a profile before it is turned.
#pragma once

#include "core/kernels/lathe.h"

namespace bricol {

struct ProfileFaults {
    struct Place {
        Vec3 at;
        std::int32_t knot;  ///< of the polyline, -1 when between knots
        double amount;      ///< metres
    };
    std::vector<Place>
        near_axis;  ///< off the axis by more than the weld distance, but by less than 1 % of the widest point
    std::vector<Place> across;     ///< on the far side of the axis
    std::vector<Place> crossings;  ///< where the profile crosses itself
    std::vector<Place> needless;   ///< knots on straight runs: rings of faces that change nothing
};

/// Looks at one profile as `options` would turn it. Crossings are looked for in profiles of up to 4 000 pieces.
/// O(points^2) for crossings, linear otherwise.
ProfileFaults check_profile(const Polyline& profile, const LatheOptions& options);

}  // namespace bricol
