// SPDX-License-Identifier: GPL-3.0-or-later
// Faces that cross one another, by exact predicates.
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Random.h>
#include <CGAL/box_intersection_d.h>
#include <algorithm>

#include "core/ground/stop.h"
#include "core/kernels/boolean.h"
#include "core/kernels/triangulate.h"

namespace bricol {

namespace {

using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;

/// CGAL's box sweep draws lots; from the same seed it numbers what it finds the same way on every run and thread.
void start_alike() { CGAL::get_default_random() = CGAL::Random(1); }

}  // namespace

std::vector<std::array<Index, 2>> crossing_faces(const Mesh& mesh, std::size_t most) {
    using Triangle = Kernel::Triangle_3;
    using Box = CGAL::Box_intersection_d::Box_with_info_d<double, 3, Index>;
    if (mesh.face_count() < 2) return {};  // a face may cross others, not itself
    const Triangles all = triangulated(mesh);
    // Every triangle is drawn in by a thousandth towards its middle: neighbours, T-shaped touches and what rounding
    // does to thin triangles are no crossings then.
    std::vector<Triangle> triangles;
    std::vector<Box> boxes;
    for (Index i = 0; i < all.count(); ++i) {
        stop_point(i);
        std::array<DVec3, 3> p;
        for (std::size_t k = 0; k < 3; ++k)
            p[k] = DVec3((*mesh.positions)[mesh.topology->corner_vertex[all.corners[3 * i + k]]]);
        const DVec3 middle = (p[0] + p[1] + p[2]) / 3.0;
        for (DVec3& q : p) q += (middle - q) * 1e-3;
        triangles.emplace_back(Kernel::Point_3(p[0].x, p[0].y, p[0].z), Kernel::Point_3(p[1].x, p[1].y, p[1].z),
                               Kernel::Point_3(p[2].x, p[2].y, p[2].z));
        if (!triangles.back().is_degenerate()) boxes.emplace_back(triangles.back().bbox(), i);
    }
    std::vector<std::array<Index, 2>> pairs;
    struct Enough {};
    std::size_t looked_at = 0;
    const auto look = [&](const Box& x, const Box& y) {
        stop_point(looked_at++);
        const Index i = x.info(), j = y.info();
        if (all.face[i] == all.face[j] || !CGAL::do_intersect(triangles[i], triangles[j])) return;
        pairs.push_back({std::min(all.face[i], all.face[j]), std::max(all.face[i], all.face[j])});
        if (pairs.size() >= most) throw Enough();
    };
    start_alike();
    try {
        CGAL::box_self_intersection_d(boxes.begin(), boxes.end(), look);
    } catch (const Enough&) {
    }
    std::sort(pairs.begin(), pairs.end());
    pairs.erase(std::unique(pairs.begin(), pairs.end()), pairs.end());
    return pairs;
}

}  // namespace bricol
