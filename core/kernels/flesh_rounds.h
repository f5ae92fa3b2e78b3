// SPDX-License-Identifier: GPL-3.0-or-later
// The cage of a body made finer: quads in four, and their new points out on the flesh.
#pragma once

#include <span>

#include "core/kernels/flesh_cage.h"

namespace bricol {

/// Each quad in four, `rounds` times; new points go out from the axis of their limb to where the flesh ends there, so
/// that limbs round off without leaving their bones, however long these are. Points within flat ends stay in their
/// plane. Quads keep the order of those they came from. O(quads 4^rounds).
void refine_cage(FleshCage& cage, const Sticks& sticks, int rounds, double blend);

/// Leads points of rings between knots out onto the flesh, for cages without rounds.
void lead_out_rings(FleshCage& cage, const Sticks& sticks, double blend);

/// The bones whose flesh points may lie on: those near the bones of their quads. Points on the same bones share a list.
class PointHomes {
public:
    explicit PointHomes(const FleshCage& cage);
    /// Ascending; empty for points of lone balls.
    std::span<const Index> at(Index v) const {
        if (list_[v] == no_index) return {};
        return list_[v] < cage_.near.size() ? cage_.near[list_[v]] : shared_[list_[v] - cage_.near.size()];
    }

private:
    const FleshCage& cage_;
    std::vector<Index> list_;  ///< of every point: a bone whose own list it is, or one of the others after those
    std::vector<std::vector<Index>> shared_;
};

}  // namespace bricol
