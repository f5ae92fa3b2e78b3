// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <cmath>

#include "core/ground/numbers.h"
#include "core/ground/stop.h"
#include "core/kernels/sweep.h"
#include "core/kernels/transform.h"

namespace bricol {

namespace {

/// Radians by which the section turns about the path from one ring to the next, at most.
double turn_between_rings(const Path& path, double twist) {
    double most = 0;
    for (std::size_t i = 0; i < path.pieces(); ++i) {
        const std::size_t next = (i + 1) % path.size();
        most = std::max(most, std::abs(path.points[next].roll - path.points[i].roll +
                                       twist * path.length_of_piece(i) / path.whole));
    }
    return most;
}

}  // namespace

SweptPaths swept_paths(std::span<const Path> paths, std::span<const SectionLoop> section, SweepOptions options,
                       double twist_each) {
    SweptPaths out;
    std::vector<Mesh> meshes;
    const double twist = options.twist;
    for (const Path& path : paths) {
        options.twist = twist + twist_each * path.whole;
        SweepResult one = sweep(path, section, options);
        stop_point();
        meshes.push_back(std::move(one.mesh));
        SweepResult& all = out.all;
        all.start.insert(all.start.end(), one.start.begin(), one.start.end());
        all.end.insert(all.end.end(), one.end.begin(), one.end.end());
        all.tight.insert(all.tight.end(), one.tight.begin(), one.tight.end());
        all.long_mitres += one.long_mitres;
        if (std::abs(one.closing_gap) > std::abs(all.closing_gap)) all.closing_gap = one.closing_gap;
        out.most_twist = std::max(out.most_twist, std::abs(options.twist));
        out.between_rings =
            std::max(out.between_rings, turn_between_rings(path, options.twist - glm::radians(one.closing_gap)));
    }
    out.all.mesh = meshes.size() == 1 ? std::move(meshes[0]) : joined_meshes(meshes);
    return out;
}

double shortest_piece(std::span<const Path> paths) {
    double shortest = 1e300;
    for (const Path& path : paths)
        for (std::size_t i = 0; i < path.pieces(); ++i) shortest = std::min(shortest, path.length_of_piece(i));
    return shortest;
}

bool has_no_area(const SectionLoop& loop) {
    double area = 0, wide = 0;
    for (std::size_t i = 0; i < loop.points.size(); ++i) {
        area += cross2(loop.points[i], loop.points[(i + 1) % loop.points.size()]) / 2;
        wide = std::max(wide, glm::distance(loop.points[i], loop.points[0]));
    }
    return std::abs(area) < 1e-6 * wide * wide;
}

}  // namespace bricol
