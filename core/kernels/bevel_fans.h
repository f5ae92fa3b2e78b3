// SPDX-License-Identifier: GPL-3.0-or-later
// The corners round each bevelled vertex, and where the points go that take its place. Inside the bevel only.
#pragma once

#include <span>
#include <vector>

#include "core/ground/disjoint_sets.h"
#include "core/ground/numbers.h"
#include "core/kernels/bevel.h"

namespace bricol {

/// One new point: where it starts and how it moves as the width grows from 0 to 1.
struct Mover {
    DVec3 velocity{0};
    Index point = no_index;
};

/// What becomes of one corner of an old face: points in the order round the vertex (from its outgoing edge to its
/// incoming one), as a range of the pool.
struct CornerList {
    Index first = 0, count = 0;
};

class BevelFans {
protected:
    BevelFans(const Mesh& mesh, const BevelOptions& options, std::span<const float> edge_width,
              std::span<const float> vertex_width);

    /// Fans, movers and corner lists of every vertex that a width touches, and the share of the width that fits.
    void lay_out_all();

    struct Fan {
        Index vertex = 0;
        Index first = 0, count = 0;  ///< corners, in fan_corners_
        bool closed = false;
        bool keeps_vertex = false;  ///< some corner still uses the old vertex
        Index edges() const { return closed ? count : count + 1; }
    };

    Index outgoing(Index c) const { return t_.corner_edge[c]; }
    Index incoming(Index c) const { return t_.corner_edge[previous_[c]]; }
    DVec3 at(Index v) const { return DVec3(p_[v]); }
    Index root(Index v) { return group_.root(v); }
    void join(Index a, Index b) { group_.join(a, b); }

    Index corner_of(const Fan& fan, Index i) const { return fan_corners_[fan.first + i % fan.count]; }
    /// Edge i of the fan: the outgoing edge of corner i, or the last one of an open fan.
    Index edge_of(const Fan& fan, Index i) const {
        if (fan.closed) return outgoing(corner_of(fan, i));
        return i < fan.count ? outgoing(fan_corners_[fan.first + i])
                             : incoming(fan_corners_[fan.first + fan.count - 1]);
    }
    bool bevels(const Fan& fan, Index i) const {
        if (edge_width_.empty() || (!fan.closed && (i == 0 || i == fan.count))) return false;
        return edge_width_[edge_of(fan, i)] > 0;
    }
    DVec3 direction(const Fan& fan, Index i) const {
        const auto& edge = t_.edges[edge_of(fan, i)];
        return unit(at(edge[0] == fan.vertex ? edge[1] : edge[0]) - at(fan.vertex));
    }

    /// Length along edge `slide` at which it is `width` away from edge `bevel` (both of the fan).
    double slide_length(const Fan& fan, Index bevel, Index slide) const;
    /// Where two bevels in the same face meet: the crossing of the lines parallel to both edges.
    DVec3 meeting(const Fan& fan, Index corner) const;

    Index mover(const DVec3& velocity) {
        movers_.push_back({velocity, no_index});
        return static_cast<Index>(movers_.size() - 1);
    }
    void give(const Fan& fan, Index corner, std::initializer_list<Index> list) {
        CornerList& slot = corner_[corner_of(fan, corner)];
        slot = {static_cast<Index>(pool_.size()), static_cast<Index>(list.size())};
        pool_.insert(pool_.end(), list.begin(), list.end());
    }

    const Mesh& mesh_;
    const Topology& t_;
    const Array<Vec3>& p_;
    const BevelOptions& options_;
    const Array<Vec3> flat_;
    std::span<const float> edge_width_, vertex_width_;
    Array<Index> previous_, next_, face_;  ///< of a corner
    Array<Index> at_offsets_, at_;         ///< corners at a vertex
    std::vector<Fan> fans_;
    Array<Index> fan_corners_, pool_;  ///< what fans and corner lists are ranges of; the pool holds numbers of movers
    DisjointSets group_{0};            ///< vertices that bevelled edges tie together
    std::vector<CornerList> corner_;
    std::vector<Mover> movers_;
    Array<double> share_;        ///< how much of the width a group can have
    std::vector<Index> marked_;  ///< the bevelled edges of the fan at hand

private:
    /// Splits the corners round a vertex into fans and decides, for each, which points take its place.
    void lay_out(Index v);
    void settle(Fan fan);
    /// Corners between two bevelled edges of the fan.
    void between(Fan& fan, Index from, Index to);
    /// The single bevel of a closed fan ends here: edges 1..count are all plain.
    void outer_side(Fan& fan, Index bevel, Index count);
    /// The plain edges between an outermost bevel of an open fan and the border.
    void run_out(Fan& fan, Index bevel, Index count, bool after);
    void settle_vertex(Fan& fan);
    /// Finds how much of the asked width each connected group of bevels can have.
    void hold();

    std::vector<std::uint8_t> used_;  ///< corners of the vertex at hand that are in a fan
};

}  // namespace bricol
