// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/shape/shape.h"

#include <algorithm>

namespace bricol {

std::size_t Shape::knot_count() const {
    std::size_t sum = 0;
    for (const Curve& curve : curves) sum += curve.knots.size();
    return sum;
}

std::size_t Shape::face_count() const {
    std::size_t sum = mesh.face_count();
    for (const Instances& group : instances) sum += group.count() * group.shape->face_count();
    return sum;
}

std::size_t Shape::bytes() const {
    std::size_t sum = sizeof(Shape) + mesh.bytes() + knot_count() * sizeof(Knot);
    for (const Instances& group : instances)
        sum += group.shape->bytes() + group.places.size() * sizeof(group.places[0]);
    return sum;
}

std::vector<Material> materials_of(const Shape& shape) {
    std::vector<Material> list;
    const auto add = [&](const Material& material) {
        if (std::ranges::find(list, material) == list.end()) list.push_back(material);
    };
    if (const auto* column = shape.mesh.attributes.values<std::int32_t>(Domain::face, attribute_name::material)) {
        std::int32_t last = 0;
        for (const std::int32_t number : *column) {
            if (number == last) continue;
            last = number;
            if (const Material* material = find_material(shape.mesh.materials.get(), number)) add(*material);
        }
    }
    for (const Instances& group : shape.instances)
        for (const Material& material : materials_of(*group.shape)) add(material);
    return list;
}

unsigned content_of(const Shape& shape) {
    unsigned content = 0;
    if (shape.mesh.face_count() > 0) content |= content_faces;
    if (shape.mesh.topology->has_loose_edges()) content |= content_edges;
    if (!shape.mesh.empty()) content |= content_points;
    if (!shape.curves.empty()) content |= content_curves;
    if (!shape.instances.empty()) content |= content_instances;
    return content;
}

}  // namespace bricol
