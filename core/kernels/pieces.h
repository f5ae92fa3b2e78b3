// SPDX-License-Identifier: GPL-3.0-or-later
// The loose pieces that a mesh consists of.
#pragma once

#include <span>
#include <vector>

#include "core/ground/box.h"
#include "core/shape/mesh.h"

namespace bricol {

/// Faces that hang together by edges, and the hollows inside them.
struct MeshPiece {
    std::vector<Index> faces;
    bool closed = false;
    double volume = 0;  ///< cubic metres, when closed; hollows taken off
    double area = 0;    ///< square metres
    Box box = Box::nothing();
    /// What pieces are compared by: volume of closed ones, for open ones that of a cube of their area.
    double size() const;
};

/// In the order of their first faces. A closed piece that is inside out and lies in the box of another is a hollow of
/// the smallest such. O(corners), and for hollows times the pieces.
std::vector<MeshPiece> pieces_of(const Mesh& mesh);

/// These faces as a mesh of their own, with their values and sets, in this order.
Mesh only_faces(const Mesh& mesh, std::span<const Index> faces);

}  // namespace bricol
