// SPDX-License-Identifier: GPL-3.0-or-later
// Plain solids and sheets with real sizes, outward faces and UVs. Lengths in metres.
#pragma once

#include "core/kernels/lathe.h"

namespace bricol {

/// Rectangle in the ground plane, centred on the origin, `across` x `deep` quads, facing up.
Mesh make_grid(double width, double depth, int across, int deep);

/// Box centred on the origin, with quads per side. Six sides share their edge vertices; UVs run 0..1 on every side.
Mesh make_box(const DVec3& size, const std::array<int, 3>& segments);

enum class CapStyle : std::uint8_t { none, face, fan, rings };
struct CylinderOptions {
    double radius = 0.5, height = 1;
    int segments = 32, levels = 1;
    CapStyle caps = CapStyle::face;
    int rings = 2;  ///< rings of quads in each cap, for CapStyle::rings
};
/// Upright cylinder, centred on the origin.
Mesh make_cylinder(const CylinderOptions& options);

/// Sphere of rings and slices about the upright axis, poles welded, centred on the origin.
Mesh make_sphere(double radius, int slices, int rings);

/// Ring lying flat, centred on the origin. `ring_radius` runs to the middle of the tube.
Mesh make_torus(double ring_radius, double tube_radius, int ring_segments, int tube_segments);

/// Adds one polygon to every border loop, facing as its neighbours do. Other attributes are carried; the new corners
/// get UVs by their place in the loop's box.
Mesh with_borders_filled(const Mesh& mesh);

}  // namespace bricol
