// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/spot.h"

#include <algorithm>
#include <cmath>

#include "app/viewport/screen.h"
#include "core/kernels/triangulate.h"

namespace bricol {

std::optional<Spot> spot_at(Renderer& renderer, const Scene& scene, const Camera& camera, QSize size,
                            const QPointF& at) {
    const glm::uvec2 found = renderer.pick(scene, camera, size).at(static_cast<int>(at.x()), static_cast<int>(at.y()));
    if (found.x == 0 || found.x > scene.items.size()) return std::nullopt;
    const SceneItem& item = scene.items[found.x - 1];
    const Triangles cut = triangulated(item.shape->mesh);
    if (found.y >= cut.count()) return std::nullopt;
    // Where the line of sight meets the triangle: of the copies the one it meets first.
    const Projector projector(camera, size.width(), size.height());
    const Mesh& mesh = item.shape->mesh;
    double best = 1e300;
    DVec3 spot(0);
    for (const glm::mat4& place : *item.places) {
        std::array<DVec3, 3> corner;
        for (std::size_t k = 0; k < 3; ++k)
            corner[k] = DVec3(
                glm::dmat4(place) *
                glm::dvec4(DVec3((*mesh.positions)[mesh.topology->corner_vertex[cut.corners[3 * found.y + k]]]), 1));
        std::array<glm::dvec2, 3> s;
        for (std::size_t k = 0; k < 3; ++k) s[k] = projector.to_screen(corner[k]);
        const double area = (s[1].x - s[0].x) * (s[2].y - s[0].y) - (s[1].y - s[0].y) * (s[2].x - s[0].x);
        if (std::abs(area) < 1e-9) continue;
        // A triangle no larger than a pixel may be seen there although the pixel's middle lies beside it: held to its
        // edge.
        const double v = std::clamp(
            ((at.x() - s[0].x) * (s[2].y - s[0].y) - (at.y() - s[0].y) * (s[2].x - s[0].x)) / area, 0.0, 1.0);
        const double w = std::clamp(
            ((s[1].x - s[0].x) * (at.y() - s[0].y) - (s[1].y - s[0].y) * (at.x() - s[0].x)) / area, 0.0, 1.0 - v);
        const glm::dvec2 seen = s[0] * (1 - v - w) + s[1] * v + s[2] * w;
        if (std::hypot(seen.x - at.x(), seen.y - at.y()) > 4) continue;
        const DVec3 p = corner[0] * (1 - v - w) + corner[1] * v + corner[2] * w;
        if (const double away = glm::distance(p, camera.eye()); away < best) best = away, spot = p;
    }
    if (best > 1e299) return std::nullopt;
    return Spot{&item, cut.face[found.y], spot};
}

}  // namespace bricol
