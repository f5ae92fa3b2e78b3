// SPDX-License-Identifier: GPL-3.0-or-later
// What flows between steps: mesh faces, curves, points and instances in any mix.
#pragma once

#include "core/shape/content.h"
#include "core/shape/curve.h"
#include "core/shape/mesh.h"

namespace bricol {

struct Shape;
using ShapePtr = std::shared_ptr<const Shape>;

// What follows is copied and ended in nearly every file: the functions that do so are compiled once, in shape.cpp.

/// One shape standing in many places; copied only when a step needs real geometry.
struct Instances {
    ShapePtr shape;
    Array<glm::mat4> places;
    Attributes attributes;  ///< on Domain::instance

    Instances();
    explicit Instances(ShapePtr standing, Array<glm::mat4> at = {}, Attributes own = {});
    Instances(const Instances&);
    Instances(Instances&&) noexcept;
    Instances& operator=(const Instances&);
    Instances& operator=(Instances&&) noexcept;
    ~Instances();

    std::size_t count() const { return places.size(); }
};

struct Shape {
    Mesh mesh;
    std::vector<Curve> curves;
    std::vector<Instances> instances;

    Shape();
    explicit Shape(Mesh faces);
    Shape(const Shape&);
    Shape(Shape&&) noexcept;
    Shape& operator=(const Shape&);
    Shape& operator=(Shape&&) noexcept;
    ~Shape();

    bool empty() const { return mesh.empty() && curves.empty() && instances.empty(); }
    /// Faces, instances counted as often as they stand.
    std::size_t face_count() const;
    std::size_t knot_count() const;
    std::size_t bytes() const;
};

/// What a shape costs to hold, draw and write. Counts are doubles: nested copies go beyond every whole number.
struct Weight {
    double faces = 0;     ///< of its own mesh
    double points = 0;    ///< of its own mesh, and knots
    double copies = 0;    ///< places of instances, nested ones as often as they stand
    double standing = 0;  ///< faces with every copy counted
};
/// Looks at each shared shape once, however often it stands.
Weight weight_of(const Shape& shape);

/// The materials its faces use, instances included, each once.
std::vector<Material> materials_of(const Shape& shape);

/// What a shape holds, as Content bits.
unsigned content_of(const Shape& shape);
/// The same in words: "a mesh", "instances", "nothing".
std::string content_found(const Shape& shape);

}  // namespace bricol
