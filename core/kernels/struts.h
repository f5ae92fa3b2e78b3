// SPDX-License-Identifier: GPL-3.0-or-later
// A bar along every edge of a mesh.
#pragma once

#include "core/shape/sets.h"
#include "core/shape/selection.h"

namespace bricol {

struct StrutOptions {
    double thickness = 0.01;  ///< of a bar, across (metres), or a share of each edge's length when relative
    double depth = 0;         ///< square bars: how deep along the normal; 0 for the thickness
    bool relative = false;
    bool round = false;       ///< tubes with balls at the joints, instead of square bars mitred into a frame
    int sides = 8;            ///< of a tube
    bool borders = true;      ///< round bars along open borders too
    bool keep_faces = false;  ///< the original faces stay, as panes
};

struct StrutResult {
    Mesh mesh;
    Mask bars, panes;          ///< faces
    std::size_t held = 0;      ///< faces too small for the thickness: their bars are narrower
    std::vector<Vec3> places;  ///< middles of those, at most 64
};

/// Square bars lie in the faces, half their thickness to each side of an edge, and form one closed frame; faces need
/// flat normals. Only chosen edges get bars: a square frame takes the faces all of whose
/// edges are chosen. Round bars are closed tubes, one per edge, with a ball at every end; loose edges get them too.
StrutResult struts(const Mesh& mesh, const StrutOptions& options, const Selection& edges = {});

}  // namespace bricol
