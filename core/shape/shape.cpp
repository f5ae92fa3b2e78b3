// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/shape/shape.h"

#include <algorithm>
#include <map>

namespace bricol {

Instances::Instances() = default;
Instances::Instances(ShapePtr standing, Array<glm::mat4> at, Attributes own)
    : shape(std::move(standing)), places(std::move(at)), attributes(std::move(own)) {}
Instances::Instances(const Instances&) = default;
Instances::Instances(Instances&&) noexcept = default;
Instances& Instances::operator=(const Instances&) = default;
Instances& Instances::operator=(Instances&&) noexcept = default;
Instances::~Instances() = default;

Shape::Shape() = default;
Shape::Shape(Mesh faces) : mesh(std::move(faces)) {}
Shape::Shape(const Shape&) = default;
Shape::Shape(Shape&&) noexcept = default;
Shape& Shape::operator=(const Shape&) = default;
Shape& Shape::operator=(Shape&&) noexcept = default;
Shape::~Shape() = default;

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
    for (const Curve& curve : curves)
        for (const Knot& knot : curve.knots) sum += knot.values.size() * sizeof(KnotValue);
    for (const Instances& group : instances)
        sum += group.shape->bytes() + group.places.size() * sizeof(group.places[0]);
    return sum;
}

namespace {

using KnownWeights = std::map<const Shape*, Weight>;

Weight weight_of(const Shape& shape, KnownWeights& known) {
    if (const auto found = known.find(&shape); found != known.end()) return found->second;
    Weight sum;
    sum.faces = sum.standing = static_cast<double>(shape.mesh.face_count());
    sum.points = static_cast<double>(shape.mesh.vertex_count() + shape.knot_count());
    for (const Instances& group : shape.instances) {
        const Weight one = weight_of(*group.shape, known);
        const auto count = static_cast<double>(group.count());
        sum.copies += count * std::max(1.0, one.copies);
        sum.standing += count * one.standing;
    }
    return known[&shape] = sum;
}

}  // namespace

Weight weight_of(const Shape& shape) {
    KnownWeights known;
    return weight_of(shape, known);
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
