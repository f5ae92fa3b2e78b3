// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/choose_pieces.h"

#include <algorithm>

#include "core/ground/disjoint_sets.h"
#include "core/kernels/pieces.h"

namespace bricol {

VertexPieces::VertexPieces(const Mesh& mesh) : mesh_(mesh), piece_(mesh.vertex_count(), no_index) {
    const Topology& t = *mesh.topology;
    DisjointSets together(t.vertex_count);
    for (const auto& [a, b] : t.edges) together.join(a, b);
    for (Index v = 0; v < t.vertex_count; ++v) {
        Index& piece = piece_[together.root(v)];
        if (piece == no_index) {
            piece = static_cast<Index>(vertices_.size());
            vertices_.push_back(0);
        }
        piece_[v] = piece;
        ++vertices_[piece];
    }
}

Mask VertexPieces::of(const std::vector<std::uint8_t>& wanted) const {
    Mask mask(piece_.size());
    for (std::size_t v = 0; v < mask.size(); ++v) mask[v] = wanted[piece_[v]];
    return mask;
}

Mask VertexPieces::with_most() const {
    return nth(static_cast<std::size_t>(std::ranges::max_element(vertices_) - vertices_.begin()));
}

Mask VertexPieces::nth(std::size_t number) const {
    std::vector<std::uint8_t> wanted(vertices_.size(), 0);
    if (number < wanted.size()) wanted[number] = 1;
    return of(wanted);
}

Mask VertexPieces::holding(const Mask& members) const {
    std::vector<std::uint8_t> wanted(vertices_.size(), 0);
    for (std::size_t v = 0; v < members.size(); ++v)
        if (members[v]) wanted[piece_[v]] = 1;
    return of(wanted);
}

Mask VertexPieces::of_size(double share) const {
    const std::vector<MeshPiece> all = pieces_of(mesh_);
    double most = 0;
    for (const MeshPiece& piece : all) most = std::max(most, piece.size());
    std::vector<std::uint8_t> wanted(vertices_.size(), 0);
    for (const MeshPiece& piece : all)
        if (piece.size() >= share * most) wanted[piece_[mesh_.topology->face(piece.faces.front())[0]]] = 1;
    return of(wanted);
}

}  // namespace bricol
