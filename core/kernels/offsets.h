// SPDX-License-Identifier: GPL-3.0-or-later
// How far and where each vertex must go so that faces move evenly along their normals.
#pragma once

#include "core/shape/sets.h"
#include "core/shape/selection.h"

namespace bricol {

/// For every vertex of the chosen faces the vector m with m . n = 1 for the normals n of
/// those faces: moving a vertex by d times it moves its faces by d, at sharp folds too. Where more than three different
/// normals meet, the least-squares answer. Never longer than `longest`. Zero elsewhere. O(corners).
Array<Vec3> even_offsets(const Mesh& mesh, const Selection& faces = {}, float longest = 4);

/// Points of one polygon moved inwards in its plane, `distance` from every side. The distance is held where the polygon
/// is too narrow; `held` (when given) is then set to the share that was left.
void inset_polygon(std::span<const DVec3> polygon, const DVec3& normal, double distance, std::span<DVec3> result,
                   double* held = nullptr);

}  // namespace bricol
