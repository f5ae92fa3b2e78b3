// SPDX-License-Identifier: GPL-3.0-or-later
// A mesh of explicit vertices, edges and faces in flat arrays; loose edges and points are ordinary citizens.
#pragma once

#include <array>
#include <mutex>
#include <span>

#include "core/shape/attributes.h"
#include "core/shape/material.h"
#include "core/ground/types.h"

namespace bricol {

/// Answers about neighbours, built once per topology on first use.
struct Adjacency {
    /// Faces at an edge: `edge_face[edge_offsets[e] .. edge_offsets[e+1])`, ascending. Size edges+1 and sum of uses.
    Array<Index> edge_offsets, edge_face;
    /// Edges at a vertex, likewise.
    Array<Index> vertex_edge_offsets, vertex_edge;

    std::span<const Index> faces_of_edge(Index e) const {
        return {edge_face.data() + edge_offsets[e], edge_face.data() + edge_offsets[e + 1]};
    }
    std::span<const Index> edges_of_vertex(Index v) const {
        return {vertex_edge.data() + vertex_edge_offsets[v], vertex_edge.data() + vertex_edge_offsets[v + 1]};
    }
};

/// How a topology hangs together, in numbers; looked up once per topology.
struct Ties {
    std::size_t border_edges = 0;        ///< edges with one face
    std::size_t non_manifold_edges = 0;  ///< edges with more than two faces
    std::size_t turned_edges = 0;        ///< edges whose two faces run along them the same way: one of them is flipped
    std::size_t loose_edges = 0;         ///< edges without a face
    std::size_t pieces = 0;              ///< parts that hang together by edges, single points among them
};

/// Which vertices make which edges and faces. Never changed after it is made, so that shapes can share it.
class Topology {
public:
    Topology() = default;
    Topology(const Topology&) = delete;
    Topology& operator=(const Topology&) = delete;

    Index vertex_count = 0;
    Array<std::array<Index, 2>> edges;  ///< vertex pairs
    Array<Index> face_offsets;          ///< size faces+1 (or empty for none)
    Array<Index> corner_vertex;         ///< vertex at each corner, faces one after another
    Array<Index> corner_edge;           ///< edge from this corner to the next one of its face

    std::size_t edge_count() const { return edges.size(); }
    std::size_t face_count() const { return face_offsets.empty() ? 0 : face_offsets.size() - 1; }
    std::size_t corner_count() const { return corner_vertex.size(); }
    std::span<const Index> face(std::size_t f) const {
        return {corner_vertex.data() + face_offsets[f], corner_vertex.data() + face_offsets[f + 1]};
    }
    /// The corner behind a corner of face f, and the one before it, round the face.
    Index next_in(std::size_t f, Index corner) const {
        return corner + 1 == face_offsets[f + 1] ? face_offsets[f] : corner + 1;
    }
    Index prior_in(std::size_t f, Index corner) const {
        return corner == face_offsets[f] ? face_offsets[f + 1] - 1 : corner - 1;
    }
    const Adjacency& adjacency() const;
    const Ties& ties() const;
    /// Hash of the content; equal topologies have equal hashes on every run.
    std::uint64_t content_hash() const;
    /// True when some edge has no face. Looked up once per topology.
    bool has_loose_edges() const;
    std::size_t bytes() const;

private:
    mutable std::once_flag adjacency_once_, hash_once_, loose_once_, ties_once_;
    mutable bool loose_ = false;
    mutable std::unique_ptr<const Adjacency> adjacency_;
    mutable Ties ties_;
    mutable std::uint64_t hash_ = 0;
};

/// How faces use an edge.
struct EdgeUse {
    std::int32_t corners = 0;  ///< how many sides of faces lie on it
    std::int32_t balance = 0;  ///< how many more of them run along it than against it
    bool between_two() const { return corners == 2 && balance == 0; }
};
Array<EdgeUse> edge_uses(const Topology& topology);

/// Builds edges and corner edges from faces. Edges are numbered by first use; `loose` follow, known pairs merged.
/// Precondition: every index is below `vertex_count`. O(corners).
std::shared_ptr<const Topology> make_topology(Index vertex_count, Array<Index> face_offsets, Array<Index> corner_vertex,
                                              std::span<const std::array<Index, 2>> loose = {});

struct Skeleton;

/// Positions in metres, topology and attributes; each shared copy-on-write.
struct Mesh {
    std::shared_ptr<const Array<Vec3>> positions;
    std::shared_ptr<const Topology> topology;
    Attributes attributes;
    /// What the face attribute "material" refers to; null for none.
    std::shared_ptr<const MaterialList> materials;
    /// The joints it can be posed by (core/shape/skeleton.h); null for none.
    std::shared_ptr<const Skeleton> skeleton;

    Mesh();
    Mesh(Array<Vec3> points, std::shared_ptr<const Topology> shared_topology);
    Mesh(const Mesh&);
    Mesh(Mesh&&) noexcept;
    Mesh& operator=(const Mesh&);
    Mesh& operator=(Mesh&&) noexcept;
    ~Mesh();

    std::size_t vertex_count() const { return positions->size(); }
    std::size_t edge_count() const { return topology->edge_count(); }
    std::size_t face_count() const { return topology->face_count(); }
    bool empty() const { return positions->empty(); }
    std::array<std::size_t, 8> domain_sizes() const;
    std::size_t bytes() const;
};

/// `first` and `second` as one mesh; indices of `second` follow. Attributes joined, zero where missing; normals
/// agreed upon, or dropped when one side has none.
Mesh appended(const Mesh& first, const Mesh& second);

/// All of them one after another, as by `appended`. O(elements x log meshes).
Mesh joined_meshes(std::span<const Mesh> meshes);

}  // namespace bricol
