// SPDX-License-Identifier: GPL-3.0-or-later
// Edges and vertices of a mesh cut off in a strip of even width.
#pragma once

#include <atomic>

#include "core/shape/sets.h"

namespace bricol {

struct BevelOptions {
    int segments = 1;    ///< pieces across the strip
    double profile = 1;  ///< 0 straight, 1 round, above 1 fuller towards the old edge; negative hollow
    bool hold = true;    ///< make a bevel narrower where it would run into another
};

struct BevelResult {
    Mesh mesh;
    Mask made;                  ///< faces that are new: strips and corners
    std::size_t edges = 0;      ///< edges (or vertices) bevelled
    std::size_t held = 0;       ///< of those, narrower than asked for
    double smallest_share = 1;  ///< smallest share of the width that was left
    std::vector<Vec3> places;   ///< middles of held edges, at most 64
};

/// `width[e]` is how far the new edges lie from edge e, measured in each of its two faces (metres); 0 leaves the edge.
/// Edges without exactly two faces are left. Where three or more bevels meet with nothing in between, the corner is a
/// patch of quads on the sphere through its arcs; elsewhere one polygon. Works on any polygons, open meshes too.
/// Attributes: vertices, faces and surviving edges carried, UVs continued, NORMAL dropped. O(corners x segments^2).
BevelResult bevelled_edges(const Mesh& mesh, std::span<const float> width, const BevelOptions& options);

/// Cuts off vertices instead: `width[v]` along every edge at v.
BevelResult bevelled_vertices(const Mesh& mesh, std::span<const float> width, const BevelOptions& options);

/// Angle between the two faces of every edge in degrees (0 flat, 180 folded over), negative at concave edges; 0 for
/// edges without exactly two faces.
Array<float> edge_angles(const Mesh& mesh);

}  // namespace bricol
