// SPDX-License-Identifier: GPL-3.0-or-later
// A mesh cut by a plane.
#pragma once

#include "core/shape/sets.h"

namespace bricol {

enum class SliceKeep : std::uint8_t { above, below, both, edges_only };

struct SliceOptions {
    DVec3 normal{0, 0, 1};              ///< of the plane; need not be of unit length
    DVec3 point{0};                     ///< on the plane
    SliceKeep keep = SliceKeep::above;  ///< `both` comes apart, `edges_only` stays in one piece with a new edge across
    bool cap = true;                    ///< close the cut of a closed mesh
};

struct SliceResult {
    Mesh mesh;
    Mask caps;            ///< faces
    bool missed = false;  ///< the plane cuts nothing
};

/// Attributes carried, interpolated at the cut. Caps are one polygon per loop, or triangles between
/// loops that lie inside one another.
SliceResult sliced(const Mesh& mesh, const SliceOptions& options);

}  // namespace bricol
