// SPDX-License-Identifier: GPL-3.0-or-later
// Border loops, and closing them.
#pragma once

#include <vector>

#include "core/shape/selection.h"

namespace bricol {

/// Closed loops and open chains of edges with exactly one face, in the direction that a new face there would run.
struct BorderLoop {
    std::vector<Index> vertices;
    bool closed = true;
};
std::vector<BorderLoop> border_loops(const Mesh& mesh, const Selection& edges = {});

enum class HoleFill : std::uint8_t { face, fan, triangles };
/// Closes border loops (of the chosen edges) with up to `most_sides` sides; 0 for any. `made` counts them.
Mesh with_holes_filled(const Mesh& mesh, HoleFill fill, int most_sides, const Selection& edges, std::size_t* made);

}  // namespace bricol
