// SPDX-License-Identifier: GPL-3.0-or-later
// Fewer faces for nearly the same form.
#pragma once

#include "core/shape/sets.h"
#include "core/shape/selection.h"

namespace bricol {

struct SimplifyOptions {
    std::size_t triangles = 1000;  ///< wanted
    double error = 0.02;           ///< largest deviation, as a share of the shape's size; above it more triangles stay
    bool hold_borders = false;     ///< open borders keep every point
    bool even = false;  ///< short edges go first, so that triangles stay alike; else what the form needs least
};
/// Collapses edges by quadric error (M. Garland and P. Heckbert, 1997) until few enough triangles are left. A closed
/// surface stays closed, and no edge gets more faces than it had; where edges have more than two faces already,
/// meshoptimizer does the work, and never evenly. `held` faces stay as they are. Gives triangles; vertex attributes are
/// those of the vertices that stay, face attributes of the nearest old face, corner attributes are dropped. O(triangles
/// x log triangles).
Mesh simplified(const Mesh& mesh, const SimplifyOptions& options, const Selection& held = Selection::none());

/// The work on triangles whose edges have two faces at most, to `wanted` of them; false, and nothing changed, for
/// others. `held` vertices stay. Corners are vertex numbers, three a triangle.
bool simplify_closed(const Array<Vec3>& points, std::vector<unsigned>& corners, std::size_t wanted,
                     const SimplifyOptions& options, const std::vector<std::uint8_t>& held);

}  // namespace bricol
