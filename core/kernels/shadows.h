// SPDX-License-Identifier: GPL-3.0-or-later
// Where two surfaces cross, by questions that never tie.
//
// J. M. Smith, "Towards Robust Inexact Geometric Computation", Cambridge 2009 (UCAM-CL-TR-766): one surface counts as
// moved by an infinitely small amount along its normals, so that no two coordinates are ever equal; whether a point
// lies below a face, or an edge goes through it, is put together from comparisons of coordinates, "shadows", each of
// which every caller answers alike. Crossings of an edge with a closed surface then always add up to the change of the
// winding number along it, whatever rounding does to places: what is built from them closes by construction.
#pragma once

#include <optional>

#include "core/ground/box.h"
#include "core/kernels/tagged_triangles.h"

namespace bricol {

/// Triangles with their edges. An edge runs from its lower point to its higher one; where more than two triangles meet
/// they are paired, an edge for each pair.
class ShadowSurface {
public:
    /// `push` +1 counts every point as moved outwards by an infinitely small amount, -1 inwards, 0 not at all. Of two
    /// surfaces at most one is pushed. Where the other surface is, `reach` says: elsewhere it makes no difference.
    ShadowSurface(const TaggedTriangles& soup, int push, const Box* reach = nullptr);

    struct Edge {
        Index low = 0, high = 0;
        std::array<Index, 2> sides{no_index, no_index};  ///< triangles that run along it, and against it
    };

    const TaggedTriangles& soup() const { return soup_; }
    const std::vector<DVec3>& points() const { return soup_.points; }
    const std::vector<Edge>& edges() const { return edges_; }
    const DVec3& way(Index point) const { return ways_[point]; }
    /// Edge of a triangle's side from corner k to the next.
    Index edge_of(Index triangle, int k) const { return edge_of_[triangle][k]; }
    /// +1 where that side runs from low to high.
    int sign_of(Index triangle, int k) const {
        return soup_.triangles[triangle][k] < soup_.triangles[triangle][(k + 1) % 3] ? 1 : -1;
    }
    const std::vector<Box>& boxes() const { return boxes_; }  ///< of the triangles
    const Box& box() const { return box_; }
    Box edge_box(Index edge) const;
    bool pushed() const { return pushed_; }

private:
    void find_edges();
    void find_ways(double push, const Box* reach);

    const TaggedTriangles& soup_;
    std::vector<Edge> edges_;
    std::vector<std::array<Index, 3>> edge_of_;
    std::vector<DVec3> ways_;
    std::vector<Box> boxes_;
    Box box_ = Box::nothing();
    bool pushed_ = false;
};

/// What an edge does at a face of the other surface.
struct Crossing {
    Index edge = 0;      ///< of the surface the edge belongs to
    Index triangle = 0;  ///< of the other
    int enters = 0;      ///< by how much the winding number rises along the edge, low to high; never 0
    DVec3 at{0};
};

/// Whether an edge clearly passes a triangle by: both its ends to one side of the plane, or, seen from above, all of
/// the triangle to one side of it. Then nothing crosses, whatever is asked; the doubt is far from rounding.
bool passes_by(const DVec3& from, const DVec3& to, const DVec3& a, const DVec3& b, const DVec3& c);

/// Questions between a surface that may be pushed (p) and one that is not (q).
class Shadows {
public:
    Shadows(const ShadowSurface& p, const ShadowSurface& q) : p_(p), q_(q) {}

    /// Crossing of an edge of p with a triangle of q, and the other way round.
    std::optional<Crossing> edge_of_p(Index edge, Index triangle) const;
    std::optional<Crossing> edge_of_q(Index edge, Index triangle) const;
    /// What a triangle adds to the winding number of the other surface round a point: its sum over all is the number.
    int winding_at_p(Index point, Index triangle_of_q) const;
    int winding_at_q(Index point, Index triangle_of_p) const;

private:
    /// One end of the stretch over which two things lie above one another: where, the heights of both, and whether p is
    /// the lower one.
    struct End {
        double x = 0, y = 0, zp = 0, zq = 0;
        int count = 0;  ///< how often it counts, with its sign
        bool below = false;
    };
    struct Aside {  ///< a point beside an edge: the edge's place there
        int count = 0;
        double y = 0, z = 0;
        bool below = false;
    };
    bool left_of(Index p, Index q) const;
    Aside point_p_edge_q(Index p, const ShadowSurface::Edge& q) const;
    Aside edge_p_point_q(const ShadowSurface::Edge& p, Index q) const;
    End edges(Index edge_p, Index edge_q) const;
    End point_p_face_q(Index p, Index triangle) const;
    End face_p_point_q(Index triangle, Index q) const;
    static std::optional<Crossing> between(const std::array<End, 5>& ends, int count);

    const ShadowSurface &p_, &q_;
};

}  // namespace bricol
