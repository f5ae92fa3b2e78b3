// SPDX-License-Identifier: GPL-3.0-or-later
// How UVs lie on a mesh: how far they reach, and how a picture would be stretched.
#pragma once

#include <array>
#include <optional>

#include "core/shape/mesh.h"

namespace bricol {

/// Smallest and largest factor by which a flat triangle (sides a, b) is longer in space (sides p, q) in any direction:
/// the singular values of the map. Nothing for triangles without area in space or in the plane.
std::optional<std::array<double, 2>> triangle_stretch(const DVec2& a, const DVec2& b, const DVec3& p, const DVec3& q);

struct UvCheck {
    bool any = false;  ///< there are UVs at all
    DVec2 low{0}, high{0};
    std::size_t outside = 0;  ///< triangles with a corner outside 0..1, by more than a millionth
    std::size_t flat = 0;     ///< triangles with area in space but none in UV
    /// Largest factor by which a triangle is longer or shorter in some direction than the mesh is on the whole; 1 when
    /// all keep one scale.
    double stretch = 1;
    std::size_t stretched = 0;  ///< triangles over the limit
    Vec3 worst_at{0};
};
/// Looks at TEXCOORD_0 on corners; `limit` counts triangles stretched by more. O(corners).
UvCheck checked_uvs(const Mesh& mesh, double limit);

}  // namespace bricol
