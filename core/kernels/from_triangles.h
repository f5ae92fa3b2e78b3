// SPDX-License-Identifier: GPL-3.0-or-later
// Polygons again from the triangles that cut meshes fall into.
#pragma once

#include "core/kernels/tagged_triangles.h"
#include "core/shape/mesh.h"

namespace bricol {

struct FromTriangles {
    Mesh mesh;
    Array<Index> face_source;  ///< the face of the old mesh that each came from
};

/// A mesh of triangles tagged with the faces of `old` that they are pieces of. A polygon nobody cut comes back as it
/// was; pieces of a cut one are joined plane by plane where they make one polygon, and points that only triangulating
/// put on its sides go. Attributes of all domains, sets and materials are carried; new corners get their UVs continued
/// over the face's plane; NORMAL is dropped.
FromTriangles from_triangles(const TaggedTriangles& soup, const Mesh& old);

}  // namespace bricol
