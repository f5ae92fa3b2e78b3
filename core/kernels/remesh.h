// SPDX-License-Identifier: GPL-3.0-or-later
// Even triangles of one edge length (CGAL behind).
#pragma once

#include <vector>

#include "core/shape/sets.h"

namespace bricol {

struct RemeshOptions {
    double edge = 0.05;  ///< wanted length of every edge (metres)
    int rounds = 3;
    double hold_angle =
        60;  ///< edges whose faces turn by more stay in place (cut or joined along themselves); 180 for none
    bool hold_borders = false;  ///< border points stay; otherwise borders are cut along themselves
};
struct RemeshResult {
    Mesh mesh;
    bool refused = false;  ///< the mesh is not one that can be remeshed: edges with more than two faces
};
/// Splits edges longer than 4/3, joins those shorter than 4/5 of the wanted length, flips for even neighbours, relaxes
/// and goes back to the surface, `rounds` times. M. Botsch and L. Kobbelt, "A remeshing approach to multiresolution
/// modeling", 2004. Gives triangles; vertex and face attributes are taken from the nearest place of the old surface,
/// corner and edge attributes dropped.
RemeshResult remeshed(const Mesh& mesh, const RemeshOptions& options);

/// The bare operation on triangles, for the kernel and its benchmark.
struct RemeshTriangles {
    std::vector<DVec3> points;
    std::vector<std::array<Index, 3>> triangles;
};
bool remesh_triangles(RemeshTriangles& mesh, const RemeshOptions& options);

}  // namespace bricol
