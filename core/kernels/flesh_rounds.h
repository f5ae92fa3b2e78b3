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

/// The bones whose flesh points may lie on: those near the bones of their quads. Most lie on one bone and share its
/// list; the others have one of their own.
class PointHomes {
public:
    explicit PointHomes(const FleshCage& cage);
    /// Ascending; empty for points of lone balls.
    std::span<const Index> at(Index v) const {
        if (first_[v] == no_index) return {};
        return first_[v] < mixed ? std::span<const Index>(cage_.near[first_[v]]) : own_[first_[v] - mixed];
    }

private:
    static constexpr Index mixed = 0x80000000u;
    const FleshCage& cage_;
    std::vector<Index> first_;
    std::vector<std::vector<Index>> own_;
};

}  // namespace bricol
