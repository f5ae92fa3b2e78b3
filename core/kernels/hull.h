// SPDX-License-Identifier: GPL-3.0-or-later
// Convex shapes round points and round pieces of a mesh: what engines collide with.
#pragma once

#include <vector>

#include "core/shape/mesh.h"

namespace bricol {

/// The convex hull of points (CGAL behind, in hull_cgal.cpp), a polygon for every flat side, facing out; an empty mesh
/// when all of them lie in one plane. O(points x log points).
Mesh convex_hull(std::span<const Vec3> points);

/// Parts a surface into at most `most` groups of triangles whose hulls follow it (K. Mamou and F. Ghorbel, "A simple
/// and efficient approach for 3D mesh approximate convex decomposition", 2009; Bullet's extras behind, in
/// convex_pieces_bullet.cpp), and gives the hull of each, largest first. Loose pieces are parted one by one, so that no
/// hull spans a gap. Beyond `most_triangles` a lighter copy of the surface is parted. Flat pieces give none.
std::vector<Mesh> convex_pieces(const Mesh& mesh, std::size_t most, std::size_t most_triangles = 1000);

/// Groups of one connected surface: a number for every triangle (three points each). In convex_pieces_bullet.cpp.
std::vector<Index> convex_groups(std::span<const Vec3> points, std::span<const Index> triangles, std::size_t most);

}  // namespace bricol
