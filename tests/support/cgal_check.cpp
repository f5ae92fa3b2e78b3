// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/support/cgal_check.h"

#include <CGAL/AABB_traits.h>
#include <CGAL/AABB_tree.h>
#include <CGAL/AABB_triangle_primitive.h>
#include <CGAL/Simple_cartesian.h>
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Polygon_mesh_processing/measure.h>
#include <CGAL/Polygon_mesh_processing/orientation.h>
#include <CGAL/Polygon_mesh_processing/polygon_soup_to_polygon_mesh.h>
#include <CGAL/Polygon_mesh_processing/self_intersections.h>
#include <CGAL/Surface_mesh.h>

#include "core/kernels/triangulate.h"

namespace bricol::test {

CgalOpinion cgal_opinion(const Mesh& mesh) {
    namespace PMP = CGAL::Polygon_mesh_processing;
    using Point = CGAL::Exact_predicates_inexact_constructions_kernel::Point_3;
    CgalOpinion opinion;
    const Triangles all = triangulated(mesh);
    std::vector<Point> points;
    for (const Vec3& p : *mesh.positions) points.emplace_back(p.x, p.y, p.z);
    std::vector<std::vector<std::size_t>> triangles;
    for (std::size_t i = 0; i < all.count(); ++i) {
        triangles.emplace_back();
        for (int k = 0; k < 3; ++k) triangles.back().push_back(mesh.topology->corner_vertex[all.corners[3 * i + k]]);
    }
    opinion.polygon_mesh = PMP::is_polygon_soup_a_polygon_mesh(triangles);
    if (!opinion.polygon_mesh) return opinion;
    CGAL::Surface_mesh<Point> surface;
    PMP::polygon_soup_to_polygon_mesh(points, triangles, surface);
    opinion.closed = CGAL::is_closed(surface);
    opinion.crosses_itself = PMP::does_self_intersect(surface);
    if (opinion.closed) {
        opinion.volume = PMP::volume(surface);
        opinion.outward = !opinion.crosses_itself && PMP::is_outward_oriented(surface);
    }
    return opinion;
}

std::vector<DVec3> cgal_nearest(const Mesh& mesh, const std::vector<Vec3>& points) {
    using Simple = CGAL::Simple_cartesian<double>;
    using Triangle = Simple::Triangle_3;
    std::vector<Triangle> list;
    const Triangles cut = triangulated(mesh);
    const auto at = [&](Index corner) {
        const Vec3& p = (*mesh.positions)[mesh.topology->corner_vertex[corner]];
        return Simple::Point_3(static_cast<double>(p.x), static_cast<double>(p.y), static_cast<double>(p.z));
    };
    for (std::size_t t = 0; t < cut.count(); ++t)
        list.emplace_back(at(cut.corners[3 * t]), at(cut.corners[3 * t + 1]), at(cut.corners[3 * t + 2]));
    using Primitive = CGAL::AABB_triangle_primitive<Simple, std::vector<Triangle>::const_iterator>;
    CGAL::AABB_tree<CGAL::AABB_traits<Simple, Primitive>> tree(list.cbegin(), list.cend());
    tree.accelerate_distance_queries();
    std::vector<DVec3> out;
    for (const Vec3& p : points) {
        const auto q = tree.closest_point(
            Simple::Point_3(static_cast<double>(p.x), static_cast<double>(p.y), static_cast<double>(p.z)));
        out.emplace_back(q.x(), q.y(), q.z());
    }
    return out;
}

}  // namespace bricol::test
