// SPDX-License-Identifier: GPL-3.0-or-later
// Points, edges and knots of other parts that a knot can be set on.
#pragma once

#include <optional>

#include "app/document/session.h"
#include "app/viewport/camera.h"

namespace bricol {

class KnotSnap {
public:
    /// Takes what the shown parts but the chosen one hold now; parts with more points than is worth looking through are
    /// left out.
    void gather(const Session& session);
    /// The place under the pointer, within `reach` pixels: points first, then edges.
    std::optional<DVec3> under(const glm::dvec2& at, const Projector& projector, double reach) const;
    /// Where the line of sight first meets one of their surfaces, and the surface's unit normal there, towards the eye.
    std::optional<DVec3> surface(const glm::dvec2& at, const Projector& projector, const DVec3& eye,
                                 DVec3* normal = nullptr) const;
    bool empty() const { return points_.empty(); }

private:
    std::vector<DVec3> points_;
    std::vector<std::array<std::uint32_t, 2>> edges_;
    std::vector<std::array<std::uint32_t, 3>> triangles_;
};

}  // namespace bricol
