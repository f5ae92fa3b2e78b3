// SPDX-License-Identifier: GPL-3.0-or-later
// What refining leaves of sets, whole numbers and sharpness.
#pragma once

#include "core/shape/mesh.h"

namespace bricol {

/// What became of the vertices and edges of a mesh that was refined.
struct RefinedMarks {
    Array<Index> vertex_child;      ///< where each coarse vertex is now
    Array<Index> edge_source;       ///< coarse edge each fine one is a piece of; no_index for one inside a face
    Array<float> edge_sharpness;    ///< what is left of it, of every fine edge
    Array<float> vertex_sharpness;  ///< and of every coarse vertex
};

/// Sets and whole numbers stay with the vertices they were on: a vertex of the finer mesh is in a set when it is a
/// vertex that was. New vertices get ids of their own behind the others.
void keep_vertex_marks(const RefinedMarks& marks, const Mesh& mesh, Mesh& fine_mesh);

/// The pieces of an edge stay in its sets and keep its values; of sharpness (of edges, and of corners) what the rounds
/// left.
void keep_edge_values(const RefinedMarks& marks, const Mesh& mesh, Mesh& fine_mesh);

}  // namespace bricol
