// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/polygon_triangles.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <optional>
#include <unordered_map>

#include "core/ground/stop.h"
#include "core/kernels/triangulate.h"

namespace bricol {

namespace {

using Loop = std::vector<Index>;

/// The loops where every point has one side that starts there; nothing where one has several.
std::optional<std::vector<Loop>> plain_loops(std::span<const std::array<Index, 2>> sides) {
    constexpr std::size_t few = 24;  // looked through one by one
    if (sides.size() > few) return std::nullopt;
    std::array<bool, few> used{};
    for (std::size_t i = 0; i < sides.size(); ++i)
        for (std::size_t j = 0; j < i; ++j)
            if (sides[i][0] == sides[j][0]) return std::nullopt;
    std::vector<Loop> loops;
    for (std::size_t i = 0; i < sides.size(); ++i) {
        if (used[i]) continue;
        Loop loop;
        for (std::size_t at = i; at < sides.size() && !used[at];) {
            used[at] = true;
            loop.push_back(sides[at][0]);
            const Index to = sides[at][1];
            at = static_cast<std::size_t>(std::ranges::find_if(sides, [&](const auto& side) { return side[0] == to; }) -
                                          sides.begin());
            if (at == sides.size()) return std::nullopt;  // open, which the general way leaves out
        }
        if (loop.size() >= 3) loops.push_back(std::move(loop));
    }
    return loops;
}

/// Loops that pass no point twice.
std::vector<Loop> loops_of(std::span<const std::array<Index, 2>> sides) {
    if (auto plain = plain_loops(sides)) return std::move(*plain);
    std::unordered_map<Index, std::vector<Index>> ways;
    for (std::size_t i = sides.size(); i-- > 0;) ways[sides[i][0]].push_back(sides[i][1]);
    std::vector<Loop> loops;
    for (const auto& first : sides) {
        Loop path;
        std::unordered_map<Index, std::size_t> on_path;
        Index at = first[0];
        while (true) {
            auto& out = ways[at];
            if (const auto met = on_path.find(at); met != on_path.end()) {
                const std::size_t from = met->second;
                loops.emplace_back(path.begin() + static_cast<std::ptrdiff_t>(from), path.end());
                for (std::size_t i = from; i < path.size(); ++i) on_path.erase(path[i]);
                path.resize(from);
            }
            if (out.empty()) break;
            on_path[at] = path.size();
            path.push_back(at);
            at = out.back();
            out.pop_back();
        }
    }
    std::erase_if(loops, [](const Loop& loop) { return loop.size() < 3; });
    return loops;
}

double doubled_area(const std::vector<DVec2>& flat, const DVec2& origin) {
    double sum = 0;
    for (std::size_t i = 0; i < flat.size(); ++i) {
        const DVec2 a = flat[i] - origin, b = flat[(i + 1) % flat.size()] - origin;
        sum += a.x * b.y - a.y * b.x;
    }
    return sum;
}

double turn(const DVec2& a, const DVec2& b, const DVec2& c) {
    return (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x);
}

/// Whether the triangles' sides cancel down to the given ones.
bool bounded_by(const std::vector<std::array<Index, 3>>& triangles, std::span<const std::array<Index, 2>> sides) {
    std::vector<std::array<Index, 2>> left;
    left.reserve(3 * triangles.size());
    for (const auto& t : triangles)
        for (int k = 0; k < 3; ++k) left.push_back({t[k], t[(k + 1) % 3]});
    for (const auto& [from, to] : sides) left.push_back({to, from});
    // Now everything must cancel.
    const auto key = [](const std::array<Index, 2>& s) {
        return std::pair(std::min(s[0], s[1]), std::max(s[0], s[1]));
    };
    std::sort(left.begin(), left.end(), [&](const auto& a, const auto& b) { return key(a) < key(b); });
    for (std::size_t i = 0; i < left.size();) {
        int sum = 0;
        std::size_t j = i;
        for (; j < left.size() && key(left[j]) == key(left[i]); ++j) sum += left[j][0] < left[j][1] ? 1 : -1;
        if (sum != 0) return false;
        i = j;
    }
    return true;
}

/// One ring of all loops: those that run the other way are tied to the nearest point of the others by a way out and
/// back.
struct Ring {
    Loop points;
    std::vector<DVec2> flat;
};

void tie_hole(Ring& ring, const Loop& hole, const std::vector<DVec2>& flat) {
    double nearest = std::numeric_limits<double>::max();
    std::size_t at = 0, from = 0;
    for (std::size_t i = 0; i < ring.points.size(); ++i)
        for (std::size_t j = 0; j < hole.size(); ++j) {
            const DVec2 way = ring.flat[i] - flat[j];
            if (const double d = glm::dot(way, way); d < nearest) nearest = d, at = i, from = j;
        }
    Ring tied;
    const auto add = [&](Index v, const DVec2& p) { tied.points.push_back(v), tied.flat.push_back(p); };
    for (std::size_t i = 0; i <= at; ++i) add(ring.points[i], ring.flat[i]);
    for (std::size_t j = 0; j <= hole.size(); ++j) add(hole[(from + j) % hole.size()], flat[(from + j) % hole.size()]);
    for (std::size_t i = at; i < ring.points.size(); ++i) add(ring.points[i], ring.flat[i]);
    ring = std::move(tied);
}

void cut_ears(Ring ring, std::vector<std::array<Index, 3>>& out) {
    while (ring.points.size() > 3) {
        stop_point();
        const std::size_t n = ring.points.size();
        std::size_t best = n;
        double least = std::numeric_limits<double>::max();
        std::size_t fallback = 0;
        for (std::size_t i = 0; i < n && best == n; ++i) {
            const DVec2 &a = ring.flat[(i + n - 1) % n], &b = ring.flat[i], &c = ring.flat[(i + 1) % n];
            const double area = turn(a, b, c);
            if (std::abs(area) < least) least = std::abs(area), fallback = i;
            if (!(area > 0)) continue;
            bool free = true;
            for (std::size_t j = 0; j < n && free; ++j) {
                const Index v = ring.points[j];
                if (v == ring.points[(i + n - 1) % n] || v == ring.points[i] || v == ring.points[(i + 1) % n]) continue;
                const DVec2& p = ring.flat[j];
                free = !(turn(a, b, p) >= 0 && turn(b, c, p) >= 0 && turn(c, a, p) >= 0);
            }
            if (free) best = i;
        }
        const std::size_t ear = best < n ? best : fallback;
        out.push_back({ring.points[(ear + n - 1) % n], ring.points[ear], ring.points[(ear + 1) % n]});
        ring.points.erase(ring.points.begin() + static_cast<std::ptrdiff_t>(ear));
        ring.flat.erase(ring.flat.begin() + static_cast<std::ptrdiff_t>(ear));
    }
    if (ring.points.size() == 3) out.push_back({ring.points[0], ring.points[1], ring.points[2]});
}

}  // namespace

std::vector<std::array<Index, 3>> triangles_of_sides(const std::vector<DVec3>& points,
                                                     std::span<const std::array<Index, 2>> sides, const DVec3& normal) {
    const std::vector<Loop> loops = loops_of(sides);
    if (loops.empty()) return {};
    if (loops.size() == 1 && loops[0].size() == 3) return {{loops[0][0], loops[0][1], loops[0][2]}};
    const DVec3 size = glm::abs(normal);
    const int drop = size.x >= size.y && size.x >= size.z ? 0 : size.y >= size.z ? 1 : 2;
    const int a = (drop + 1) % 3, b = (drop + 2) % 3;
    std::vector<std::vector<DVec2>> flat(loops.size());
    Loop numbered;
    for (std::size_t l = 0; l < loops.size(); ++l)
        for (const Index v : loops[l]) {
            flat[l].emplace_back(points[v][a], normal[drop] >= 0 ? points[v][b] : -points[v][b]);
            numbered.push_back(v);
        }
    std::vector<std::array<Index, 3>> out;
    for (const auto& t : triangulate_loops(flat))
        out.push_back({numbered[static_cast<std::size_t>(t[0])], numbered[static_cast<std::size_t>(t[1])],
                       numbered[static_cast<std::size_t>(t[2])]});
    if (!out.empty() && bounded_by(out, sides)) return out;
    out.clear();
    // Around first, the largest before the others; then what runs the other way is tied to the nearest.
    std::vector<std::pair<double, std::size_t>> order;
    for (std::size_t l = 0; l < loops.size(); ++l) order.emplace_back(-doubled_area(flat[l], flat[0][0]), l);
    std::sort(order.begin(), order.end());
    std::vector<Ring> rings;
    for (const auto& [minus_area, l] : order) {
        if (minus_area < 0 || rings.empty()) {
            rings.push_back({loops[l], flat[l]});
            continue;
        }
        std::size_t nearest = 0;
        double least = std::numeric_limits<double>::max();
        for (std::size_t r = 0; r < rings.size(); ++r)
            for (const DVec2& p : rings[r].flat)
                if (const double d = glm::distance(p, flat[l][0]); d < least) least = d, nearest = r;
        tie_hole(rings[nearest], loops[l], flat[l]);
    }
    for (Ring& ring : rings) cut_ears(std::move(ring), out);
    std::erase_if(out, [](const auto& t) { return t[0] == t[1] || t[1] == t[2] || t[2] == t[0]; });
    return out;
}

}  // namespace bricol
