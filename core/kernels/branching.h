// SPDX-License-Identifier: GPL-3.0-or-later
// How the ball of a knot is shared out among its bones, so that a tube of four sides can leave along each of them.
#pragma once

#include <array>
#include <span>
#include <vector>

#include "core/ground/types.h"

namespace bricol {

/// The ball's surface cut into one region a bone, each bordered by four points.
struct Branching {
    std::vector<DVec3> points;  ///< directions from the knot, unit length
    std::vector<std::array<Index, 4>>
        rings;  ///< of every bone: its region's border, counterclockwise seen from outside
};

/// Most bones at one knot that `branching_of` shares out.
inline constexpr std::size_t most_bones_at_knot = 24;

/// For three to `most_bones_at_knot` directions of unit length. Regions are those of the spherical Voronoi diagram;
/// each of its arcs carries a whole number of edges, none to four, such that every region gets four, none is pinched,
/// and long arcs get more than short ones. Depends on the directions alone, so that girths only move points. After the
/// scaffolds of A. Fuentes Suárez and E. Hubert, "Scaffolding skeletons using spherical Voronoi diagrams", 2018 (there
/// with as many edges as are needed; here always four, which a Hamiltonian circle of the diagram's dual always allows).
/// O(n^4), and for the edges a bounded search.
Branching branching_of(std::span<const DVec3> directions);

}  // namespace bricol
