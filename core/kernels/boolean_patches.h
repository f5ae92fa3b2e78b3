// SPDX-License-Identifier: GPL-3.0-or-later
// Booleans where only the neighbourhood of the cut goes through exact refinement.
#pragma once

#include "core/kernels/boolean.h"

namespace bricol {

/// Triangles of each that may meet one of the other: their boxes touch and neither lies clearly to one side of the
/// other's plane. One byte each. O((n + m) x cells a triangle spans).
std::array<Mask, 2> near_one_another(const TaggedTriangles& a, const TaggedTriangles& b);

/// Refines the triangles near one another along the lines where the surfaces meet (CGAL corefinement), takes both
/// surfaces apart along these lines, and keeps or drops each patch by whether a point of it lies inside the other
/// solid. Nothing when that cannot be told safely: surfaces that lie in one another, patches thinner than rounding, a
/// result that would not close. Inputs closed, outward. Deterministic.
std::optional<TaggedTriangles> boolean_by_patches(const TaggedTriangles& a, const TaggedTriangles& b, BooleanKind kind);

/// The part of an open sheet inside (or outside) a closed solid, in the same way. Nothing when it cannot be told
/// safely.
std::optional<TaggedTriangles> sheet_by_patches(const TaggedTriangles& sheet, const TaggedTriangles& solid,
                                                bool keep_inside);

}  // namespace bricol
