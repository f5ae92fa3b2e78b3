// SPDX-License-Identifier: GPL-3.0-or-later
// A mesh as the shaders want it: unindexed triangles with normals, materials, and marks for real and for sharp edges.
#pragma once

#include "core/shape/mesh.h"

namespace bricol {

struct DrawVertex {
    Vec3 position;
    std::uint32_t normal;  ///< three signed 10-bit components
    std::uint32_t tint;    ///< red, green, blue and alpha, 8 bits each, as on a screen; alpha 0 where nothing was given
    std::uint32_t mask;  ///< bits 0..2: the edge opposite this corner of the triangle is a real edge; 3..5: and sharp;
                         ///< from 8: material
};

/// Materials of one mesh that can be told apart in the picture, "none" included.
inline constexpr std::size_t most_materials = 64;

/// An attribute shown as colours. Without a name: the mesh's own COLOR_0.
struct Paint {
    std::string attribute;
    double low = 0, high = 1;
    friend bool operator==(const Paint&, const Paint&) = default;
};
/// Colour of a share 0..1 on the scale that attributes are shown in, as on a screen: dark to light, told apart without
/// hue as well.
Vec3 scale_colour(double share);

/// Three vertices per triangle, in the order of triangulated(). Sharp: turns by more than 40 degrees, or open.
Array<DrawVertex> draw_vertices(const Mesh& mesh, const Paint& paint = {});

}  // namespace bricol
