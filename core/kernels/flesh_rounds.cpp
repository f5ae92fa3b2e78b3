// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/flesh_rounds.h"

#include <algorithm>
#include <cmath>
#include <unordered_map>

#include "core/ground/parallel.h"
#include "core/ground/stop.h"

namespace bricol {

PointHomes::PointHomes(const FleshCage& cage) : cage_(cage) {
    const auto bones = static_cast<Index>(cage.near.size());
    // The points of few joints lie on several bones, but many on the same: each list is put together once, from the
    // one a point had before and the bone of its next quad.
    std::unordered_map<std::uint64_t, Index> further;
    std::vector<std::vector<Index>> members;  // of the lists beyond those of single bones
    list_.assign(cage.points.size(), no_index);
    for (std::size_t q = 0; q < cage.quads.size(); ++q) {
        stop_point(q);
        const Index bone = cage.quad_bone[q];
        if (bone == no_index) continue;
        for (const Index v : cage.quads[q]) {
            Index& list = list_[v];
            if (list == bone) continue;
            if (list == no_index) {
                list = bone;
                continue;
            }
            const auto [known, fresh] = further.try_emplace(std::uint64_t(list) << 32 | bone, list);
            if (fresh) {
                std::vector<Index> all = list < bones ? std::vector<Index>{list} : members[list - bones];
                if (std::find(all.begin(), all.end(), bone) == all.end()) {
                    known->second = static_cast<Index>(bones + members.size());
                    all.push_back(bone);
                    members.push_back(std::move(all));
                }
            }
            list = known->second;
        }
    }
    for (const std::vector<Index>& of : members) {
        stop_point();
        std::vector<Index> all;
        for (const Index b : of) all.insert(all.end(), cage.near[b].begin(), cage.near[b].end());
        std::sort(all.begin(), all.end());
        all.erase(std::unique(all.begin(), all.end()), all.end());
        shared_.push_back(std::move(all));
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
    FieldBounds bounds;
    for (int step = 0; step < 20; ++step) {
        const FieldValue value = flesh_field(cage.fields, bones, axis + way * t, blend, &bounds);
        const double far = value.distance / std::max(glm::dot(value.way, way), 0.4);
        const double before = t;
        t = std::clamp(t - far, least * start, most * start);
        bounds.moved = std::abs(t - before) * (1 + 1e-9);
        if (std::abs(far) < 1e-6 * start) break;
    }
    return axis + way * t;
}

/// The ellipsoid of a knot without bones.
DVec3 on_ball(const StickKnot& knot, const DVec3& p) {
    const DVec3 size(knot.girth.x, std::sqrt(knot.girth.x * knot.girth.y), knot.girth.y);
    return knot.at + size * glm::normalize((p - knot.at) / size);
}

/// One round of quads in four, without moving anything. Points: the old ones, then edges in the order in which quads
/// first come to them, then quads.
void split_quads(FleshCage& cage) {
    const std::size_t quads = cage.quads.size();
    const auto add = [&](const DVec3& point, const DVec3& axis) {
        cage.points.push_back(point);
        cage.axis.push_back(axis);
        return static_cast<Index>(cage.points.size() - 1);
    };
    // The edges at each point's lower end, one after another.
    struct Edge {
        Index upper, middle, next;
    };
    std::vector<Edge> edges;
    edges.reserve(2 * quads + 8);
    std::vector<Index> first_at(cage.points.size(), no_index), middle(4 * quads);
    cage.points.reserve(cage.points.size() + 3 * quads + 8);
    cage.axis.reserve(cage.points.capacity());
    for (Index q = 0; q < quads; ++q) {
        stop_point(q);
        for (Index c = 0; c < 4; ++c) {
            const Index a = cage.quads[q][c], b = cage.quads[q][(c + 1) % 4], upper = std::max(a, b);
            Index& first = first_at[std::min(a, b)];
            Index e = first;
            while (e != no_index && edges[e].upper != upper) e = edges[e].next;
            if (e == no_index) {
                e = static_cast<Index>(edges.size());
                const Index point = add(0.5 * (cage.points[a] + cage.points[b]), 0.5 * (cage.axis[a] + cage.axis[b]));
                edges.push_back({upper, point, first});
                first = e;
            }
            middle[4 * q + c] = edges[e].middle;
        }
    }
    std::vector<std::array<Index, 4>> fine;
    std::vector<Index> bone, knot;
    fine.reserve(4 * quads), bone.reserve(4 * quads), knot.reserve(4 * quads);
    std::vector<Index> flat_knot(quads, no_index);
    for (std::size_t i = 0; i < cage.flat.size(); ++i) flat_knot[cage.flat[i]] = cage.flat_knot[i];
    cage.flat.clear(), cage.flat_knot.clear();
    for (Index q = 0; q < quads; ++q) {
        stop_point(q);
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
    for (std::size_t q = 0; q < cage.quads.size(); ++q) {
        stop_point(q);
        if (!flat[q])
            for (const Index v : cage.quads[q]) in_flat[v] = 0;
    }
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
    for (std::size_t q = 0; q < cage.quads.size(); ++q) {
        stop_point(q);
        if (cage.quad_bone[q] == no_index)
            for (const Index v : cage.quads[q])
                if (v >= first) cage.points[v] = on_ball(sticks.knots[cage.quad_knot[q]], cage.points[v]);
    }
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
