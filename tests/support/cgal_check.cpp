// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/support/cgal_check.h"

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

}  // namespace bricol::test
