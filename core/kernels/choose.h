// SPDX-License-Identifier: GPL-3.0-or-later
// Which vertices, edges or faces a rule picks, and finding pinned places again.
#pragma once

#include "core/kernels/transform.h"
#include "core/shape/place.h"
#include "core/shape/sets.h"

namespace bricol {

/// Middle of an element: the vertex, or the mean of the corners of the edge or face (metres).
DVec3 middle_of(const Mesh& mesh, Domain domain, std::size_t element);

Mask in_box(const Mesh& mesh, Domain domain, const Box& box);
Mask in_ball(const Mesh& mesh, Domain domain, const DVec3& centre, double radius);
/// Faces whose normal lies within `degrees` of the direction.
Mask facing(const Mesh& mesh, const DVec3& direction, double degrees);
/// Edges whose two faces turn by more than `degrees`; convex, concave or both.
enum class Turn : std::uint8_t { both, convex, concave };
Mask sharp_edges(const Mesh& mesh, double degrees, Turn turn);
Mask open_edges(const Mesh& mesh);
/// Elements whose middles lie within `near` (metres) of the one that lies farthest along a direction of any length.
Mask farthest_along(const Mesh& mesh, Domain domain, const DVec3& direction, double near);
/// Every n-th element, counted from `first`.
Mask every_nth(std::size_t count, int n, int first);

/// One step outwards or inwards: faces over edges, vertices and edges over edges. `rounds` times.
Mask grown(const Mesh& mesh, Domain domain, Mask mask, int rounds);
Mask shrunk(const Mesh& mesh, Domain domain, Mask mask, int rounds);

struct FoundPlaces {
    std::vector<Index> element;         ///< per place: the element, or no_index when it is lost
    std::vector<std::size_t> lost;      ///< places that nothing fits any more
    std::vector<std::size_t> doubtful;  ///< places that two elements fit nearly alike; the nearer was taken
};
/// Finds pinned places: first by where they were, then by their share of the shape's box. An element fits when its
/// middle lies within `tolerance` times the length of its own edges, and it faces within 60 degrees of where it did.
FoundPlaces found_places(const Mesh& mesh, std::span<const Place> places, double tolerance = 0.45);

/// Says how places of elements are remembered; looks at the mesh as a whole once.
class Pinner {
public:
    explicit Pinner(const Mesh& mesh);
    Place pinned(Domain domain, Index element) const;

private:
    const Mesh& mesh_;
    std::optional<Box> box_;
    Array<Vec3> flat_;
};
inline Place pinned(const Mesh& mesh, Domain domain, Index element) { return Pinner(mesh).pinned(domain, element); }

}  // namespace bricol
