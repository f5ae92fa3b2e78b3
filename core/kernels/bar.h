// SPDX-License-Identifier: GPL-3.0-or-later
// A bar of one section along a line.
#pragma once

#include "core/kernels/flatten.h"

namespace bricol {

struct BarOptions {
    bool round = true;
    double width = 0.02, height = 0.02;  ///< metres; the diameter is `width` when round
    int sides = 8;                       ///< of a round section
    bool caps = true;
    DVec3 up{0, 0, 1};  ///< the height of a rectangular section leans this way where it can
};

struct BarResult {
    Mesh mesh;
    std::vector<Vec3> too_tight;  ///< where the line turns tighter than the bar is wide
};

/// Sections stand in the mitre plane of every corner, so that the bar keeps its width; frames follow the line without
/// needless turning (W. Wang et al., "Computation of rotation minimizing frames", 2008, double reflection), and a
/// closed line's leftover turn is spread over its length. Empty for lines without length.
BarResult bar_along(const Polyline& line, const BarOptions& options);

}  // namespace bricol
