// SPDX-License-Identifier: GPL-3.0-or-later
// Closed shapes melted into one skin through a field of cells (OpenVDB behind).
#pragma once

#include <span>
#include <vector>

#include "core/shape/mesh.h"

namespace bricol {

enum class FuseKind : std::uint8_t { join, cut, common };
enum class FuseSmoothing : std::uint8_t {
    none,
    even,  ///< the mean of the cells round each (box filter)
    soft,  ///< weighed by distance (Gaussian)
    edges  ///< the middle one in order (median): keeps ridges
};

struct FuseOptions {
    FuseKind kind = FuseKind::join;
    double cell = 0.01;  ///< side of a cell (metres)
    double offset = 0;   ///< how far out of the skin the mesh lies, negative for within (metres)
    FuseSmoothing smoothing = FuseSmoothing::none;
    int rounds = 1;
    bool sharp = false;  ///< corners and ridges of the shapes are put back where the cells have cut them
};

/// What a field will cost, before it is made.
struct FuseCost {
    double cells = 0;  ///< in the band round the surfaces
    double bytes = 0;
    double faces = 0;  ///< of the mesh
};
FuseCost fuse_cost(double area, const FuseOptions& options);

struct FuseResult {
    Mesh mesh;
    bool empty = false;  ///< nothing is left, or everything is thinner than the cells
};

/// The first mesh joined with the others, without them, or what all have in common. Every mesh must be closed and may
/// consist of pieces that overlap or cross themselves; pieces within one another that are inside out are hollows.
/// Each piece's field is kept between makes, so that moving one piece fields only that one anew. The mesh is quads in
/// cells of one size, closed, with the vertex and face attributes and the materials of the nearest source; corner and
/// edge attributes are dropped. Distances beyond three cells (and what rounds and offset need) are not known. Smoothing
/// works on the field's cells; an offset lies as far out as the field says, which is a little short where it bends.
/// Level sets and their meshing: OpenVDB 10 (K. Museth, "VDB: High-Resolution Sparse Volumes with Dynamic Topology",
/// 2013). Same bytes for any thread count. O(area / cell^2).
FuseResult fused(std::span<const Mesh> meshes, const FuseOptions& options);

/// Memory that kept fields take, bounded; may be asked from any thread.
std::size_t kept_field_bytes();
/// Forgets kept fields.
void forget_fields();
/// Pieces fielded since the program began, for tests.
std::size_t pieces_fielded();

/// The thinnest place of closed pieces, by rays inward from the middles of some of their faces. Pieces that overlap are
/// one. O(rays log faces).
struct ThinnestWall {
    double thickness = 1e30;  ///< metres
    DVec3 where{0};
};
ThinnestWall thinnest_wall(const Mesh& mesh, std::size_t most_rays = 2000);

}  // namespace bricol
