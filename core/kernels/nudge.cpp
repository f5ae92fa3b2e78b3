// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/nudge.h"

#include "core/ground/parallel.h"
#include "core/ground/stop.h"
#include "core/kernels/transform.h"

namespace bricol {

double soft_share(double distance, double radius) {
    if (!(distance < radius)) return 0;
    const double u = 1 - distance / radius;
    return u * u * (3 - 2 * u);
}

Array<Vec3> nudged(const Array<Vec3>& points, std::span<const Pull> pulls, const NudgeOptions& o) {
    Array<Vec3> out = points;
    const bool moves_only = o.turn == DVec3(0) && o.size == DVec3(1);
    const auto pulled = [&](const DVec3& at, const DVec3& move, double share) {
        const DVec3 to = at + move * share;
        if (moves_only) return to;
        return DVec3(placement(DVec3(0), o.turn * share, DVec3(1) + (o.size - DVec3(1)) * share, o.about) *
                     glm::dvec4(to, 1));
    };
    if (o.soft > 0)
        parallel::each(parallel::Numbers<std::size_t>(0, points.size(), 512), [&](const auto& range) {
            for (std::size_t v = range.begin(); v != range.end(); ++v) {
                stop_point();
                double nearest = o.soft;
                const Pull* by = nullptr;
                for (const Pull& pull : pulls)
                    if (const double d = glm::distance(DVec3(points[pull.vertex]), DVec3(points[v])); d < nearest)
                        nearest = d, by = &pull;
                if (by) out[v] = Vec3(pulled(DVec3(points[v]), by->move, soft_share(nearest, o.soft)));
            }
        });
    for (const Pull& pull : pulls) out[pull.vertex] = Vec3(pulled(DVec3(points[pull.vertex]), pull.move, 1));
    return out;
}

}  // namespace bricol
