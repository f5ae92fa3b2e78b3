// SPDX-License-Identifier: GPL-3.0-or-later
// Texture coordinates continued over a plane.
#pragma once

#include "core/ground/types.h"

namespace bricol {

/// Texture coordinates at three places of a plane (metres).
struct UvPlane {
    DVec3 origin{0}, a{0}, b{0};  ///< a and b from the origin
    Vec2 at_origin{0}, at_a{0}, at_b{0};

    /// Twice the area of the three, squared; 0 when they lie on a line.
    double determinant() const {
        const double ab = glm::dot(a, b);
        return glm::dot(a, a) * glm::dot(b, b) - ab * ab;
    }
    /// At a place of the plane, by its share of a and b (Cramer's rule for the normal equations; beside the plane the
    /// place is taken straight down onto it). Precondition: the determinant is not 0.
    Vec2 at(const DVec3& place) const {
        const DVec3 d = place - origin;
        const double aa = glm::dot(a, a), bb = glm::dot(b, b), ab = glm::dot(a, b), det = aa * bb - ab * ab;
        const double da = glm::dot(d, a), db = glm::dot(d, b);
        const auto s = static_cast<float>((da * bb - db * ab) / det), t = static_cast<float>((db * aa - da * ab) / det);
        return at_origin + (at_a - at_origin) * s + (at_b - at_origin) * t;
    }
};

}  // namespace bricol
