// SPDX-License-Identifier: GPL-3.0-or-later
// Copies of shapes at points: which way they look, how large they are, which of several stands where.
#pragma once

#include <span>

#include "core/shape/shape.h"

namespace bricol {

/// Where one copy stands.
struct CopyPlace {
    DVec3 at{0};
    DVec3 facing{0, 0, 1};  ///< the way the copy's own axis looks, any length; zero leaves it as it is
    double turn = 0;        ///< degrees about that axis
    double size = 1;
    int variant = 0;  ///< number of the shape
};

/// The shortest turn that takes one direction to another, as a unit quaternion (w, x, y, z): (1 + a.b, a x b) made
/// unit; for opposite directions half a turn about a fixed square axis.
std::array<double, 4> shortest_turn(const DVec3& from, const DVec3& to);

/// Matrix of a copy whose own axis is x, y or z (0, 1, 2).
glm::mat4 copy_matrix(const CopyPlace& place, int axis);

/// Which copies stay when two balls round them may sink into one another by at most `overlap` (0..1) of the smaller
/// one's diameter; of two too near the earlier stays. `radii` are of the copies in place.
std::vector<std::uint8_t> kept_apart(std::span<const DVec3> centres, std::span<const double> radii, double overlap);

}  // namespace bricol
