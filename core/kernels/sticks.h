// SPDX-License-Identifier: GPL-3.0-or-later
// Stick figures: knots with a girth each, joined by bones, as a tree that is walked from its roots.
#pragma once

#include <array>
#include <vector>

#include "core/shape/shape.h"
#include "core/shape/skeleton.h"

namespace bricol {

struct StickKnot {
    DVec3 at{0};
    DVec2 girth{0.05};     ///< radius level across the bone, and over it (metres)
    double roll = 0;       ///< radians about the bone
    std::int32_t id = -1;  ///< the knot's own number, kept while others come and go; -1 for none
    bool cut = false;      ///< an end here is flat
    bool joint = true;     ///< what hangs on it can be turned
};

/// A bone, from the knot nearer the root to the one further out.
struct StickBone {
    Index from = 0, to = 0;
    double length = 0;
    DVec3 along{0};       ///< unit length
    DVec3 across{0};      ///< unit length; handed on from bone to bone without turning
    double tilt = 0;      ///< radians about the bone from `across` to where the first girth lies: level, or along x
    bool closes = false;  ///< leads back to a knot that was reached already
};

struct Sticks {
    std::vector<StickKnot> knots;
    std::vector<StickBone> bones;              ///< those of a tree outward from its root, then those that close loops
    std::vector<std::vector<Index>> bones_at;  ///< of every knot
    std::vector<Index> parent;                 ///< the bone that leads to a knot; no_index for roots
    std::vector<Index> roots;                  ///< one for each figure
    // What was mended on the way.
    std::vector<Index> thin;         ///< knots whose girth was 0 or no number
    std::size_t doubled = 0;         ///< bones that stood twice
    std::size_t without_length = 0;  ///< bones that ended where they began: their two knots became one
    std::size_t not_finite = 0;      ///< knots without a place: they are left out
};

/// The sticks in a shape: its loose edges, and its curves as straight pieces (their knots' radius is a factor on
/// `girth`). Knots without a girth get `girth` (metres). A root is the first knot of the set "root" in its figure, or
/// the knot that is nearest the middle of the figure's bones when none is marked. O(knots log knots).
Sticks sticks_of(const Shape& shape, double girth);

/// Sticks as a shape: vertices with girth, roll and id, bones as loose edges; roots, flat ends and knots without a
/// joint as sets where there are any.
Mesh mesh_of_sticks(const std::vector<StickKnot>& knots, const std::vector<std::array<Index, 2>>& bones,
                    const std::vector<Index>& roots);

}  // namespace bricol
