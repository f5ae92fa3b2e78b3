// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/cgal_peer.h"

#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Polygon_mesh_processing/corefinement.h>
#include <CGAL/Polygon_mesh_processing/remesh.h>
#include <CGAL/Surface_mesh.h>

using Surface = CGAL::Surface_mesh<CGAL::Exact_predicates_inexact_constructions_kernel::Point_3>;

struct CgalDifference::Parts {
    Surface a, b, a_now, b_now;
};

namespace {

Surface surface_of(const bricol::Mesh& mesh) {
    Surface out;
    for (const bricol::Vec3& p : *mesh.positions) out.add_vertex({p.x, p.y, p.z});
    for (std::size_t f = 0; f < mesh.face_count(); ++f) {
        const auto face = mesh.topology->face(f);
        out.add_face(Surface::Vertex_index(face[0]), Surface::Vertex_index(face[1]), Surface::Vertex_index(face[2]));
    }
    return out;
}

}  // namespace

CgalDifference::CgalDifference(const bricol::Mesh& a, const bricol::Mesh& b)
    : parts_(new Parts{surface_of(a), surface_of(b), {}, {}}) {}
CgalDifference::~CgalDifference() = default;
void CgalDifference::prepare() {
    parts_->a_now = parts_->a;
    parts_->b_now = parts_->b;
}
std::size_t CgalDifference::run() {
    Surface out;
    return CGAL::Polygon_mesh_processing::corefine_and_compute_difference(parts_->a_now, parts_->b_now, out)
               ? out.number_of_faces()
               : 0;
}

std::size_t cgal_remesh(const std::vector<bricol::DVec3>& points,
                        const std::vector<std::array<bricol::Index, 3>>& triangles, double edge, int rounds) {
    Surface mesh;
    for (const bricol::DVec3& p : points) mesh.add_vertex({p.x, p.y, p.z});
    for (const auto& t : triangles)
        mesh.add_face(Surface::Vertex_index(t[0]), Surface::Vertex_index(t[1]), Surface::Vertex_index(t[2]));
    CGAL::Polygon_mesh_processing::isotropic_remeshing(
        mesh.faces(), edge, mesh,
        CGAL::Polygon_mesh_processing::parameters::number_of_iterations(static_cast<unsigned>(rounds)));
    mesh.collect_garbage();
    return mesh.number_of_faces();
}
