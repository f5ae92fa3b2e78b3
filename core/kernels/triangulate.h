// SPDX-License-Identifier: GPL-3.0-or-later
// Faces as triangles, for drawing, export and measuring.
#pragma once

#include "core/shape/mesh.h"
#include "core/shape/selection.h"

namespace bricol {

/// Three corner numbers (of the mesh's topology) per triangle, and the face each came from; in face order.
/// Convex faces are fans, quads split along the diagonal that keeps both halves facing the same way, concave polygons
/// go through a constrained Delaunay triangulation (CGAL). A polygon that crosses itself falls back to a fan.
struct Triangles {
    Array<Index> corners;
    Array<Index> face;
    std::size_t count() const { return face.size(); }
};
Triangles triangulated(const Mesh& mesh);
/// Those of faces `begin` up to `end`.
Triangles triangulated(const Mesh& mesh, std::size_t begin, std::size_t end);

/// Triangles of one planar polygon, as positions in `loop`; empty when it crosses itself. CGAL lives behind this.
std::vector<std::array<int, 3>> triangulate_polygon(const std::vector<DVec2>& loop);

/// The same for several loops that do not cross; what lies inside an odd number of them is filled. Points are numbered
/// through all loops.
std::vector<std::array<int, 3>> triangulate_loops(const std::vector<std::vector<DVec2>>& loops);

/// Every face as triangles.
Mesh with_triangles(const Mesh& mesh, const Selection& faces = {});

}  // namespace bricol
