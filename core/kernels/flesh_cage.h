// SPDX-License-Identifier: GPL-3.0-or-later
// The low cage of a body round sticks: a tube of four sides along every bone, and nothing but quads.
#pragma once

#include "core/kernels/flesh.h"
#include "core/kernels/stick_field.h"

namespace bricol {

struct FleshCage {
    std::vector<DVec3> points;
    std::vector<DVec3> axis;  ///< of every point: the place within the flesh that it stands out from
    std::vector<std::array<Index, 4>> quads;
    std::vector<Index> quad_bone;          ///< the bone a quad is the flesh of; no_index for a lone ball
    std::vector<Index> flat;               ///< quads that are flat ends
    std::vector<Index> flat_knot;          ///< and the knots they close
    std::vector<std::uint8_t> between;     ///< of every point: 1 for rings between knots
    std::vector<BoneField> fields;         ///< of every bone
    std::vector<std::vector<Index>> near;  ///< of every bone: it, and those whose flesh runs into its own
    std::vector<Index> quad_knot;          ///< the knot whose lone ball a quad is of, or no_index
    std::vector<Index> swallowed;
    std::vector<NarrowFork> narrow;
    Index too_many_at = no_index;
};

FleshCage flesh_cage(const Sticks& sticks, int rings);

}  // namespace bricol
