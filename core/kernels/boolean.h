// SPDX-License-Identifier: GPL-3.0-or-later
// Solids joined, cut out of one another, or what they have in common; sheets cut by solids.
#pragma once

#include <optional>

#include "core/kernels/tagged_triangles.h"
#include "core/shape/sets.h"

namespace bricol {

enum class BooleanKind : std::uint8_t { unite, subtract, intersect };

/// Why there is no result.
enum class BooleanFault : std::uint8_t {
    none,
    no_faces,        ///< an operand has none
    open,            ///< an operand has border edges, as many as `fault_edges`
    many_faces,      ///< an operand has edges with more than two faces
    turned,          ///< neighbouring faces of an operand point opposite ways
    crosses_itself,  ///< an operand crosses itself
    inexact,         ///< no operand is at fault: the surfaces cannot be taken apart where they touch
};

struct BooleanResult {
    Mesh mesh;
    Mask cut;          ///< edges where a surface of one solid meets one of another
    Mask from_cutter;  ///< faces that came from a cutter
    BooleanFault fault = BooleanFault::none;
    std::size_t fault_edges = 0;    ///< edges at fault, where they were counted
    Index fault_cutter = no_index;  ///< the cutter it is about; no_index for the body or the result
    bool unchanged = false;         ///< the cutters touch nothing
};

/// `body` with all the cutters at once. Every solid must be closed; one that is inside out is turned. Cutters that
/// overlap one another are united first, in a tree; the rest go in side by side, so that one cut does them all. Faces
/// nobody cut stay the polygons they were, pieces of a cut face are joined again where they make one polygon. Vertex,
/// face and corner attributes, sets and materials of either side are carried; UVs are continued; NORMAL is dropped.
/// Exact predicates (CGAL corefinement); points are rounded to float at the end.
BooleanResult boolean_of(const Mesh& body, std::span<const Mesh> cutters, BooleanKind kind);

/// The part of an open sheet inside (or outside) the closed solid.
BooleanResult sheet_cut(const Mesh& sheet, const Mesh& solid, bool keep_inside);

// ---- What stands behind CGAL ---------------------------------------------------------------------------------------

/// Nothing when CGAL refuses. Inputs closed, outward.
std::optional<TaggedTriangles> boolean_of_triangles(const TaggedTriangles& a, const TaggedTriangles& b,
                                                    BooleanKind kind);
std::optional<TaggedTriangles> sheet_cut_triangles(const TaggedTriangles& sheet, const TaggedTriangles& solid,
                                                   bool keep_inside);

/// Triangles cut along the lines where they meet the other's; the points given keep their numbers, new ones follow.
struct RefinedTriangles {
    TaggedTriangles soup;
    std::vector<std::array<Index, 2>> lines;
};
/// Both refined so that no triangle crosses the other's any more; points on the common lines are the same in both.
/// Surfaces may be open as long as they do not end at the other. Nothing when CGAL refuses, or one crosses itself
/// there.
std::optional<std::array<RefinedTriangles, 2>> corefined_triangles(const TaggedTriangles& a, const TaggedTriangles& b);

/// Pairs of faces that cross one another, at most `most`, in order. Touching, and overlaps thinner than a thousandth of
/// a triangle, do not count. Exact predicates on the triangles of the faces; O(n log n) for well-spread ones.
std::vector<std::array<Index, 2>> crossing_faces(const Mesh& mesh, std::size_t most);

}  // namespace bricol
