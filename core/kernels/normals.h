// SPDX-License-Identifier: GPL-3.0-or-later
// Shading normals of a mesh.
#pragma once

#include "core/shape/mesh.h"

namespace bricol {

/// Unit normal of every face by Newell's method (I. Sutherland et al., 1974), zero for faces without area.
Array<Vec3> face_normals(const Mesh& mesh);

/// Writes NORMAL: each corner averages the faces round its vertex, weighted by their angle there, that can be reached
/// without crossing an edge sharper than `degrees` (0 flat, 180 all smooth). On vertices when every edge is smooth,
/// else on corners. Other attributes are carried. O(corners x faces at a vertex).
Mesh with_normals_by_angle(const Mesh& mesh, float degrees);

/// Unit normal of every vertex: NORMAL where vertices have it, else the faces round it weighted by their angle there
/// (straight up for loose points).
Array<Vec3> vertex_normals(const Mesh& mesh);

/// Unit normal of every corner from NORMAL where the mesh has it, else by angle (40 degrees).
Array<Vec3> corner_normals(const Mesh& mesh);

}  // namespace bricol
