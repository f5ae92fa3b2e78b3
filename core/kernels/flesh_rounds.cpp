// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/flesh_rounds.h"

#include <algorithm>
#include <cmath>
#include <tuple>

#include "core/ground/parallel.h"
#include "core/ground/stop.h"

namespace bricol {

PointHomes::PointHomes(const FleshCage& cage) : cage_(cage) {
    first_.assign(cage.points.size(), no_index);
    for (std::size_t q = 0; q < cage.quads.size(); ++q)
        for (const Index v : cage.quads[q]) {
            const Index bone = cage.quad_bone[q];
            if (bone == no_index || first_[v] == bone) continue;
            if (first_[v] == no_index) {
                first_[v] = bone;
                continue;
            }
            if (first_[v] < mixed) {
                own_.push_back({first_[v]});
                first_[v] = static_cast<Index>(mixed + own_.size() - 1);
            }
            std::vector<Index>& bones = own_[first_[v] - mixed];
            if (std::find(bones.begin(), bones.end(), bone) == bones.end()) bones.push_back(bone);
        }
    for (std::vector<Index>& bones : own_) {
        std::vector<Index> all;
        for (const Index b : bones) all.insert(all.end(), cage.near[b].begin(), cage.near[b].end());
        std::sort(all.begin(), all.end());
        all.erase(std::unique(all.begin(), all.end()), all.end());
        bones = std::move(all);
    }
}

namespace {

/// Out from (or in towards) the limb's axis, by steps that do not overshoot where the flesh is steep to the way.
DVec3 led_out(const FleshCage& cage, std::span<const Index> bones, const DVec3& from, const DVec3& axis, double blend) {
    const double start = glm::distance(from, axis);
    if (!(start > 0)) return from;
    // A point starts on a chord of the flesh: a cap of half a ball stands out most from its own, by the root of three.
    constexpr double least = 0.3, most = 1.8;
    const DVec3 way = (from - axis) / start;
    double t = start;
    for (int step = 0; step < 20; ++step) {
        const FieldValue value = flesh_field(cage.fields, bones, axis + way * t, blend);
        const double far = value.distance / std::max(glm::dot(value.way, way), 0.4);
        t = std::clamp(t - far, least * start, most * start);
        if (std::abs(far) < 1e-6 * start) break;
    }
    return axis + way * t;
}

/// The ellipsoid of a knot without bones.
DVec3 on_ball(const StickKnot& knot, const DVec3& p) {
    const DVec3 size(knot.girth.x, std::sqrt(knot.girth.x * knot.girth.y), knot.girth.y);
    return knot.at + size * glm::normalize((p - knot.at) / size);
}

struct EdgeKey {
    Index low, high, quad, side;
    bool operator<(const EdgeKey& other) const {
        return std::tie(low, high, quad, side) < std::tie(other.low, other.high, other.quad, other.side);
    }
};

/// One round of quads in four, without moving anything. Points: the old ones, then edges in the order in which quads
/// first come to them, then quads.
void split_quads(FleshCage& cage) {
    const std::size_t quads = cage.quads.size();
    std::vector<EdgeKey> sides;
    sides.reserve(4 * quads);
    for (Index q = 0; q < quads; ++q)
        for (Index c = 0; c < 4; ++c) {
            const Index a = cage.quads[q][c], b = cage.quads[q][(c + 1) % 4];
            sides.push_back({std::min(a, b), std::max(a, b), q, c});
        }
    std::sort(sides.begin(), sides.end());
    std::vector<Index> edge_of(4 * quads);
    for (std::size_t i = 0, edge = 0; i < sides.size(); ++i) {
        if (i > 0 && (sides[i].low != sides[i - 1].low || sides[i].high != sides[i - 1].high)) ++edge;
        edge_of[4 * sides[i].quad + sides[i].side] = static_cast<Index>(edge);
    }
    const auto add = [&](const DVec3& point, const DVec3& axis) {
        cage.points.push_back(point);
        cage.axis.push_back(axis);
        return static_cast<Index>(cage.points.size() - 1);
    };
    std::vector<Index> middle(4 * quads, no_index);
    std::vector<Index> of_edge(4 * quads, no_index);
    for (Index q = 0; q < quads; ++q)
        for (Index c = 0; c < 4; ++c) {
            Index& m = of_edge[edge_of[4 * q + c]];
            const Index a = cage.quads[q][c], b = cage.quads[q][(c + 1) % 4];
            if (m == no_index) m = add(0.5 * (cage.points[a] + cage.points[b]), 0.5 * (cage.axis[a] + cage.axis[b]));
            middle[4 * q + c] = m;
        }
    std::vector<std::array<Index, 4>> fine;
    std::vector<Index> bone, knot;
    std::vector<Index> flat_knot(quads, no_index);
    for (std::size_t i = 0; i < cage.flat.size(); ++i) flat_knot[cage.flat[i]] = cage.flat_knot[i];
    cage.flat.clear(), cage.flat_knot.clear();
    for (Index q = 0; q < quads; ++q) {
        const std::array<Index, 4> quad = cage.quads[q];
        DVec3 point(0), axis(0);
        for (const Index v : quad) point += 0.25 * cage.points[v], axis += 0.25 * cage.axis[v];
        const Index centre = add(point, axis);
        for (Index c = 0; c < 4; ++c) {
            if (flat_knot[q] != no_index)
                cage.flat.push_back(static_cast<Index>(fine.size())), cage.flat_knot.push_back(flat_knot[q]);
            fine.push_back({quad[c], middle[4 * q + c], centre, middle[4 * q + (c + 3) % 4]});
            bone.push_back(cage.quad_bone[q]);
            knot.push_back(cage.quad_knot[q]);
        }
    }
    cage.quads = std::move(fine);
    cage.quad_bone = std::move(bone);
    cage.quad_knot = std::move(knot);
    cage.between.resize(cage.points.size(), 0);
}

/// Points that lie in flat ends and nowhere else.
std::vector<std::uint8_t> within_flat(const FleshCage& cage) {
    std::vector<std::uint8_t> in_flat(cage.points.size(), 0);
    std::vector<std::uint8_t> flat(cage.quads.size(), 0);
    for (const Index q : cage.flat) flat[q] = 1;
    for (const Index q : cage.flat)
        for (const Index v : cage.quads[q]) in_flat[v] = 1;
    for (std::size_t q = 0; q < cage.quads.size(); ++q)
        if (!flat[q])
            for (const Index v : cage.quads[q]) in_flat[v] = 0;
    return in_flat;
}

void lead_out(FleshCage& cage, const Sticks& sticks, std::size_t first, double blend,
              const std::vector<std::uint8_t>* these) {
    const PointHomes homes(cage);
    const std::vector<std::uint8_t> flat = within_flat(cage);
    parallel::each(parallel::Numbers<Index>(static_cast<Index>(first), static_cast<Index>(cage.points.size()), 128),
                   [&](const auto& range) {
                       stop_point();
                       for (Index v = range.begin(); v != range.end(); ++v) {
                           if (flat[v] || (these && !(*these)[v])) continue;
                           const auto bones = homes.at(v);
                           if (!bones.empty())
                               cage.points[v] = led_out(cage, bones, cage.points[v], cage.axis[v], blend);
                       }
                   });
    for (std::size_t q = 0; q < cage.quads.size(); ++q)
        if (cage.quad_bone[q] == no_index)
            for (const Index v : cage.quads[q])
                if (v >= first) cage.points[v] = on_ball(sticks.knots[cage.quad_knot[q]], cage.points[v]);
}

}  // namespace

void refine_cage(FleshCage& cage, const Sticks& sticks, int rounds, double blend) {
    for (int round = 0; round < rounds; ++round) {
        const std::size_t first = cage.points.size();
        split_quads(cage);
        lead_out(cage, sticks, first, blend, nullptr);
    }
}

void lead_out_rings(FleshCage& cage, const Sticks& sticks, double blend) {
    lead_out(cage, sticks, 0, blend, &cage.between);
}

}  // namespace bricol
