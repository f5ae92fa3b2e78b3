// SPDX-License-Identifier: GPL-3.0-or-later
// The move, turn and size that carry points nearest to others.
#pragma once

#include <span>

#include "core/ground/types.h"

namespace bricol {

struct RigidFit {
    glm::dmat4 place{1};
    double worst = 0;  ///< distance of the point that is carried worst (metres)
};
/// Without a change of size where one is not needed, to a millionth. Of equally many points, three or more of them not
/// in one line for a turn that is certain (S. Umeyama, "Least-squares estimation of transformation parameters between
/// two point patterns", 1991; Eigen behind). O(points).
RigidFit rigid_fit(std::span<const Vec3> from, std::span<const Vec3> to);

}  // namespace bricol
