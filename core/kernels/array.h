// SPDX-License-Identifier: GPL-3.0-or-later
// Where the copies of an array stand.
#pragma once

#include "core/kernels/transform.h"

namespace bricol {

/// n places in a row, the first where the shape is, `step` apart (metres).
Array<glm::mat4> straight_places(int count, const DVec3& step);
/// Copies a length has room for when each needs `spacing`: at least one.
int count_to_fill(double length, double spacing);

/// n places about an axis (0 x, 1 y, 2 z) through `centre`, `degrees` from one to the next, `rise` metres along it
/// each. `turn_copies` turns every copy with its place; otherwise they keep facing the same way, as seen from `pivot`.
Array<glm::mat4> radial_places(int count, int axis, const DVec3& centre, double degrees, double rise, bool turn_copies,
                               const DVec3& pivot);
/// Angle from copy to copy when `count` copies share `total` degrees: a full turn is divided among them, anything less
/// has a copy at both ends.
double angle_between(int count, double total);

/// The transform applied once, twice, three times …
Array<glm::mat4> repeated_places(int count, const glm::dmat4& step);

/// counts.x * counts.y * counts.z places, x fastest.
Array<glm::mat4> grid_places(const std::array<int, 3>& counts, const DVec3& step);

/// Faces that lie on one another back to back, as the inner walls between welded copies do, and repeats of the same
/// face (all but the first): one byte per face. O(corners), and O(d log d) for d faces that are doubled.
Array<std::uint8_t> doubled_faces(const Mesh& mesh);

}  // namespace bricol
