// SPDX-License-Identifier: GPL-3.0-or-later
// The loose pieces that a mesh consists of.
#pragma once

#include <optional>
#include <span>
#include <vector>

#include "core/ground/box.h"
#include "core/shape/mesh.h"
#include "core/shape/sets.h"

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

/// How often faces wind round a point: 1 inside a closed piece, 0 outside, between them near an open border. A.
/// Jacobson and others, "Robust Inside-Outside Segmentation using Generalized Winding Numbers", 2013; solid angles
/// after A. van Oosterom and J. Strackee, 1983. O(corners).
double winding_number(const Mesh& mesh, std::span<const Index> faces, const DVec3& point);

/// These faces as a mesh of their own, with their values and sets, in this order.
Mesh only_faces(const Mesh& mesh, std::span<const Index> faces);

/// Pieces whose size is below a share of the largest one's.
struct SmallPieces {
    std::size_t count = 0, of = 0;  ///< how many, and of all
    Mask faces;
    std::vector<Vec3> places;  ///< middles of the first 32 (metres)
};
SmallPieces small_pieces(const Mesh& mesh, double share);

/// Leaves a mesh its first loose piece and gives the others; nothing when it has but one.
std::optional<Mesh> others_taken(Mesh& mesh);

}  // namespace bricol
