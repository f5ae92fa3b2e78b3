// SPDX-License-Identifier: GPL-3.0-or-later
// Even triangles of one edge length.
#pragma once

#include <array>
#include <vector>

#include "core/kernels/remesh_sizes.h"
#include "core/kernels/triangulate.h"
#include "core/shape/sets.h"

namespace bricol {

/// How large a mesh is, as far as remeshing minds.
struct RemeshExtent {
    double area = 0;              ///< m^2
    double thinnest = 1e30;       ///< the shortest side of its box that is not nothing (metres)
    std::vector<double> longest;  ///< the longest edge of every face, longest first (metres)

    /// About how many triangles edges of this length will make; never far too few.
    double faces(double edge) const;
    /// The length that makes some 4 000 triangles, at most the thinnest side when that makes no more than 50 000;
    /// two digits of it, so that it does not move with every hair's breadth. 0 without area.
    double fitting_edge() const;
};
RemeshExtent remesh_extent(const Mesh& mesh);

class EvenTriangles;
class SurfaceFinder;

struct RemeshOptions {
    double edge = 0.05;  ///< wanted length of every edge (metres)
    int rounds = 3;
    double hold_angle =
        60;  ///< edges whose faces turn by more stay in place (cut or joined along themselves); 180 for none
    bool hold_borders = false;  ///< border points stay; otherwise borders are cut along themselves
    /// Pairs of points whose edge is held whatever its angle, the lower first, in ascending order.
    std::vector<std::array<Index, 2>> held_edges;
    /// The wanted length at every point, instead of `edge`; empty for the same everywhere.
    std::vector<double> lengths;
    /// What of the whole work the rounds are: told from one share up to the other.
    double share_before = 0, share_behind = 1;
};
struct RemeshResult {
    Mesh mesh;
    bool refused = false;  ///< the mesh is not one that can be remeshed: edges with more than two faces
};
/// Splits edges longer than 4/3, joins those shorter than 4/5 of the wanted length, flips for even neighbours, relaxes
/// and goes back to the surface, `rounds` times. M. Botsch and L. Kobbelt, "A remeshing approach to multiresolution
/// modeling", 2004. Gives triangles; vertex and face attributes are taken from the nearest place of the old surface,
/// corner and edge attributes dropped.
/// `held` edges of the mesh stay in place whatever their angle.
RemeshResult remeshed(const Mesh& mesh, RemeshOptions options, std::span<const Index> held = {},
                      const RemeshSizes& sizes = {});

/// The bare operation on triangles, for the kernel and its benchmark. False when edges have more than two triangles.
struct RemeshTriangles {
    std::vector<DVec3> points;
    std::vector<std::array<Index, 3>> triangles;
    std::vector<DVec3> face_normals;  ///< any length, of the face each triangle was cut from; may be empty
};
bool remesh_triangles(RemeshTriangles& mesh, const RemeshOptions& options, const SurfaceFinder& surface);

/// The mesh as triangles on points of their own; of each mesh vertex its point.
RemeshTriangles remesh_soup(const Mesh& mesh, const Triangles& cut, std::vector<Index>& point_of);
/// What is left of them as triangles.
RemeshTriangles remesh_soup(const EvenTriangles& work);
/// Edges of the mesh as RemeshOptions::held_edges wants them.
std::vector<std::array<Index, 2>> remesh_held_edges(const Topology& topology, std::span<const Index> edges,
                                                    const std::vector<Index>& point_of);
/// The operation with what is held still known: takes the triangles and gives them even. False as above.
bool remesh_evenly(EvenTriangles& work, RemeshTriangles& mesh, const RemeshOptions& options,
                   const SurfaceFinder& surface);
/// Its two halves: the first round up to where the surface is asked for, and the rest.
bool remesh_cut(EvenTriangles& work, RemeshTriangles& mesh, const RemeshOptions& options);
void remesh_rest(EvenTriangles& work, const RemeshOptions& options, const SurfaceFinder& surface);
/// Some more rounds on what has been made even and knows what is held.
void remesh_further(EvenTriangles& work, const RemeshOptions& options, const SurfaceFinder& surface);

}  // namespace bricol
