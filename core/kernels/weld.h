// SPDX-License-Identifier: GPL-3.0-or-later
// Merges vertices that lie close together.
#pragma once

#include <span>

#include "core/shape/mesh.h"

namespace bricol {

struct WeldResult {
    Mesh mesh;
    std::size_t welded = 0;           ///< vertices that went away
    std::size_t collapsed_faces = 0;  ///< faces that lost all their area's corners
    Array<Index> face_source;         ///< the face each was before; empty when no vertex went
};

/// Vertices within `distance` (metres) of one another, directly or through others, become one at their mean place.
/// With `only_borders` vertices inside a closed surface are left alone. Attributes come from the first vertex of each
/// group. O(n log n).
WeldResult weld(const Mesh& mesh, double distance, bool only_borders = false);

/// Joins vertices of different pieces only: nearest pairs first, and never two of one piece into one point, not through
/// others either. `piece` of each vertex, no_index for one that is left alone. Places, attributes and cost as above.
WeldResult weld_between(const Mesh& mesh, double distance, std::span<const Index> piece);

/// Edges with both ends in one piece that are shorter than a distance: what `weld` would have shrunk to nothing.
std::size_t edges_shorter(const Mesh& mesh, double distance);

/// True for every vertex at an edge that has exactly one face.
Array<std::uint8_t> border_vertices(const Mesh& mesh);

}  // namespace bricol
