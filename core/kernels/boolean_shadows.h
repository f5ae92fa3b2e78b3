// SPDX-License-Identifier: GPL-3.0-or-later
// Booleans that close by construction: crossings by shadows, surfaces put together again as polygons.
#pragma once

#include "core/kernels/boolean.h"
#include "core/kernels/shadows.h"

namespace bricol {

/// All crossings between two surfaces, and how often each of their points is wound round by the other.
struct Crossed {
    std::vector<Crossing> of_p, of_q;                ///< edges of p with triangles of q, and the other way; by edge
    std::vector<std::int32_t> winding_p, winding_q;  ///< per point; empty where the other surface is open
};
/// O(n log n) for well-spread triangles. `closed_p`, `closed_q`: whether the surface has an inside.
Crossed crossings_of(const ShadowSurface& p, const ShadowSurface& q, bool closed_p, bool closed_q);

/// What is kept of two surfaces: a point of p counts `own_p + times x winding number` times, and so on.
struct Keeping {
    int own_p = 0, own_q = 0, times = 0;
    bool p = true, q = true;  ///< whether its triangles are wanted at all
};

/// Triangles of a surface that no crossing can reach, by the numbers of its points: they are kept when a point that
/// nothing winds round is.
struct Beyond {
    std::vector<std::array<Index, 3>> triangles;
    std::vector<Index> tags;
};

/// The kept parts with their tags, cut along the lines where the surfaces cross. Pieces of one tag are put together
/// before they are cut into triangles again, so that its old diagonals leave no trace. Tags are numbers of `tags`
/// faces, different ones in p and q.
TaggedTriangles kept_parts(const ShadowSurface& p, const ShadowSurface& q, const Crossed& crossed,
                           const Keeping& keeping, std::vector<std::array<DVec3, 2>>* lines,
                           const std::array<const Beyond*, 2>& beyond = {});

/// Two closed surfaces, outward; closed again, always. Surfaces in one plane are ordinary: `a` counts as a hair larger
/// for a union, as a hair smaller otherwise.
TaggedTriangles boolean_by_shadows(const TaggedTriangles& a, const TaggedTriangles& b, BooleanKind kind);

/// The part of a sheet inside (or outside) a closed surface, whose border counts as inside. `lines` are the new
/// borders.
TaggedTriangles sheet_by_shadows(const TaggedTriangles& sheet, const TaggedTriangles& solid, bool keep_inside,
                                 std::vector<std::array<DVec3, 2>>* lines);

}  // namespace bricol
