// SPDX-License-Identifier: GPL-3.0-or-later
// Copies of shapes at points: which way they look, how large they are, which of several stands where.
#pragma once

#include <optional>
#include <span>

#include "core/shape/sets.h"
#include "core/shape/shape.h"

namespace bricol {

/// Where one copy stands.
struct CopyPlace {
    DVec3 at{0};
    DVec3 facing{0, 0, 1};  ///< the way the copy's own axis looks, any length; zero leaves it as it is
    double turn = 0;        ///< degrees about that axis
    double size = 1;
    int variant = 0;  ///< number of the shape
};

/// Elements of a shape that copies can stand on, and what they carry.
struct StandPoints {
    std::vector<DVec3> at, facing;    ///< metres; the normal where there are faces, else zero
    std::vector<std::size_t> source;  ///< element each came from
    Attributes attributes;
    Domain domain = Domain::vertex;  ///< that the attributes are on
};
/// Those of `mask`: vertices or faces of the mesh, or, of Domain::knot, the vertices of `points_of_knots`.
StandPoints stand_points(const Mesh& mesh, Domain on, const Mask& mask);

/// One number per point from an attribute, the length of a vector; nothing where there is no such attribute.
std::optional<std::vector<double>> numbers_at(const StandPoints& points, const std::string& name);

/// Copies of shapes by their variants, those of no size and those not kept left out. `axis` is the copies' own that
/// looks along their facing. They carry `id`, the points' own or the number of the element, and `colours` where given.
std::vector<Instances> copies_at(const StandPoints& points, std::span<const CopyPlace> places,
                                 std::span<const std::uint8_t> keep, std::span<const ShapePtr> shapes, int axis,
                                 const Array<Vec4>* colours);

/// Balls round copies in place, for telling which stand too near one another.
struct CopyBalls {
    std::vector<DVec3> centres;
    std::vector<double> radii;
};
CopyBalls balls_round(std::span<const CopyPlace> places, std::span<const ShapePtr> shapes, int axis);

/// The shortest turn that takes one direction to another, as a unit quaternion (w, x, y, z): (1 + a.b, a x b) made
/// unit; for opposite directions half a turn about a fixed square axis.
std::array<double, 4> shortest_turn(const DVec3& from, const DVec3& to);

/// Matrix of a copy whose own axis is x, y or z (0, 1, 2).
glm::mat4 copy_matrix(const CopyPlace& place, int axis);

/// Which copies stay when two balls round them may sink into one another by at most `overlap` (0..1) of the smaller
/// one's diameter; of two too near the earlier stays. `radii` are of the copies in place.
std::vector<std::uint8_t> kept_apart(std::span<const DVec3> centres, std::span<const double> radii, double overlap);

}  // namespace bricol
