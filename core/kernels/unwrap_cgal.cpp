// SPDX-License-Identifier: GPL-3.0-or-later
// CGAL's least squares conformal maps, behind one function.
#include <CGAL/Simple_cartesian.h>
#include <CGAL/Surface_mesh.h>
#include <CGAL/Surface_mesh_parameterization/Error_code.h>
#include <CGAL/Surface_mesh_parameterization/LSCM_parameterizer_3.h>
#include <CGAL/Surface_mesh_parameterization/parameterize.h>
#include <algorithm>
#include <cmath>

#include "core/kernels/uv.h"

namespace bricol {

namespace parameterization = CGAL::Surface_mesh_parameterization;

std::vector<DVec2> flattened_disc(const std::vector<DVec3>& points,
                                  const std::vector<std::array<Index, 3>>& triangles) {
    using Kernel = CGAL::Simple_cartesian<double>;
    using Surface = CGAL::Surface_mesh<Kernel::Point_3>;
    // The solver asks after every triangle's own plane.
    double extent = 0;
    for (const DVec3& p : points) extent = std::max(extent, glm::distance(p, points[0]));
    if (!(extent > 0) || !std::isfinite(extent)) return {};
    for (const auto& [a, b, c] : triangles)
        if (!(glm::length(glm::cross(points[b] - points[a], points[c] - points[a])) > 1e-12 * extent * extent))
            return {};
    Surface surface;
    for (const DVec3& p : points) surface.add_vertex({p.x, p.y, p.z});
    for (const auto& t : triangles)
        if (surface.add_face(Surface::Vertex_index(t[0]), Surface::Vertex_index(t[1]), Surface::Vertex_index(t[2])) ==
            Surface::null_face())
            return {};
    // One border, and as many vertices and faces as edges and one: a disc.
    Surface::Halfedge_index border = Surface::null_halfedge();
    std::size_t borders = 0;
    std::vector<std::uint8_t> seen(surface.number_of_halfedges() + 1, 0);
    for (const auto h : surface.halfedges()) {
        if (!surface.is_border(h) || seen[h]) continue;
        ++borders;
        border = h;
        for (auto walk = h; !seen[walk]; walk = surface.next(walk)) seen[walk] = 1;
    }
    if (borders != 1 || surface.number_of_vertices() + surface.number_of_faces() != surface.number_of_edges() + 1)
        return {};
    auto map = surface.add_property_map<Surface::Vertex_index, Kernel::Point_2>("v:uv").first;
    using Border = parameterization::Two_vertices_parameterizer_3<Surface>;
    if (parameterization::parameterize(surface, parameterization::LSCM_parameterizer_3<Surface, Border>(), border,
                                       map) != parameterization::OK)
        return {};
    std::vector<DVec2> out;
    for (const auto v : surface.vertices()) out.emplace_back(map[v].x(), map[v].y());
    for (const DVec2& p : out)
        if (!std::isfinite(p.x) || !std::isfinite(p.y)) return {};
    return out;
}

}  // namespace bricol
