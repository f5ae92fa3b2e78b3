// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/project.h"

#include <algorithm>
#include <array>

#include "core/ground/stop.h"
#include "core/kernels/normals.h"
#include "core/ground/parallel.h"

namespace bricol {

namespace {

/// A point's ray and the one against it.
struct Rays {
    DVec3 way{0};  ///< of length 1; 0 for a point that has none
    SurfaceRay ahead, behind;
};

Rays rays_of(const SurfaceFinder& onto, const DVec3& p, const DVec3& way, const ProjectOptions& options) {
    const double length = glm::length(way);
    if (!(length > 0)) return {};
    Rays out{way / length, {}, {}};
    out.ahead = onto.first(p, out.way, options.reach);
    double reach = options.reach;
    // Towards a centre or axis the ray ends there: what lies beyond is the other side.
    if (options.by == ProjectBy::centre) reach = std::min(reach, glm::distance(p, options.centre));
    if (options.by == ProjectBy::axis) {
        DVec3 across = p - options.centre;
        across[options.axis] = 0;
        reach = std::min(reach, glm::length(across));
    }
    if (options.both_ways || options.by == ProjectBy::centre || options.by == ProjectBy::axis)
        out.behind = onto.first(p, -out.way, reach);
    return out;
}

/// The nearer hit. Places are worked out for that one only, unless single precision cannot tell which it is.
SurfaceHit nearer_hit(const SurfaceFinder& onto, const DVec3& p, const Rays& rays) {
    const auto& [way, ahead, behind] = rays;
    if (!behind) return onto.crossing(ahead, p, way);
    if (!ahead) return onto.crossing(behind, p, -way);
    const double unclear = 1e-5 * (ahead.distance + behind.distance) + 1e-6 * glm::length(p);
    if (ahead.distance + unclear < behind.distance) return onto.crossing(ahead, p, way);
    if (behind.distance + unclear < ahead.distance) return onto.crossing(behind, p, -way);
    const SurfaceHit one = onto.crossing(ahead, p, way), other = onto.crossing(behind, p, -way);
    return other.distance < one.distance ? other : one;
}

DVec3 way_of(std::size_t i, const DVec3& p, std::span<const Vec3> ways, const ProjectOptions& options) {
    if (options.by == ProjectBy::normals) return DVec3(ways[i]);
    if (options.by == ProjectBy::direction) return options.direction;
    DVec3 way = p - options.centre;
    if (options.by == ProjectBy::axis) way[options.axis] = 0;
    return way;
}

}  // namespace

Projected projected(std::span<const Vec3> points, std::span<const Vec3> ways, const SurfaceFinder& onto,
                    const ProjectOptions& options) {
    Projected out;
    out.points.resize(points.size());
    out.hits.resize(points.size());
    const Array<Vec3> flat = face_normals(onto.mesh());
    parallel::each(parallel::Numbers<std::size_t>(0, points.size(), 256), [&](const auto& range) {
        stop_point();
        // All rays of a block before their places: those are on their way from memory meanwhile.
        std::array<Rays, 32> rays;
        for (std::size_t i = range.begin(); i < range.end(); ++i) {
            const std::size_t in_block = (i - range.begin()) % rays.size();
            if (options.by != ProjectBy::nearest && in_block == 0)
                for (std::size_t k = 0; k < std::min(rays.size(), range.end() - i); ++k) {
                    const DVec3 p(points[i + k]);
                    rays[k] = rays_of(onto, p, way_of(i + k, p, ways, options), options);
                }
            const DVec3 p(points[i]);
            const SurfaceHit hit =
                options.by == ProjectBy::nearest ? onto.nearest(p, options.reach) : nearer_hit(onto, p, rays[in_block]);
            out.hits[i] = hit;
            out.points[i] = p;
            if (!hit) continue;
            const DVec3 target = hit.at + DVec3(flat[onto.face_of()[hit.triangle]]) * options.lift;
            out.points[i] = p + (target - p) * options.amount;
        }
    });
    for (std::size_t i = 0; i < points.size(); ++i)
        if (!out.hits[i]) out.missed.push_back(i);
    return out;
}

}  // namespace bricol
