// SPDX-License-Identifier: GPL-3.0-or-later
// Several profiles turned about one axis.
#pragma once

#include "core/kernels/profile_check.h"
#include "core/shape/sets.h"

namespace bricol {

struct LathedProfiles {
    Mesh mesh;                          ///< one profile after another
    Mask start, end;                    ///< faces that close a part turn
    std::vector<ProfileFaults> faults;  ///< of each profile
    std::size_t empty = 0;              ///< profiles without a length
};

/// Each as by `lathe` and `check_profile`.
LathedProfiles lathed_profiles(std::span<const Polyline> profiles, const LatheOptions& options);

}  // namespace bricol
