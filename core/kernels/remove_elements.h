// SPDX-License-Identifier: GPL-3.0-or-later
// Taking faces, edges or vertices away, and parting faces from the rest.
#pragma once

#include <vector>

#include "core/shape/selection.h"

namespace bricol {

/// The mesh without the chosen faces; vertices and edges only they used go too.
Mesh without_faces(const Mesh& mesh, const Selection& faces);
/// The mesh without the chosen edges or vertices and every face that touches them.
Mesh without_edges(const Mesh& mesh, const Selection& edges);
Mesh without_vertices(const Mesh& mesh, const Selection& vertices);

/// The chosen faces keep their shape but share no vertex with the others any more.
Mesh split_off(const Mesh& mesh, const Selection& faces);

}  // namespace bricol
