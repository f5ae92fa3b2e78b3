// SPDX-License-Identifier: GPL-3.0-or-later
// Quads that follow the form.
#pragma once

#include <span>
#include <vector>

#include "core/kernels/remesh_sizes.h"
#include "core/shape/mesh.h"

namespace bricol {

/// How many sides of the even triangles below go on the side of a quad: with fewer, cells are missed.
inline constexpr double quad_fineness = 2.4;

struct QuadOptions {
    double faces = 4000;                ///< wanted; what comes of it lies near
    double hold_angle = 60;             ///< edges whose faces turn by more are held (degrees); 180 for none
    std::span<const Index> held_edges;  ///< edges of the mesh that are held whatever their angle
    RemeshSizes sizes;
};

struct QuadResult {
    Mesh mesh;
    bool refused = false;  ///< some edge has more than two faces, or two that point opposite ways
    std::size_t quads = 0, triangles = 0;
    std::size_t crossing = 0;  ///< pairs of faces that cross one another
    double cell = 0;           ///< side of a face where sizes are even (metres)
    double worst_edge = 0;     ///< how far a held edge lies from the edges that stand for it (metres)
    DVec3 worst_at{0};         ///< where
};

/// Covers the surface with quads whose edges follow its curvature and lie on borders, sharp and chosen edges. A cross
/// of directions is laid on even triangles over it (quad_field.h), a square lattice along the crosses, the triangles'
/// vertices joined round every lattice point, and triangles paired over the diagonals of cells. Joining never opens,
/// pinches or closes anything: the result has the Euler characteristic and the borders of the mesh. A few triangles
/// may stay. Vertex and face attributes are taken from the nearest place of the old surface, corner and edge
/// attributes dropped. About 1 ms for 100 faces.
QuadResult quad_remeshed(const Mesh& mesh, const QuadOptions& options);

}  // namespace bricol
