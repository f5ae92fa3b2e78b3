// SPDX-License-Identifier: GPL-3.0-or-later
// The only file that includes CGAL's remeshing.
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Polygon_mesh_processing/detect_features.h>
#include <CGAL/Polygon_mesh_processing/remesh.h>
#include <CGAL/Surface_mesh.h>

#include "core/ground/stop.h"
#include "core/kernels/remesh.h"

namespace bricol {

namespace {

namespace PMP = CGAL::Polygon_mesh_processing;
using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
using Surface = CGAL::Surface_mesh<Kernel::Point_3>;

/// The points, asked for all the time: the one place where CGAL lets a stop in.
struct StoppingPoints {
    using Map = Surface::Property_map<Surface::Vertex_index, Kernel::Point_3>;
    using key_type = Surface::Vertex_index;
    using value_type = Kernel::Point_3;
    using reference = const Kernel::Point_3&;
    using category = boost::read_write_property_map_tag;

    Map points;
    mutable std::size_t asked = 0;

    friend reference get(const StoppingPoints& map, key_type v) {
        stop_point(++map.asked);
        return map.points[v];
    }
    friend void put(const StoppingPoints& map, key_type v, const value_type& p) { map.points[v] = p; }
};

}  // namespace

bool remesh_triangles(RemeshTriangles& soup, const RemeshOptions& options) {
    Surface mesh;
    for (const DVec3& p : soup.points) mesh.add_vertex({p.x, p.y, p.z});
    for (const auto& [a, b, c] : soup.triangles)
        if (mesh.add_face(Surface::Vertex_index(a), Surface::Vertex_index(b), Surface::Vertex_index(c)) ==
            Surface::null_face())
            return false;
    auto held = mesh.add_property_map<Surface::Edge_index, bool>("e:held", false).first;
    if (options.hold_angle < 180) PMP::detect_sharp_edges(mesh, options.hold_angle, held);
    for (const auto e : mesh.edges())
        if (mesh.is_border(e)) held[e] = true;
    // Long held edges are cut first, so that what is left of them need not be joined across.
    std::vector<Surface::Edge_index> long_edges;
    if (!options.hold_borders) {
        for (const auto e : mesh.edges())
            if (held[e]) long_edges.push_back(e);
        PMP::split_long_edges(long_edges, options.edge, mesh, PMP::parameters::edge_is_constrained_map(held));
    }
    const auto rounds = static_cast<unsigned>(options.rounds);
    const StoppingPoints points{mesh.points()};
    bool any_held = false;
    for (const auto e : mesh.edges()) any_held = any_held || held[e];
    if (any_held)
        PMP::isotropic_remeshing(mesh.faces(), options.edge, mesh,
                                 PMP::parameters::number_of_iterations(rounds)
                                     .vertex_point_map(points)
                                     .edge_is_constrained_map(held)
                                     .protect_constraints(options.hold_borders)
                                     .relax_constraints(false));
    else  // asking after every edge whether it is held costs a tenth
        PMP::isotropic_remeshing(mesh.faces(), options.edge, mesh,
                                 PMP::parameters::number_of_iterations(rounds).vertex_point_map(points));
    mesh.collect_garbage();
    soup.points.clear();
    soup.triangles.clear();
    for (const auto v : mesh.vertices()) {
        const auto& p = mesh.point(v);
        soup.points.emplace_back(p.x(), p.y(), p.z());
    }
    for (const auto f : mesh.faces()) {
        std::array<Index, 3> triangle{};
        std::size_t i = 0;
        for (const auto v : CGAL::vertices_around_face(mesh.halfedge(f), mesh))
            triangle[i++ % 3] = static_cast<Index>(v);
        soup.triangles.push_back(triangle);
    }
    return true;
}

}  // namespace bricol
