// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/project.h"

#include "core/ground/stop.h"
#include "core/kernels/normals.h"
#include "core/ground/parallel.h"

namespace bricol {

Projected projected(std::span<const Vec3> points, std::span<const Vec3> ways, const SurfaceFinder& onto,
                    const ProjectOptions& options) {
    Projected out;
    out.points.resize(points.size());
    out.hits.resize(points.size());
    const Array<Vec3> flat = face_normals(onto.mesh());
    parallel::each(parallel::Numbers<std::size_t>(0, points.size(), 256), [&](const auto& range) {
        stop_point();
        for (std::size_t i = range.begin(); i < range.end(); ++i) {
            const DVec3 p(points[i]);
            SurfaceHit hit;
            if (options.by == ProjectBy::nearest) {
                hit = onto.nearest(p, options.reach);
            } else {
                DVec3 way = options.direction;
                if (options.by == ProjectBy::normals) way = DVec3(ways[i]);
                if (options.by == ProjectBy::centre || options.by == ProjectBy::axis) {
                    way = p - options.centre;
                    if (options.by == ProjectBy::axis) way[options.axis] = 0;
                }
                if (glm::length(way) > 0) {
                    way = glm::normalize(way);
                    hit = onto.along(p, way, options.reach);
                    if (options.both_ways || options.by == ProjectBy::centre || options.by == ProjectBy::axis) {
                        // Towards a centre or axis the ray ends there: what lies beyond is the other side.
                        double reach = options.reach;
                        if (options.by == ProjectBy::centre) reach = std::min(reach, glm::distance(p, options.centre));
                        if (options.by == ProjectBy::axis) {
                            DVec3 across = p - options.centre;
                            across[options.axis] = 0;
                            reach = std::min(reach, glm::length(across));
                        }
                        const SurfaceHit back = onto.along(p, -way, reach);
                        if (back && (!hit || back.distance < hit.distance)) hit = back;
                    }
                }
            }
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
