// SPDX-License-Identifier: GPL-3.0-or-later
// Quads and a few triangles made even on the surface they came from.
#pragma once

#include "core/kernels/quad_cells.h"
#include "core/shape/mesh.h"

namespace bricol {

class SurfaceFinder;

struct QuadFaces {
    std::vector<std::array<Index, 4>> faces;  ///< vertices in order; a triangle ends with no_index
};

/// 3 or 4.
inline std::size_t corners_of(const std::array<Index, 4>& face) { return face[3] == no_index ? 3 : 4; }

/// The faces of pairs of triangles, without vertices between two faces only.
QuadFaces quad_faces(const EvenTriangles& triangles, const std::vector<Index>& pairs);

Mesh quad_mesh(const EvenTriangles& triangles, const QuadFaces& faces);

/// Moves vertices so that every quad comes near the square that fits it best (S. Bouaziz and others, "Shape-up: shaping
/// discrete geometry with projections", 2012), free ones on the surface, those on held lines along these. No face is
/// turned over. `reach` is about the side of a face (metres).
void relax_quads(EvenTriangles& triangles, const QuadFaces& faces, QuadLines& lines, const SurfaceFinder& surface,
                 double reach, int rounds);

/// Draws faces that cross one another apart, and for that off the surface: their free vertices go to the middle of
/// those round them, further out the longer it takes. Gives how many pairs still cross. O(faces log faces) for each of
/// a few looks.
std::size_t part_crossing_quads(EvenTriangles& triangles, const QuadFaces& faces);

}  // namespace bricol
