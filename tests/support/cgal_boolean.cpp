// SPDX-License-Identifier: GPL-3.0-or-later
// The only file that includes CGAL's corefinement: it takes half a minute and 1.6 GB to compile.
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Polygon_mesh_processing/corefinement.h>
#include <CGAL/Polygon_mesh_processing/measure.h>
#include <CGAL/Surface_mesh.h>

#include "core/kernels/triangulate.h"
#include "tests/support/cgal_check.h"

namespace bricol::test {

namespace {

namespace PMP = CGAL::Polygon_mesh_processing;
using Surface = CGAL::Surface_mesh<CGAL::Exact_predicates_inexact_constructions_kernel::Point_3>;

Surface surface_of(const Mesh& mesh) {
    Surface out;
    for (const Vec3& p : *mesh.positions) out.add_vertex({p.x, p.y, p.z});
    const Triangles all = triangulated(mesh);
    for (std::size_t i = 0; i < all.count(); ++i) {
        const auto v = [&](std::size_t k) {
            return Surface::Vertex_index(mesh.topology->corner_vertex[all.corners[3 * i + k]]);
        };
        out.add_face(v(0), v(1), v(2));
    }
    return out;
}

}  // namespace

std::optional<double> cgal_boolean_volume(const Mesh& first, const Mesh& second, int kind) {
    Surface a = surface_of(first), b = surface_of(second), out;
    const bool good = kind == 0   ? PMP::corefine_and_compute_union(a, b, out)
                      : kind == 1 ? PMP::corefine_and_compute_difference(a, b, out)
                                  : PMP::corefine_and_compute_intersection(a, b, out);
    if (!good) return std::nullopt;
    return CGAL::to_double(PMP::volume(out));
}

}  // namespace bricol::test
