// SPDX-License-Identifier: GPL-3.0-or-later
// Instances written out as mesh and curves.
#pragma once

#include "core/shape/shape.h"

namespace bricol {

/// The shape with every instance, nested ones too, copied into its mesh and curves. Attributes of the instanced mesh
/// are repeated; of the instances' own attributes COLOR_0 tints the points of its copy, others are dropped. The shape
/// itself when it has none. O(elements made).
ShapePtr real_geometry(const ShapePtr& shape);

/// A shape's mesh and the meshes of its instances, nested ones too, each with all its places: what is drawn or written
/// as copies. Only the mesh of `shape` is meant.
struct PlacedMesh {
    ShapePtr shape;
    Array<glm::mat4> places;
    Array<Vec4> tints;  ///< COLOR_0 of the instances, one a place; empty when none has one
    /// What else stands on the instances (Domain::instance), one a place. Of nested ones the inner's value is taken
    /// where both have one of a name.
    Attributes values{};
};
std::vector<PlacedMesh> placed_meshes(const ShapePtr& shape);
/// All of its copies as one mesh, whose points take the tints, and the values they have none of themselves.
ShapePtr written_out(const PlacedMesh& placed);

/// `mesh` once at each place; a mirroring place turns its copy's faces. Attributes repeated, NORMAL turned along.
Mesh repeated(const Mesh& mesh, std::span<const glm::mat4> places);

}  // namespace bricol
