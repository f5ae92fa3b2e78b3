// SPDX-License-Identifier: GPL-3.0-or-later
// Flat maps round vertices, and how the surface is curved there.
#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "core/ground/stop.h"
#include "core/kernels/quad_field.h"

namespace bricol {

namespace {

constexpr double half_turn = std::numbers::pi;

double angle_between(const DVec3& a, const DVec3& b) {
    return std::atan2(glm::length(glm::cross(a, b)), glm::dot(a, b));
}

DVec3 unit_or(const DVec3& v, const DVec3& otherwise) {
    const double length = glm::length(v);
    return length > 0 ? v / length : otherwise;
}

/// The fan round one vertex: its edges in order against the clock and the angles between them.
struct Fan {
    std::vector<Index> out;      ///< half-edges that leave the vertex
    Index border_in = no_index;  ///< the half-edge that closes an open fan by coming in
    std::vector<DVec3> ways;     ///< to the neighbours, one more than `out` in an open fan
    std::vector<double> at;      ///< their angles, the first 0
    std::vector<std::uint8_t> held;
    double whole = 0;
};

Fan fan_of(EvenTriangles& t, Index v) {
    Fan fan;
    fan.out = t.around(v);
    for (const Index h : fan.out) {
        fan.ways.push_back(t.point[t.to(h)] - t.point[v]);
        fan.held.push_back(t.held[h]);
    }
    const Index last = EvenTriangles::prior(fan.out.back());
    if (t.twin[last] == no_index) {
        fan.border_in = last;
        fan.ways.push_back(t.point[t.from[last]] - t.point[v]);
        fan.held.push_back(1);
    }
    const std::size_t count = fan.ways.size();
    for (std::size_t i = 0; i < count; ++i) {
        fan.at.push_back(fan.whole);
        if (i + 1 < count || fan.border_in == no_index)
            fan.whole += angle_between(fan.ways[i], fan.ways[(i + 1) % count]);
    }
    return fan;
}

/// Opens the fan of a vertex on a line so that either side of the line is half a turn; the line leaves at angle 0.
void open_along_line(Fan& fan) {
    const std::size_t count = fan.ways.size();
    std::size_t first = 0;
    while (first < count && !fan.held[first]) ++first;
    if (first == count) return;
    std::size_t second = first + 1;
    while (second < count && !fan.held[second]) ++second;
    if (second == count) return;
    const double start = fan.at[first], middle = fan.at[second] - start;
    for (double& at : fan.at) {
        double past = at - start;
        if (past < 0) past += fan.whole;
        at = past <= middle ? past / middle * half_turn
                            : half_turn + (past - middle) / std::max(fan.whole - middle, 1e-12) * half_turn;
    }
}

}  // namespace

QuadMaps quad_maps(EvenTriangles& t) {
    QuadMaps maps;
    const std::size_t count = t.point.size();
    maps.edge_of.assign(t.from.size(), no_index);
    maps.x.assign(count, DVec3(1, 0, 0));
    maps.y.assign(count, DVec3(0, 1, 0));
    std::vector<double> at_start(t.from.size(), 0), at_end(t.from.size(), 0);
    for (Index v = 0; v < count; ++v) {
        stop_point(v);
        if (t.leaving[v] == no_index) continue;
        Fan fan = fan_of(t, v);
        DVec3 normal(0);
        for (const Index h : fan.out) normal += t.normal(h / 3);
        normal = unit_or(normal, DVec3(0, 0, 1));
        DVec3 ahead = fan.ways[0];
        if (t.hold[v] == VertexHold::line) {
            open_along_line(fan);
            DVec3 line(0);
            for (std::size_t i = 0; i < fan.ways.size(); ++i)
                if (fan.held[i]) line += unit_or(fan.ways[i], DVec3(0)) * (fan.at[i] < 1 ? 1.0 : -1.0);
            ahead = line;
        } else if (t.hold[v] == VertexHold::free && fan.whole > 0) {
            for (double& at : fan.at) at *= 2 * half_turn / fan.whole;
        }
        maps.x[v] = unit_or(ahead - normal * glm::dot(normal, ahead), unit_or(ahead, DVec3(1, 0, 0)));
        maps.y[v] = glm::cross(normal, maps.x[v]);
        for (std::size_t i = 0; i < fan.out.size(); ++i) {
            at_start[fan.out[i]] = fan.at[i];
            if (const Index other = t.twin[fan.out[i]]; other != no_index) at_end[other] = fan.at[i];
        }
        if (fan.border_in != no_index) at_end[fan.border_in] = fan.at.back();
    }
    for (Index h = 0; h < t.from.size(); ++h) {
        if (t.gone(h) || (t.twin[h] != no_index && t.twin[h] < h)) continue;
        maps.edge_of[h] = static_cast<Index>(maps.edges.size());
        if (t.twin[h] != no_index) maps.edge_of[t.twin[h]] = maps.edge_of[h];
        maps.edges.push_back({t.from[h], t.to(h), at_start[h], at_end[h], std::sqrt(t.length2(h))});
    }
    return maps;
}

QuadCurving quad_curving(EvenTriangles& t, const QuadMaps& maps) {
    const std::size_t count = t.point.size();
    // Symmetric 3 x 3: xx, yy, zz, xy, xz, yz; the last is the area.
    std::vector<std::array<double, 7>> sums(count, std::array<double, 7>{});
    for (Index h = 0; h < t.from.size(); ++h) {
        stop_point(h);
        if (t.gone(h)) continue;
        if (h % 3 == 0) {
            const double third = glm::length(t.normal(h / 3)) / 6;
            for (Index k = 0; k < 3; ++k) sums[t.from[h + k]][6] += third;
        }
        const Index other = t.twin[h];
        if (other == no_index || other < h) continue;
        const DVec3 way = t.point[t.to(h)] - t.point[t.from[h]], here = t.normal(h / 3), there = t.normal(other / 3);
        const double length = glm::length(way);
        if (!(length > 0)) continue;
        const DVec3 e = way / length;
        const double bend = std::atan2(glm::dot(glm::cross(here, there), e), glm::dot(here, there));
        const double share = bend * length / 2;
        for (const Index v : {t.from[h], t.to(h)}) {
            std::array<double, 7>& sum = sums[v];
            sum[0] += share * e.x * e.x, sum[1] += share * e.y * e.y, sum[2] += share * e.z * e.z;
            sum[3] += share * e.x * e.y, sum[4] += share * e.x * e.z, sum[5] += share * e.y * e.z;
        }
    }
    // Over the neighbours too: single edges of a faceted surface say little.
    for (int round = 0; round < 2; ++round) {
        const std::vector<std::array<double, 7>> before = sums;
        for (std::size_t e = 0; e < maps.edges.size(); ++e) {
            stop_point(e);
            const QuadEdge& edge = maps.edges[e];
            for (std::size_t k = 0; k < 7; ++k) {
                sums[edge.a][k] += before[edge.b][k] / 2;
                sums[edge.b][k] += before[edge.a][k] / 2;
            }
        }
    }
    QuadCurving out;
    out.fourfold.assign(count, DVec2(0));
    out.most.assign(count, 0);
    for (std::size_t v = 0; v < count; ++v) {
        stop_point(v);
        const std::array<double, 7>& m = sums[v];
        if (!(m[6] > 0)) continue;
        const auto form = [&](const DVec3& a, const DVec3& b) {
            return (m[0] * a.x * b.x + m[1] * a.y * b.y + m[2] * a.z * b.z + m[3] * (a.x * b.y + a.y * b.x) +
                    m[4] * (a.x * b.z + a.z * b.x) + m[5] * (a.y * b.z + a.z * b.y)) /
                   m[6];
        };
        const double xx = form(maps.x[v], maps.x[v]), yy = form(maps.y[v], maps.y[v]), xy = form(maps.x[v], maps.y[v]);
        const DVec2 twofold((xx - yy) / 2, xy);
        const double size = glm::length(twofold);
        out.most[v] = std::abs(xx + yy) / 2 + size;
        if (size > 0)
            out.fourfold[v] =
                DVec2(twofold.x * twofold.x - twofold.y * twofold.y, 2 * twofold.x * twofold.y) * (2 / size);
    }
    return out;
}

}  // namespace bricol
