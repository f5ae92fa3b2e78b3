// SPDX-License-Identifier: GPL-3.0-or-later
// A graph and ever coarser copies of it, so that what is spread along its edges comes to rest everywhere at once.
#pragma once

#include <algorithm>
#include <numeric>
#include <span>
#include <vector>

#include "core/ground/stop.h"
#include "core/ground/types.h"

namespace bricol {

/// What is known at one vertex, carried to another: `Map` has `identity()`, `then(Map)` and `inverse()`, and
/// `of_many(span)` makes one of several that run between the same two.
template <class Map>
struct QuadLevel {
    struct Way {
        Index to;
        double weight;
        Map map;  ///< from the vertex the way leaves
    };
    std::vector<Index> offsets;  ///< ways[offsets[v] .. offsets[v+1]) leave vertex v
    std::vector<Way> ways;
    std::vector<std::uint8_t> holds;  ///< how firmly a vertex is held; the firmest of those behind it
    std::vector<Index> parent;        ///< on the next coarser level; empty on the coarsest
    std::vector<Map>
        from_parent;  ///< from the parent's map to that of the vertex; a parent has the map of one of its two

    std::size_t size() const { return holds.size(); }
    std::span<const Way> from(Index v) const { return {ways.data() + offsets[v], ways.data() + offsets[v + 1]}; }
};

/// All levels, finest first. Each joins vertices in pairs, in an order that runs over all of the surface.
template <class Map>
std::vector<QuadLevel<Map>> quad_levels(QuadLevel<Map> finest) {
    using Way = typename QuadLevel<Map>::Way;
    std::vector<QuadLevel<Map>> levels;
    levels.push_back(std::move(finest));
    std::vector<std::uint32_t> behind(levels[0].size(), 1);  // vertices of the finest level
    while (levels.back().size() > 8) {
        QuadLevel<Map>& fine = levels.back();
        const auto count = static_cast<Index>(fine.size());
        QuadLevel<Map> coarse;
        fine.parent.assign(count, no_index);
        fine.from_parent.assign(count, Map::identity());
        std::vector<std::uint32_t> mass;
        Index stride = 7919;  // a prime: every vertex comes once unless the count is its multiple
        while (std::gcd(stride, count) != 1) ++stride;
        Index v = 0;
        for (Index i = 0; i < count; ++i, v = static_cast<Index>((std::uint64_t(v) + stride) % count)) {
            stop_point(i);
            if (fine.parent[v] != no_index) continue;
            const Way* best = nullptr;
            for (const Way& way : fine.from(v))
                if (fine.parent[way.to] == no_index && way.to != v &&
                    (!best || way.weight / behind[way.to] > best->weight / behind[best->to]))
                    best = &way;
            const auto number = static_cast<Index>(coarse.holds.size());
            fine.parent[v] = number;
            if (!best) {
                coarse.holds.push_back(fine.holds[v]);
                mass.push_back(behind[v]);
                continue;
            }
            fine.parent[best->to] = number;
            const bool first = fine.holds[v] >= fine.holds[best->to];
            (first ? fine.from_parent[best->to] : fine.from_parent[v]) = first ? best->map : best->map.inverse();
            coarse.holds.push_back(std::max(fine.holds[v], fine.holds[best->to]));
            mass.push_back(behind[v] + behind[best->to]);
        }
        if (coarse.size() * 100 > std::size_t(count) * 97) {
            fine.parent.clear();
            fine.from_parent.clear();
            break;
        }
        // Ways of the coarse level, those between the same two made one.
        std::vector<std::vector<Index>> children(coarse.size());
        for (Index c = 0; c < count; ++c) children[fine.parent[c]].push_back(c);
        std::vector<Way> leaving;
        std::vector<Map> alike;
        for (std::size_t c = 0; c < coarse.size(); ++c) {
            stop_point(c);
            coarse.offsets.push_back(static_cast<Index>(coarse.ways.size()));
            leaving.clear();
            for (const Index child : children[c])
                for (const Way& way : fine.from(child))
                    if (const Index to = fine.parent[way.to]; to != c)
                        leaving.push_back(
                            {to, way.weight,
                             fine.from_parent[child].then(way.map).then(fine.from_parent[way.to].inverse())});
            std::ranges::stable_sort(leaving, {}, &Way::to);
            for (std::size_t i = 0; i < leaving.size();) {
                alike.clear();
                double weight = 0;
                const Index to = leaving[i].to;
                for (; i < leaving.size() && leaving[i].to == to; ++i)
                    alike.push_back(leaving[i].map), weight += leaving[i].weight;
                coarse.ways.push_back({to, weight, Map::of_many(alike)});
            }
        }
        coarse.offsets.push_back(static_cast<Index>(coarse.ways.size()));
        behind = std::move(mass);
        levels.push_back(std::move(coarse));
    }
    return levels;
}

}  // namespace bricol
