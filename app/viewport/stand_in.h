// SPDX-License-Identifier: GPL-3.0-or-later
// Lighter meshes drawn in place of heavy ones while the hand moves, or of copies too many to draw in full.
#pragma once

#include "app/viewport/mesh_buffer.h"

namespace bricol {

/// Which vertices and faces of a topology are drawn instead of all of it. Holds for any positions on that topology, so
/// a shape that is being bent keeps its stand-in from picture to picture.
struct StandIn {
    std::shared_ptr<const Topology>
        topology;         ///< triangles over the kept vertices; null when nothing could be left out
    Array<Index> vertex;  ///< of the heavy mesh, per kept vertex
    Array<Index> face;    ///< of the heavy mesh, per triangle
    Array<Index> smooth;  ///< per corner: corners of one number are shaded as one surface
    Index smooth_count = 0;

    /// The lighter mesh at `heavy`'s positions, with its materials and colours; sharp where it was sharp when the
    /// stand-in was made. Precondition: `heavy` has the topology that the stand-in was made from. O(kept).
    Mesh of(const Mesh& heavy) const;
};

/// About `triangles` of the mesh's triangles by meshoptimizer's simplification (M. Garland and P. Heckbert, 1997),
/// coarser where that does not get there. With `for_bending` straight runs keep vertices to bend at.
StandIn stand_in(const Mesh& mesh, std::size_t triangles, bool for_bending);

/// Vertices of a stand-in of about so many triangles, shaded as smoothly as the mesh, without edge marks.
Array<DrawVertex> proxy_vertices(const Mesh& mesh, std::size_t triangles, const Paint& paint = {});

}  // namespace bricol
