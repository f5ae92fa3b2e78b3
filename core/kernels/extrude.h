// SPDX-License-Identifier: GPL-3.0-or-later
// Faces or open edges pulled out, with walls behind them.
#pragma once

#include <optional>

#include "core/shape/selection.h"

namespace bricol {

struct ExtrudeOptions {
    double distance = 0.1;           ///< metres
    double other_way = 0;            ///< of faces: how far the walls go back behind the old surface (metres, 0 or more)
    std::optional<DVec3> direction;  ///< one direction for all, unit length; nothing for the faces' own normals
    bool in_sheet = false;           ///< edges without a direction: on from their face in its plane, not square to it
    bool together = true;            ///< neighbouring faces stay joined; otherwise every face is pulled out alone
    double inset = 0;                ///< how far the pulled faces shrink from their border (metres)
    int divisions = 1;               ///< rows of faces in the walls
    bool front = true, side = true;  ///< keep the pulled faces, the walls
    bool back = false;               ///< keep the old faces, turned, as the far side of a slab
};

struct ExtrudeResult {
    Mesh mesh;
    Mask front, side, back;  ///< faces
    Mask pulled;             ///< edges: where the pulled edges are now; empty for faces
    std::size_t held = 0;    ///< faces too small for the inset, or edges of a patch too short for it
    double made_share = 1;   ///< of the wanted inset, where it was held most
    std::vector<Vec3> held_places;
    bool open_slab = false;  ///< the pulled faces came from an open sheet whose back was not kept
};

/// Pulls the chosen faces. Thickness is even at corners. Fronts and backs keep their attributes, walls take the face
/// attributes of the face they hang from. O(corners x divisions).
ExtrudeResult extruded_faces(const Mesh& mesh, const Selection& faces, const ExtrudeOptions& options);

/// Pulls chosen edges that have exactly one face: along `direction`, along their faces' normals, or on from the sheet.
/// Walls take the face attributes of the face they hang from, but stand in none of its sets.
ExtrudeResult extruded_edges(const Mesh& mesh, const Selection& edges, const ExtrudeOptions& options);

/// New smaller faces inside the chosen ones, a ring of quads round each (or round joined faces together).
ExtrudeResult inset_faces(const Mesh& mesh, const Selection& faces, double width, bool together);

}  // namespace bricol
