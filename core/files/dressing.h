// SPDX-License-Identifier: GPL-3.0-or-later
// Shapes made ready for engines: pivots, UVs for baked light, lighter levels, shapes to collide with.
#pragma once

#include "core/files/format.h"

namespace bricol {

enum class Pivot : std::uint8_t {
    own,     ///< the part's own origin
    foot,    ///< the middle of the underside of its box
    middle,  ///< the middle of its box
    point    ///< a point of the recipe's space
};

enum class CollisionKind : std::uint8_t {
    none,
    hull,   ///< one convex hull round everything
    boxes,  ///< a box round every loose piece
    pieces  ///< convex pieces that follow the form
};

struct Dressing {
    Pivot pivot = Pivot::own;
    DVec3 point{0};              ///< metres, for Pivot::point
    bool light_uvs = false;      ///< TEXCOORD_1
    std::vector<double> levels;  ///< shares of the triangles, each less than the one before, in 0..1
    CollisionKind collision = CollisionKind::none;
    std::size_t most_pieces = 16;                         ///< shapes to collide with, a part
    std::string collision_name = "{part}_collision_{n}";  ///< `{part}` and `{n}`, from 1, stand for their values
};

/// What was made of a shape under a name, so that presets that share parts do the work once.
using DressingMemory = std::map<std::pair<ShapePtr, std::string>, std::vector<NamedShape>>;

/// Each part's whole form first ("_LOD0" behind its name when there are levels), then its levels, then what it collides
/// with. `names` follow the shapes they name. What could not be done as asked is told in `notes`, a sentence each,
/// beginning with the part.
std::vector<NamedShape> dressed(std::span<const NamedShape> shapes, const Dressing& dressing, ShapeNames& names,
                                std::vector<std::string>& notes, DressingMemory* memory = nullptr);

}  // namespace bricol
