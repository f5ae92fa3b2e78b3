// SPDX-License-Identifier: GPL-3.0-or-later
// Vertices pulled by hand, and what lies near them taken along.
#pragma once

#include <span>

#include "core/ground/types.h"

namespace bricol {

/// A vertex and how far it is moved (metres).
struct Pull {
    Index vertex;
    DVec3 move;
};

struct NudgeOptions {
    DVec3 turn{0};  ///< degrees about the axes, after the moves
    DVec3 size{1};
    DVec3 about{0};   ///< the place turns and sizes leave where it is (metres)
    double soft = 0;  ///< how far the neighbourhood follows; 0 for not at all (metres)
};

/// How much of a pull something takes along that lies `distance` from it: 1 there, 0 at the soft radius, without a kink
/// at either (smoothstep).
double soft_share(double distance, double radius);

/// The points after it. What lies near takes the nearest pull's move, and of turn and size the same share, so that a
/// stretch bends instead of shearing. `pulls` name a vertex once. O(points x pulls).
Array<Vec3> nudged(const Array<Vec3>& points, std::span<const Pull> pulls, const NudgeOptions& options);

}  // namespace bricol
