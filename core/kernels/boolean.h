// SPDX-License-Identifier: GPL-3.0-or-later
// Solids joined, cut out of one another, or what they have in common; sheets cut by solids.
#pragma once

#include <array>
#include <span>
#include <vector>

#include "core/shape/mesh.h"
#include "core/shape/sets.h"

namespace bricol {

enum class BooleanKind : std::uint8_t { unite, subtract, intersect };

/// Why there is no result.
enum class BooleanFault : std::uint8_t {
    none,
    no_faces,    ///< an operand has none
    open,        ///< an operand has border edges, as many as `fault_edges`
    many_faces,  ///< an operand has edges with more than two faces
    turned,      ///< neighbouring faces of an operand point opposite ways
};

struct BooleanResult {
    Mesh mesh;
    Mask cut;                ///< edges where a surface of one solid meets one of another
    Mask from_cutter;        ///< faces that came from a cutter
    Array<Index> body_face;  ///< the face of the body each came from, piece after piece, or no_index
    BooleanFault fault = BooleanFault::none;
    std::size_t fault_edges = 0;        ///< edges at fault, where they were counted
    Index fault_cutter = no_index;      ///< the cutter it is about; no_index for the body or the result
    std::vector<Index> crosses_itself;  ///< operands that do where they meet another, as in `fault_cutter`
    std::vector<Index> mended;          ///< operands that did, of which what lies inside was taken
    bool unchanged = false;             ///< the cutters touch nothing
};

/// `body` with all the cutters at once. Every solid must be closed; one that is inside out is turned. Each may hold
/// many loose pieces, which count as their union. Cutters that overlap one another are united first, in a tree; the
/// rest go in side by side, so that one cut does them all. Faces nobody cut stay the polygons they were, pieces of a
/// cut face are joined again where they make one polygon. Vertex, face and corner attributes, sets and materials of
/// either side are carried; UVs are continued; NORMAL is dropped. Closed whatever lies in one plane or touches (see
/// shadows.h); a piece that crosses itself where it meets another counts as what its winding number says is inside
/// (boolean_mend.h), and is named when it cannot be mended; pieces of over 60 000 triangles are not looked through for
/// that. Points are rounded to float at the end. O(n log n) for
/// well-spread faces.
BooleanResult boolean_of(const Mesh& body, std::span<const Mesh> cutters, BooleanKind kind);

/// Whether a result has the faces, area (to 1e-7) and volume (to 1e-9) that the body had: nothing was cut.
bool left_as_it_was(const BooleanResult& result, const Mesh& body);

/// The part of an open sheet inside (or outside) the closed solid, whose border counts as inside; `cut` are its new
/// borders.
BooleanResult sheet_cut(const Mesh& sheet, const Mesh& solid, bool keep_inside);

/// Pairs of faces that cross one another, at most `most`, in order. Touching, and overlaps thinner than a thousandth of
/// a triangle, do not count. Exact predicates on the triangles of the faces; O(n log n) for well-spread ones.
std::vector<std::array<Index, 2>> crossing_faces(const Mesh& mesh, std::size_t most);

}  // namespace bricol
