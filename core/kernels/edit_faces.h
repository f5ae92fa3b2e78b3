// SPDX-License-Identifier: GPL-3.0-or-later
// Small changes to which faces there are: delete, split off, join flat ones, bridge borders, cut across rings.
#pragma once

#include "core/shape/sets.h"

namespace bricol {

/// The mesh without the chosen faces; vertices and edges only they used go too.
Mesh without_faces(const Mesh& mesh, const Mask& faces);
/// The mesh without the chosen edges or vertices and every face that touches them.
Mesh without_edges(const Mesh& mesh, const Mask& edges);
Mesh without_vertices(const Mesh& mesh, const Mask& vertices);

/// The chosen faces keep their shape but share no vertex with the others any more.
Mesh split_off(const Mesh& mesh, const Mask& faces);

/// Faces of one group that hang together become one polygon, when their outline is a single loop without holes that
/// visits no vertex twice; other groups stay as they are. `group[f]`: any number, no_index for "leave alone".
/// Vertices of `may_drop` (none when empty) go when every face that uses them runs straight through them.
/// Attributes of the group's first face; corners keep theirs.
Mesh merged_faces(const Mesh& mesh, std::span<const Index> group, const Mask& may_drop);

/// Neighbouring faces that turn by less than `degrees` become one polygon; faces of different materials stay apart.
Mesh dissolved_flat(const Mesh& mesh, double degrees, const Mask& faces = {});

/// Every face as triangles.
Mesh with_triangles(const Mesh& mesh, const Mask& faces = {});

/// Closed loops and open chains of edges with exactly one face, in the direction that a new face there would run.
struct BorderLoop {
    std::vector<Index> vertices;
    bool closed = true;
};
std::vector<BorderLoop> border_loops(const Mesh& mesh, const Mask& edges = {});

enum class HoleFill : std::uint8_t { face, fan, triangles };
/// Closes border loops (of the chosen edges) with up to `most_sides` sides; 0 for any. `made` counts them.
Mesh with_holes_filled(const Mesh& mesh, HoleFill fill, int most_sides, const Mask& edges, std::size_t* made);

struct BridgeResult {
    Mesh mesh;
    Mask made;
    std::string refused;  ///< why nothing was bridged; empty when it was
};
/// Joins two border loops of the chosen edges (or of what is left when the chosen faces are taken away) by faces;
/// `segments` rows, `turn` shifts the match by that many vertices. Loops of different length get triangles too.
BridgeResult bridged(const Mesh& mesh, const Mask& edges, int segments, int turn);

struct CutLoopResult {
    Mesh mesh;
    Mask edges;             ///< edges along the new loops
    std::size_t rings = 0;  ///< rings cut
};
/// Cuts the ring of quads that the edge belongs to, `cuts` times: evenly, or all moved by `slide` (-1..1) along the
/// edges. The ring goes through opposite edges of quads and ends at borders and at other polygons.
CutLoopResult with_cut_loops(const Mesh& mesh, std::span<const Index> edges, int cuts, double slide);

/// Edges of the ring an edge belongs to (opposite edges of quads), and of the loop it belongs to (straight on through
/// vertices with four edges, or along a border).
std::vector<Index> edge_ring(const Mesh& mesh, Index edge);
std::vector<Index> edge_loop(const Mesh& mesh, Index edge);

}  // namespace bricol
