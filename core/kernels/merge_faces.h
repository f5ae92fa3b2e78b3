// SPDX-License-Identifier: GPL-3.0-or-later
// Faces joined to larger polygons.
#pragma once

#include <vector>

#include "core/shape/selection.h"

namespace bricol {

/// Faces of one group that hang together become one polygon, when their outline is a single loop without holes that
/// visits no vertex twice; other groups stay as they are. `group[f]`: any number, no_index for "leave alone".
/// Vertices of `may_drop` go when every face that uses them runs straight through them.
/// Attributes of the group's first face; corners keep theirs. `face_source`, when asked for, gets the number that each
/// face had, or that the first of its pieces had.
Mesh merged_faces(const Mesh& mesh, std::span<const Index> group, const Selection& may_drop,
                  Array<Index>* face_source = nullptr);

/// Neighbouring faces that turn by less than `degrees` become one polygon; faces of different materials stay apart.
Mesh dissolved_flat(const Mesh& mesh, double degrees, const Selection& faces = {});

}  // namespace bricol
