// SPDX-License-Identifier: GPL-3.0-or-later
// Joining two borders by faces.
#pragma once

#include <string>

#include "core/shape/selection.h"

namespace bricol {

struct BridgeResult {
    Mesh mesh;
    Mask made;
    std::string refused;  ///< why nothing was bridged; empty when it was
};
/// Joins two border loops of the chosen edges (or of what is left when the chosen faces are taken away) by faces;
/// `segments` rows, `turn` shifts the match by that many vertices. Loops of different length get triangles too.
BridgeResult bridged(const Mesh& mesh, const Selection& edges, int segments, int turn);

}  // namespace bricol
