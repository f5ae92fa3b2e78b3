// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/knot_snap.h"

#include "core/kernels/flatten.h"
#include "core/kernels/triangulate.h"

namespace bricol {

namespace {

constexpr std::size_t most_points = 40000;  // a few milliseconds to project

}  // namespace

void KnotSnap::gather(const Session& session) {
    points_.clear();
    edges_.clear();
    triangles_.clear();
    if (!session.made()) return;
    const Recipe& recipe = session.made_recipe();
    for (std::size_t p = 0; p < recipe.parts.size(); ++p) {
        if (recipe.parts[p]->hidden || recipe.parts[p]->name == session.part() || p >= session.made()->parts.size() ||
            !session.made()->parts[p])
            continue;
        const Shape& shape = *session.made()->parts[p]->shape;
        if (points_.size() + shape.mesh.vertex_count() > most_points) continue;
        const auto base = static_cast<std::uint32_t>(points_.size());
        for (const Vec3& v : *shape.mesh.positions) points_.emplace_back(v);
        for (const auto& edge : shape.mesh.topology->edges) edges_.push_back({base + edge[0], base + edge[1]});
        const Triangles cut = triangulated(shape.mesh);
        for (std::size_t t = 0; t < cut.count(); ++t) {
            std::array<std::uint32_t, 3> triangle{};
            for (std::size_t k = 0; k < 3; ++k)
                triangle[k] = base + shape.mesh.topology->corner_vertex[cut.corners[3 * t + k]];
            triangles_.push_back(triangle);
        }
        for (const Curve& curve : shape.curves) {
            const Polyline line = flatten(curve);
            if (points_.size() + line.points.size() > most_points) break;
            const auto first = static_cast<std::uint32_t>(points_.size());
            for (const Vec3& v : line.points) points_.emplace_back(v);
            const auto count = static_cast<std::uint32_t>(line.points.size());
            for (std::uint32_t i = 0; i + (line.closed ? 0 : 1) < count; ++i)
                edges_.push_back({first + i, first + (i + 1) % count});
        }
    }
}

std::optional<DVec3> KnotSnap::under(const glm::dvec2& at, const Projector& projector, double reach) const {
    std::vector<glm::dvec2> screen(points_.size());
    double nearest = reach;
    std::optional<DVec3> found;
    for (std::size_t i = 0; i < points_.size(); ++i) {
        screen[i] = projector.to_screen(points_[i]);
        if (const double d = glm::distance(screen[i], at); d < nearest) nearest = d, found = points_[i];
    }
    if (found) return found;
    for (const auto& [a, b] : edges_) {
        const glm::dvec2 way = screen[b] - screen[a];
        const double length2 = glm::dot(way, way);
        if (length2 < 1) continue;
        const double t = std::clamp(glm::dot(at - screen[a], way) / length2, 0.0, 1.0);
        if (const double d = glm::distance(screen[a] + way * t, at); d < nearest)
            nearest = d, found = points_[a] + (points_[b] - points_[a]) * t;
    }
    return found;
}

std::optional<DVec3> KnotSnap::surface(const glm::dvec2& at, const Projector& projector, const DVec3& eye,
                                       DVec3* normal_there) const {
    std::vector<glm::dvec2> screen(points_.size());
    for (std::size_t i = 0; i < points_.size(); ++i) screen[i] = projector.to_screen(points_[i]);
    std::optional<DVec3> found;
    double nearest = 1e300;
    for (const auto& [a, b, c] : triangles_) {
        const auto side = [&](const glm::dvec2& p, const glm::dvec2& q) {
            return (q.x - p.x) * (at.y - p.y) - (q.y - p.y) * (at.x - p.x);
        };
        const double x = side(screen[a], screen[b]), y = side(screen[b], screen[c]), z = side(screen[c], screen[a]);
        if ((x < 0 || y < 0 || z < 0) && (x > 0 || y > 0 || z > 0)) continue;
        const DVec3 normal = glm::cross(points_[b] - points_[a], points_[c] - points_[a]);
        DVec3 place;
        if (glm::length(normal) <= 0 || !projector.on_plane(at, points_[a], glm::normalize(normal), place)) continue;
        const double away = glm::distance(place, eye);
        if (away >= nearest) continue;
        nearest = away, found = place;
        if (normal_there) *normal_there = glm::normalize(normal) * (glm::dot(normal, eye - place) < 0 ? -1.0 : 1.0);
    }
    return found;
}

}  // namespace bricol
