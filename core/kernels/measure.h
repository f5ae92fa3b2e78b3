// SPDX-License-Identifier: GPL-3.0-or-later
// What can be said about a mesh in numbers: sizes, area, volume, and whether it holds together.
#pragma once

#include <optional>

#include "core/kernels/transform.h"
#include "core/shape/shape.h"

namespace bricol {

struct Measures {
    std::size_t vertices = 0, edges = 0, faces = 0, triangles = 0, curves = 0, instances = 0;
    std::optional<Box> box;
    double area = 0;                     ///< square metres
    std::optional<double> volume;        ///< cubic metres, when closed; negative when inside out
    bool closed = false;                 ///< has faces and every edge has exactly two
    std::size_t border_edges = 0;        ///< edges with one face
    std::size_t non_manifold_edges = 0;  ///< edges with more than two faces
    std::size_t turned_edges = 0;        ///< edges whose two faces run along them the same way: one of them is flipped
    std::size_t loose_edges = 0;
    std::size_t pieces = 0;    ///< parts that hang together by edges
    std::ptrdiff_t euler = 0;  ///< vertices - edges + faces
};

/// All of it, instances counted as often as they stand. O(corners). Volume by the divergence theorem over triangles
/// from the box centre.
Measures measured(const Shape& shape);

/// Signed volume of a closed mesh (cubic metres); meaningless for an open one.
double signed_volume(const Mesh& mesh);

}  // namespace bricol
