// SPDX-License-Identifier: GPL-3.0-or-later
// Triangles that can be split, joined and turned one edge at a time; remeshing works on them.
#pragma once

#include <array>
#include <vector>

#include "core/ground/types.h"

namespace bricol {

/// Where a vertex may go.
enum class VertexHold : std::uint8_t { free, line, corner };

/// Triangles as half-edges: number 3f+k runs from corner k of triangle f to the next one. Every edge has one or two of
/// them, running opposite ways, and the triangles at a vertex make one fan.
class EvenTriangles {
public:
    std::vector<DVec3> point;        ///< metres; those of joined vertices stay behind unused
    std::vector<Index> from;         ///< vertex a half-edge leaves; no_index in triangles that are gone
    std::vector<Index> twin;         ///< the other half-edge of its edge; no_index on a border
    std::vector<std::uint8_t> held;  ///< edges that keep their line: borders and ridges; the same on both sides
    std::vector<VertexHold> hold;    ///< of every vertex
    std::vector<Index> leaving;      ///< some half-edge from every vertex; no_index for none
    std::vector<Index> alias;        ///< the vertex one is to be counted as: fans that meet in a point are parted

    /// False when some edge has more than two triangles or two that run along it the same way.
    bool build(std::vector<DVec3> points, const std::vector<std::array<Index, 3>>& triangles);

    static Index next(Index h) { return h % 3 == 2 ? h - 2 : h + 1; }
    static Index prior(Index h) { return h % 3 == 0 ? h + 2 : h - 1; }
    Index to(Index h) const { return from[next(h)]; }
    bool gone(Index h) const { return from[h] == no_index; }
    double length2(Index h) const;
    /// Twice the area of a triangle times its normal.
    DVec3 normal(Index triangle) const;
    /// All half-edges from a vertex, round it; a border vertex's begin on the border.
    const std::vector<Index>& around(Index v);
    /// The same in that order for a vertex inside, which begins with `leaving`; from any thread.
    template <class Of>
    void each_around(Index v, const Of& of) const {
        Index h = leaving[v];
        do {
            of(h);
            h = twin[prior(h)];
        } while (h != no_index && h != leaving[v]);
    }
    std::size_t alive() const { return from.size() / 3 - gone_; }
    /// Moves the triangles that are left together, in their order, where a quarter or more are gone: half-edges get
    /// other numbers.
    void drop_gone();

    /// Puts a vertex into the middle of the edge and gives its number.
    Index split(Index h);
    /// Whether the vertex h leaves can go to the other end with every edge at most `longest` (squared) and no triangle
    /// turned over, nothing pinched, no held line left.
    /// Stars of more than `most_near` neighbours are not made: they would make every later look at them slow.
    bool can_join(Index h, double longest, std::size_t most_near = 16);
    /// The same with no eye on lengths and turns: whether the surface stays what it is, and held lines stay.
    bool can_join_at_all(Index h);
    /// Takes the vertex h leaves to the other end; `touched` is given the half-edges round what is left.
    void join(Index h, std::vector<Index>& touched);
    /// Whether the edge can lie across its two triangles the other way with neither turned over.
    bool can_turn(Index h);
    void turn(Index h);

private:
    void pair(Index a, Index b);
    /// Whether the vertex h leaves has three triangles at most, all round it.
    bool of_three(Index h) const;
    /// Whether what is held at the vertex h leaves, borders and the triangles round it let it go at all.
    bool may_leave(Index h) const;
    /// Whether only the corners opposite the edge are neighbours of both ends (the link condition), of those that
    /// near_from_ and near_to_ list.
    bool linked_as_one(Index h);
    void look_round(Index v, std::vector<Index>& neighbours);
    void part_fans();

    std::size_t gone_ = 0;
    std::vector<Index> ring_, ring_from_, ring_to_, near_from_, near_to_, both_;
};

}  // namespace bricol
