// SPDX-License-Identifier: GPL-3.0-or-later
// Faces that cross one another, by exact predicates.
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <algorithm>

#include "core/ground/parallel.h"
#include "core/ground/stop.h"
#include "core/kernels/boolean.h"
#include "core/kernels/box_tree.h"
#include "core/kernels/triangles_apart.h"
#include "core/kernels/triangulate.h"

namespace bricol {

namespace {

using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;

Kernel::Triangle_3 exact(const std::array<DVec3, 3>& corners) {
    const auto point = [](const DVec3& p) { return Kernel::Point_3(p.x, p.y, p.z); };
    return {point(corners[0]), point(corners[1]), point(corners[2])};
}

}  // namespace

std::vector<std::array<Index, 2>> crossing_faces(const Mesh& mesh, std::size_t most) {
    if (mesh.face_count() < 2) return {};  // a face may cross others, not itself
    const Triangles all = triangulated(mesh);
    // Every triangle is drawn in by a thousandth towards its middle: neighbours, T-shaped touches and what rounding
    // does to thin triangles are no crossings then.
    std::vector<std::array<DVec3, 3>> triangles(all.count());
    std::vector<Box> boxes(all.count(), Box::nothing());
    parallel::each(parallel::Numbers<std::size_t>(0, all.count(), 2048), [&](const auto& range) {
        stop_point();
        for (std::size_t i = range.begin(); i != range.end(); ++i) {
            auto& p = triangles[i];
            for (std::size_t k = 0; k < 3; ++k)
                p[k] = DVec3((*mesh.positions)[mesh.topology->corner_vertex[all.corners[3 * i + k]]]);
            const DVec3 middle = (p[0] + p[1] + p[2]) / 3.0;
            for (DVec3& q : p) q += (middle - q) * 1e-3;
            if (exact(p).is_degenerate()) continue;
            for (const DVec3& q : p) boxes[i].add(q);
        }
    });
    const BoxTree tree(boxes);
    const auto cross = [&](std::size_t place, std::size_t other) {
        const Index i = tree.order()[place], j = tree.order()[other];
        return all.face[i] != all.face[j] && !clearly_apart(triangles[i], triangles[j]) &&
               CGAL::do_intersect(exact(triangles[i]), exact(triangles[j]));
    };
    // Two faces may cross in several of their triangles.
    constexpr std::size_t several = 16;
    std::vector<std::array<Index, 2>> pairs = tree.pairs(cross, most * several);
    for (auto& [i, j] : pairs) {
        const Index a = all.face[i], b = all.face[j];
        i = std::min(a, b), j = std::max(a, b);
    }
    std::sort(pairs.begin(), pairs.end());
    pairs.erase(std::unique(pairs.begin(), pairs.end()), pairs.end());
    if (pairs.size() > most) pairs.resize(most);
    return pairs;
}

}  // namespace bricol
