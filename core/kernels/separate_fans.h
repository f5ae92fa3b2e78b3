// SPDX-License-Identifier: GPL-3.0-or-later
// Surfaces that touch along an edge, taken apart there.
#pragma once

#include "core/kernels/tagged_triangles.h"

namespace bricol {

/// Where more than two triangles share an edge they are paired, each with the next round the edge through the inside of
/// the solid, and points get a copy for each fan of triangles that then hangs together. An edge whose ends both stay in
/// one fan gets a point in its middle for each pair. Closed triangles stay closed and have two at every edge. What
/// touches nowhere keeps its points. Only edges of triangles from `first` on may be shared too often; O(n) and O(n log
/// n) in those, and in all where there is one.
void separate_fans(TaggedTriangles& soup, std::size_t first = 0);

}  // namespace bricol
