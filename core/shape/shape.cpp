// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/shape/shape.h"

namespace bricol {

std::size_t Shape::knot_count() const {
    std::size_t sum = 0;
    for (const Curve& curve : curves) sum += curve.knots.size();
    return sum;
}

std::size_t Shape::bytes() const { return sizeof(Shape) + mesh.bytes() + knot_count() * sizeof(Knot); }

unsigned content_of(const Shape& shape) {
    unsigned content = 0;
    if (shape.mesh.face_count() > 0) content |= content_faces;
    if (shape.mesh.topology->has_loose_edges()) content |= content_edges;
    if (!shape.mesh.empty()) content |= content_points;
    if (!shape.curves.empty()) content |= content_curves;
    return content;
}

}  // namespace bricol
