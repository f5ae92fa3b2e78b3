// SPDX-License-Identifier: GPL-3.0-or-later
// CGAL's own opinion of a mesh.
#pragma once

#include <optional>

#include "core/shape/mesh.h"

namespace bricol::test {

struct CgalOpinion {
    bool polygon_mesh = false;    ///< the triangles make a manifold, oriented mesh
    bool closed = false;          ///< CGAL::is_closed
    bool crosses_itself = false;  ///< Polygon_mesh_processing::does_self_intersect, exact
    bool outward = false;         ///< Polygon_mesh_processing::is_outward_oriented, when closed
    double volume = 0;
};
/// Looks at the faces as triangles. Pieces of a mesh are looked at together.
CgalOpinion cgal_opinion(const Mesh& mesh);

/// Volume of a boolean by CGAL's corefinement; `kind` 0 union, 1 difference, 2 intersection. Nothing when it refuses.
std::optional<double> cgal_boolean_volume(const Mesh& a, const Mesh& b, int kind);

/// Nearest place on the mesh to each point by CGAL's AABB tree.
std::vector<DVec3> cgal_nearest(const Mesh& mesh, const std::vector<Vec3>& points);

}  // namespace bricol::test
