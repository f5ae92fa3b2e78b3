// SPDX-License-Identifier: GPL-3.0-or-later
// Building a mesh from another one's elements while its attributes follow.
#pragma once

#include "core/shape/mesh.h"

namespace bricol {

/// Faces as lists of vertices, each remembering where it came from.
struct FaceList {
    Array<Index> offsets{0}, corners;
    Array<Index> face_source;    ///< face of the old mesh, or no_index
    Array<Index> corner_source;  ///< corner of the old mesh, or no_index
    std::vector<std::array<Index, 2>> loose;

    /// Room for what is about to be added, so that large lists do not grow by being copied.
    void reserve(std::size_t more_faces, std::size_t more_corners) {
        offsets.reserve(offsets.size() + more_faces);
        face_source.reserve(face_source.size() + more_faces);
        corners.reserve(corners.size() + more_corners);
        corner_source.reserve(corner_source.size() + more_corners);
    }
    /// Adds a face without a past.
    void add(std::span<const Index> vertices);
    /// Adds one corner to the face being built; `close` ends it (faces below three corners are taken back).
    void corner(Index vertex, Index source) {
        corners.push_back(vertex);
        corner_source.push_back(source);
    }
    bool close(Index source);
};

/// Every face and loose edge of the mesh.
FaceList faces_of(const Mesh& mesh);

/// A mesh of `points` and `faces`. Attributes: vertex values from `vertex_source` (empty: unchanged order), faces and
/// corners from their sources, edges from the old edge under a surviving corner; elements without a past get zero.
/// The faces themselves are taken, the lists of sources stay.
Mesh rebuilt(const Mesh& old, Array<Vec3> points, std::span<const Index> vertex_source, FaceList&& faces);

/// Gives the pieces of split edges the values and sets of the edge they are pieces of. For every vertex of `mesh`:
/// `old_vertex`, the vertex of `old` it is, or no_index; `on_edge`, the edge of `old` it was put on, or no_index.
void carry_edge_pieces(Mesh& mesh, const Mesh& old, std::span<const Index> old_vertex, std::span<const Index> on_edge);

}  // namespace bricol
