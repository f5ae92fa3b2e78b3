// SPDX-License-Identifier: GPL-3.0-or-later
// Points led onto another surface.
#pragma once

#include <span>

#include "core/kernels/surface_finder.h"

namespace bricol {

enum class ProjectBy : std::uint8_t {
    nearest,
    direction,  ///< along `direction`
    normals,    ///< along each point's own way
    centre,     ///< on rays from `centre`
    axis        ///< on rays that leave the axis `axis` through `centre` squarely
};
struct ProjectOptions {
    ProjectBy by = ProjectBy::nearest;
    DVec3 direction{0, 0, -1}, centre{0};
    int axis = 2;
    bool both_ways = true;  ///< also against the direction, whichever hit is nearer
    double reach = 1e30;    ///< farther hits count as misses (metres)
    double amount = 1;      ///< share of the way that is gone, 0..1
    double lift = 0;        ///< off the surface along its own normal (metres)
};
struct Projected {
    std::vector<DVec3> points;  ///< where each point goes; its old place when it misses
    std::vector<SurfaceHit> hits;
    std::vector<std::size_t> missed;
};
/// `ways` are the points' normals, asked for by `normals` only. On all threads.
Projected projected(std::span<const Vec3> points, std::span<const Vec3> ways, const SurfaceFinder& onto,
                    const ProjectOptions& options);

}  // namespace bricol
