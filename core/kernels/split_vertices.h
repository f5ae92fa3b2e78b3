// SPDX-License-Identifier: GPL-3.0-or-later
// Meshes as graphics files and cards want them: one vertex per different position, normal and UV; triangles only.
#pragma once

#include "core/shape/mesh.h"

namespace bricol {

struct SplitMesh {
    Array<Vec3> positions, normals;
    Array<Vec2> uvs;             ///< empty when the mesh has none
    Array<Vec2> light_uvs;       ///< likewise
    Array<Vec4> colours;         ///< likewise
    Array<Index> triangles;      ///< three vertices each
    Array<Index> triangle_face;  ///< face each triangle came from
    Array<Index> corner;         ///< split vertex of every corner of the mesh, for writers that keep polygons
    Array<Index> source;         ///< a corner that every split vertex came from
};

/// Vertices in order of first use; NORMAL as in corner_normals(). Corners that differ in one of the values `also`
/// names, attributes of corners, are told apart as well. O(corners x variants of a vertex).
SplitMesh split_vertices(const Mesh& mesh, std::span<const Attribute* const> also = {});

}  // namespace bricol
