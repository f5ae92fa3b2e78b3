// SPDX-License-Identifier: GPL-3.0-or-later
// More plain solids: geodesic sphere, rounded box, disc, cone, tube. Lengths in metres, centred on the origin, faces
// out.
#pragma once

#include "core/kernels/primitives.h"

namespace bricol {

/// Sphere of even triangles: an icosahedron whose edges are split into `frequency` pieces and pushed out to the radius.
/// 20 f^2 faces, 10 f^2 + 2 vertices. Source: M. Wenninger, "Spherical Models", 1979 (class I, equal chords).
Mesh make_geodesic_sphere(double radius, int frequency);

struct RoundedBoxOptions {
    DVec3 size{1};
    double radius = 0.1;                   ///< of edges and corners, held to half the shortest side
    int round_segments = 3;                ///< quads across a rounding
    std::array<int, 3> segments{1, 1, 1};  ///< quads along the straight runs
};
/// Box with rounded edges and corners, quads only, no poles.
Mesh make_rounded_box(const RoundedBoxOptions& options);

/// Flat disc facing up: one face, a fan, or rings of quads round a fan.
Mesh make_disc(double radius, double hole, int segments, int rings, CapStyle style);

/// Upright cone or frustum; a top radius of 0 makes a tip. Caps as one face.
Mesh make_cone(double base_radius, double top_radius, double height, int segments, int levels);

/// Upright tube with a wall of even thickness, closed.
Mesh make_tube(double radius, double wall, double height, int segments, int levels);

}  // namespace bricol
