// SPDX-License-Identifier: GPL-3.0-or-later
// Moving, turning, sizing, turning inside out and measuring the box of whole shapes.
#pragma once

#include <optional>

#include "core/shape/shape.h"
#include "core/ground/box.h"

namespace bricol {

/// Box of all vertices and of all curves as drawn (sampled); nothing for an empty shape.
std::optional<Box> box_of(const Shape& shape);

/// Applies a matrix to points, handles and normals. A mirroring matrix also turns the faces, so that outside stays
/// outside. Attributes are carried, NORMAL turned with the shape.
Shape transformed(const Shape& shape, const glm::dmat4& matrix);

/// Matrix that sizes, then turns (degrees about x, then y, then z), then moves; all about `pivot`.
glm::dmat4 placement(const DVec3& move, const DVec3& turn, const DVec3& size, const DVec3& pivot);

/// The turn (degrees) with which placement() makes this matrix of three unit directions across one another; z within
/// -90 to 90 degrees about y, x taken as 0 where the turns about x and z are one.
DVec3 turn_of(const glm::dmat3& directions);

/// Every face the other way round; NORMAL negated, other attributes carried.
Mesh flipped(const Mesh& mesh);

}  // namespace bricol
