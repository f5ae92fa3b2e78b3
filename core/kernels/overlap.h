// SPDX-License-Identifier: GPL-3.0-or-later
// Which bodies run into one another, by how much, and how far apart they would have to stand.
#pragma once

#include <map>
#include <optional>

#include "core/ground/box.h"
#include "core/kernels/tagged_triangles.h"
#include "core/shape/shape.h"

namespace bricol {

/// What hangs together of a mesh, hollows with the piece round them.
struct BodyPiece {
    TaggedTriangles soup;  ///< outward where it is closed
    bool closed = false;   ///< with every edge between two faces
};

/// A piece at a place.
struct Body {
    Index piece = 0;
    glm::dmat4 place{1};
    Box box = Box::nothing();
    Index copy = 0;     ///< which copy of which mesh it belongs to; 0 for what is no copy
    bool first = true;  ///< the first copy of its mesh
    Index shape = 0;    ///< of those that were added
};

struct Bodies {
    std::vector<BodyPiece> pieces;                ///< of alike ones each once
    std::multimap<std::uint64_t, Index> by_hash;  ///< of what they hold
    std::vector<Body> list;
    bool all = true;  ///< false when there were more than `most` and the rest was left out
};

/// Adds the pieces of a shape and of its copies, nested ones too. `number` tells shapes apart. O(corners + bodies).
void add_bodies(Bodies& bodies, const ShapePtr& shape, Index number, std::size_t most);

/// Two bodies that have room in common, or sheets that run through one another.
struct Overlap {
    Index a = 0, b = 0;
    double volume = 0;    ///< in both, cubic metres; 0 when either is a sheet
    bool inside = false;  ///< all of one lies in the other
    DVec3 where{0};       ///< in what both share
};

struct Overlaps {
    std::vector<Overlap> pairs;
    bool all = true;  ///< false when there were too many faces to look through
};

/// Which bodies are held against each other.
enum class Among : std::uint8_t { all, shapes };  ///< `shapes`: only those of different ones

/// Pairs that overlap, in order. Solids do when what they share is thicker than rounding leaves of a touch (1e-5 of the
/// smaller box, 1e-6 of the coordinates): volume by a boolean, so links that hang in one another free are none, and
/// bodies that lie against one another neither. Sheets, and a sheet with a solid, when their faces cross
/// whichever way one of them is moved by 1e-4 of the smaller box. Pairs of the same pieces that stand alike are worked
/// out once. `most_faces` bounds the work: triangles of all pairs whose boxes meet, each pair counting for 200 more; of
/// pairs two million are looked at. O(pairs x triangles log triangles).
Overlaps overlaps_of(const Bodies& bodies, Among among, double most_faces);

/// How far `b` has to go away from `a`, along the line between their middles, until they are clear of each other;
/// negative when going closer is the shorter way (links of a chain). In metres; nothing when neither helps within half
/// the size of the smaller one: they stand in one another on purpose then. To within a thousandth of itself, never too
/// little.
std::optional<double> clearing_move(const Bodies& bodies, const Overlap& pair);

}  // namespace bricol
