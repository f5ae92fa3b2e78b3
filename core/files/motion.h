// SPDX-License-Identifier: GPL-3.0-or-later
// What moves from frame to frame, told apart into places that move as a whole and points that move on their own.
#pragma once

#include "core/ground/result.h"
#include "core/shape/shape.h"

namespace bricol {

/// One of `placed_meshes`: where its copies stand and how its points lie, a frame each.
struct PlacedMotion {
    std::vector<Array<glm::mat4>> places;  ///< all copies, a frame each; empty when none moves
    std::vector<Array<Vec3>> points;       ///< a frame each; empty when none moves, or all move as one
};

struct PartMotion {
    std::vector<float> seconds;  ///< of the frames, from 0 upwards
    std::vector<PlacedMotion> placed;

    bool moves() const;
};

/// Looks at one part through its frames (two or more). A mesh whose points keep their distances from one another, to a
/// millionth of its size, moves as a whole. Refused, in words: faces or copies that come and go, sheared or tinted
/// copies that move.
Result<PartMotion> motion_of(std::span<const ShapePtr> frames, double rate);

/// Normals of a mesh's corners when its points lie there; hard edges by their angle.
Array<Vec3> moved_normals(const Mesh& mesh, const Array<Vec3>& points);

/// Whether a place does more than move, turn and size along its own axes.
bool sheared_place(const glm::mat4& place);

}  // namespace bricol
