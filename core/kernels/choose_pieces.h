// SPDX-License-Identifier: GPL-3.0-or-later
// Which connected pieces of a mesh a rule takes.
#pragma once

#include "core/shape/sets.h"

namespace bricol {

/// Vertices that hang together by edges, and the pieces they make, in the order of their first vertices.
class VertexPieces {
public:
    /// O(vertices + edges).
    explicit VertexPieces(const Mesh& mesh);

    /// The vertices of the piece with most of them, the first of equals; of the n-th piece; of all that hold one of
    /// `members`.
    Mask with_most() const;
    Mask nth(std::size_t number) const;
    Mask holding(const Mask& members) const;
    /// Of those whose size (see MeshPiece) is `share` (0..1) of the largest's or more.
    Mask of_size(double share) const;

private:
    const Mesh& mesh_;
    std::vector<Index> piece_;           ///< of each vertex
    std::vector<std::size_t> vertices_;  ///< how many each piece has
    Mask of(const std::vector<std::uint8_t>& wanted) const;
};

}  // namespace bricol
