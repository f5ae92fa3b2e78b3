// SPDX-License-Identifier: GPL-3.0-or-later
// Making a mesh anew from a list of faces: what operations that take faces away or add some share.
#pragma once

#include <functional>

#include "core/kernels/rebuild.h"
#include "core/shape/selection.h"

namespace bricol {

/// Rebuilds with only the vertices that something uses. `extra` are points behind the old ones, each with a source
/// vertex; `loose_vertices` are kept although nothing uses them. Attributes as in `rebuilt`.
Mesh compacted(const Mesh& old, FaceList faces, const Array<Vec3>& extra = {}, const Array<Index>& extra_source = {},
               const Selection& loose_vertices = Selection::none());

/// Vertices without an edge.
Mask lone_vertices(const Mesh& mesh);

/// Adds a face of the old mesh as it is.
void add_face(FaceList& faces, const Topology& t, std::size_t f);

/// Adds the loose edges that are to be kept.
void add_loose(FaceList& faces, const Topology& t, const std::function<bool(Index)>& keep);

}  // namespace bricol
