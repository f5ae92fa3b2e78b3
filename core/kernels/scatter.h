// SPDX-License-Identifier: GPL-3.0-or-later
// Points spread at random over a surface or through a closed shape.
#pragma once

#include <atomic>
#include <span>

#include "core/kernels/surface_finder.h"
#include "core/shape/selection.h"

namespace bricol {

struct ScatterOptions {
    std::size_t count = 100;  ///< wanted; with a spacing at most so many
    std::uint32_t seed = 0;
    double spacing = 0;  ///< least distance between two points (metres); 0 for none
};

/// A scattered point. `number` belongs to it: point n of a seed lies at the same place whatever the count.
struct ScatterPoint {
    Vec3 at{0};
    Vec3 normal{0, 0, 1};
    Index triangle = no_index;  ///< of the list that was scattered on
    Vec3 share{0};
    Index number = 0;
};

/// Triangles to scatter on: corner places, and how likely a point is per area at each corner (0..1).
struct ScatterSurface {
    std::vector<std::array<Index, 3>> corners;  ///< of the mesh
    std::vector<Index> face;
    std::vector<double> sums;                   ///< running sum of area times weight
    std::vector<std::array<Vec3, 3>> places;    ///< of the corners, together
    std::vector<std::array<float, 3>> weights;  ///< at the corners; empty for 1 everywhere
    std::vector<float> most;                    ///< largest weight of each triangle's corners
    double area = 0;                            ///< weighted, square metres
};
/// `faces` are those that count, `weights` are per vertex (all 1 when empty). O(triangles).
ScatterSurface scatter_surface(const Mesh& mesh, const Selection& faces, std::span<const float> weights);

/// Uniform by weighted area: G. Turk, "Generating random points in triangles", 1990, after a triangle is drawn by its
/// share of the sum. With a spacing: darts thrown one after another and kept when none before lies nearer, about 30
/// darts per place there could be (A. Lagae and P. Dutre, "A comparison of methods for generating Poisson disk
/// distributions", 2008).
std::vector<ScatterPoint> scattered_on(const ScatterSurface& surface, const ScatterOptions& options);

/// Uniform through a closed mesh: points of its box, those outside drawn again. `found` 0 with a box of no volume.
std::vector<ScatterPoint> scattered_inside(const SurfaceFinder& closed, const ScatterOptions& options);

}  // namespace bricol
