// SPDX-License-Identifier: GPL-3.0-or-later
// A wall of even thickness from a surface.
#pragma once

#include "core/shape/sets.h"
#include "core/shape/selection.h"

namespace bricol {

struct ThickenOptions {
    double thickness = 0.01;  ///< metres
    double outward = 0;       ///< share of it that lies outside the surface: 0 inward, 0.5 both, 1 outward
    bool rims = true;         ///< close the wall along open borders
};

struct ThickenResult {
    Mesh mesh;
    Mask outer, inner, rim;       ///< faces
    std::vector<Vec3> too_tight;  ///< where the surface bends tighter than the wall is thick: the far side folds over
};

/// The chosen faces become a wall, the others stay. Both sides keep face, corner and edge
/// attributes; the inner one faces the other way; rims take the face attributes of their neighbour. O(corners).
ThickenResult thickened(const Mesh& mesh, const ThickenOptions& options, const Selection& faces = {});

}  // namespace bricol
