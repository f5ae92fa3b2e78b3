// SPDX-License-Identifier: GPL-3.0-or-later
// A pinned place: how a picked vertex, edge or face is remembered, so that it is found again when the mesh changes.
#pragma once

#include <optional>

#include "core/shape/attributes.h"

namespace bricol {

struct Place {
    Domain element = Domain::vertex;  ///< vertex, edge or face
    DVec3 at{0};                      ///< where it was: the vertex, or the middle of the edge or face (metres)
    std::optional<DVec3> share;  ///< the same as a share (0..1) of the shape's box, to follow when the shape is resized
    std::optional<DVec3> facing;  ///< direction of the face or of the edge, unit length
    /// The element's number, and of which topology (the low half of its content hash): while the mesh keeps its faces
    /// and neighbours it is that element wherever it went.
    std::optional<Index> number;
    std::uint32_t topology = 0;
    DVec3 move{0};  ///< for steps that move what was picked (metres)
};

}  // namespace bricol
