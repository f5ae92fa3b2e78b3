// SPDX-License-Identifier: GPL-3.0-or-later
// Subdivision surfaces through OpenSubdiv; the work that depends on topology alone is kept between makes.
#pragma once

#include <atomic>

#include "core/shape/mesh.h"

namespace bricol {

enum class SubdivisionScheme : std::uint8_t { catmull_clark, loop, split_only };

struct SubdivideOptions {
    SubdivisionScheme scheme = SubdivisionScheme::catmull_clark;
    int levels = 1;
    bool sharp_border = true;  ///< borders keep their corners; otherwise only their line
    float crease_angle = 180;  ///< degrees: edges sharper than this get `crease`; 180 for none
    float crease = 3;          ///< sharpness of those edges, 0..10 (10 is never smoothed)
};

/// The mesh after `levels` rounds. Positions and UVs are smoothed; `crease` (edges) and `corner` (vertices) sharpen.
/// Faces keep their face attributes, the pieces of an edge its sets and values, a vertex its sets; of sharpness stays
/// what the rounds leave, so that n rounds are n times one. NORMAL, other corner attributes and loose edges are
/// dropped. The first call for a topology refines it and writes down how points blend; later calls with the same
/// topology, creases and UVs only carry that out, to the same bytes. Returns an empty mesh when OpenSubdiv refuses the
/// topology. Not for non-manifold edges. Source of the rules: E. Catmull and J. Clark 1978; C. Loop 1987;
/// OpenSubdiv 3.5.
Mesh subdivided(const Mesh& mesh, const SubdivideOptions& options);

/// Forgets kept topologies (tests and benchmarks).
void forget_subdivisions();

}  // namespace bricol
