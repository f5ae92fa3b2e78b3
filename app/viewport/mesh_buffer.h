// SPDX-License-Identifier: GPL-3.0-or-later
// A mesh as the shaders want it: unindexed triangles with normals and marks for real and for sharp edges.
#pragma once

#include "core/shape/mesh.h"

namespace bricol {

struct DrawVertex {
    Vec3 position;
    std::uint32_t normal;  ///< three signed 10-bit components
    std::uint32_t mask;    ///< bits 0..2: the edge opposite this corner of the triangle is a real edge; 3..5: and sharp
};

/// Three vertices per triangle. Sharp: turns by more than 40 degrees, or open.
Array<DrawVertex> draw_vertices(const Mesh& mesh);

}  // namespace bricol
