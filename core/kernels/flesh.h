// SPDX-License-Identifier: GPL-3.0-or-later
// A body of quads round a stick figure.
#pragma once

#include "core/kernels/sticks.h"
#include "core/shape/mesh.h"

namespace bricol {

struct FleshOptions {
    int rounds = 2;       ///< rounds of smoothing, 0 to 5; 0 gives the low cage
    int rings = 0;        ///< rings between the two knots of every bone
    double blend = 0.5;   ///< 0 to 1: how far limbs run into one another where they meet
    bool weights = true;  ///< a value per joint on every vertex, and the joints with the mesh
};

/// A fork whose limbs lie in one another for more than they are long.
struct NarrowFork {
    Index knot = 0, first = 0, second = 0;  ///< the knot, and its two bones
    double angle = 0;                       ///< between them, degrees
    double angle_that_fits = 0;             ///< with these girths; 0 when none does
    double girth_that_fits = 0;             ///< mean radius of the knot, with this angle (metres)
    Index far = no_index;                   ///< the end of one limb that lies in the other, when that is what is wrong
    double move = 0;                        ///< how much further away it would have to be (metres)
};

struct Flesh {
    Mesh mesh;
    std::vector<Index> swallowed;  ///< knots that lie in the ball of a neighbour
    std::vector<NarrowFork> narrow;
    std::vector<std::array<Index, 2>> crossing;  ///< bones that share no knot and whose flesh meets
    Index too_many_at = no_index;                ///< a knot with more bones than can be shared out; no mesh then
};

/// Flesh round the sticks: a closed quad mesh for each figure; bones that close a loop make a ring of it. Every bone is
/// a tube of four sides between its knots' balls; at forks the ball is shared out among the bones (`branching_of`), so
/// that nothing but quads is needed; ends are half balls, or flat where the knot says so. Each round cuts every quad in
/// four and leads the new points out onto the blend of the tapered balls (`flesh_field`). Which faces there are
/// depends on the directions of bones alone, and on which knots are swallowed. Every vertex has a value between 0 and 1
/// for each joint near it (a vertex attribute of the joint's name), 1 in sum; joints stand on knots that bones hang on,
/// and are called as `names` calls the knot of that id. Same bytes for any thread count.
/// O(vertices + bones^2).
Flesh flesh_of(const Sticks& sticks, const FleshOptions& options, const Skeleton* names = nullptr);

}  // namespace bricol
