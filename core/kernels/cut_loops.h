// SPDX-License-Identifier: GPL-3.0-or-later
// Rings and loops of edges, and cutting across rings.
#pragma once

#include <vector>

#include "core/shape/selection.h"

namespace bricol {

struct CutLoopResult {
    Mesh mesh;
    Mask edges;             ///< edges along the new loops
    std::size_t rings = 0;  ///< rings cut
};
/// Cuts the ring of quads that the edge belongs to, `cuts` times: evenly, or all moved by `slide` (-1..1) along the
/// edges: positive towards where they mostly point along x, y or z, else outwards, else anticlockwise about the axis
/// they go round. `both_ends`: two cuts, as near to either end as `slide` (0..1) says. The ring goes through opposite
/// edges of quads and ends at borders and at other polygons.
CutLoopResult with_cut_loops(const Mesh& mesh, std::span<const Index> edges, int cuts, double slide,
                             bool both_ends = false);

/// Edges of the ring an edge belongs to (opposite edges of quads), and of the loop it belongs to (straight on through
/// vertices with four edges, or along a border).
std::vector<Index> edge_ring(const Mesh& mesh, Index edge);
std::vector<Index> edge_loop(const Mesh& mesh, Index edge);

}  // namespace bricol
