// SPDX-License-Identifier: GPL-3.0-or-later
// What flows between steps: mesh faces, curves and points in any mix.
#pragma once

#include "core/shape/curve.h"
#include "core/shape/mesh.h"

namespace bricol {

struct Shape {
    Mesh mesh;
    std::vector<Curve> curves;

    bool empty() const { return mesh.empty() && curves.empty(); }
    std::size_t knot_count() const;
    std::size_t bytes() const;
};

using ShapePtr = std::shared_ptr<const Shape>;

/// What a shape holds, as bits, to tell whether a step can use it.
/// `content_edges` stands for loose edges: those without a face.
enum Content : unsigned { content_faces = 1, content_curves = 2, content_points = 4, content_edges = 8 };
unsigned content_of(const Shape& shape);

}  // namespace bricol
