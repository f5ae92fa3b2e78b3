// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/uv.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <numeric>

#include "core/ground/stop.h"
#include "core/kernels/normals.h"
#include "core/kernels/triangulate.h"
#include "core/ground/joined.h"

namespace bricol {

namespace {

constexpr double turn = 2 * std::numbers::pi;

/// First and second direction of the flat view across an axis.
std::array<int, 2> view_axes(int axis) {
    return axis == 2 ? std::array{0, 1} : axis == 1 ? std::array{0, 2} : std::array{1, 2};
}

Array<Vec2> uvs_so_far(const Mesh& mesh) {
    if (const auto* before = mesh.attributes.values<Vec2>(Domain::corner, attribute_name::uv)) return *before;
    return Array<Vec2>(mesh.topology->corner_count(), Vec2(0));
}

}  // namespace

Mesh with_uvs(const Mesh& mesh, const UvOptions& options, const Selection& faces) {
    Mesh out = mesh;
    Array<Vec2> uv = uvs_so_far(mesh);
    const Topology& topology = *mesh.topology;
    const Array<Vec3>& points = *mesh.positions;
    DVec3 low(1e300), high(-1e300);
    for (std::size_t f = 0; f < topology.face_count(); ++f)
        if (faces[f])
            for (const Index v : topology.face(f))
                low = glm::min(low, DVec3(points[v])), high = glm::max(high, DVec3(points[v]));
    const DVec3 size = glm::max(high - low, DVec3(1e-12));
    const Array<Vec3> normals = options.by == UvProjection::box ? face_normals(mesh) : Array<Vec3>{};
    const auto flat = [&](const DVec3& p, int axis) {
        const auto [a, b] = view_axes(axis);
        return options.real ? DVec2(p[a], p[b]) : DVec2((p[a] - low[a]) / size[a], (p[b] - low[b]) / size[b]);
    };
    const int a = (options.axis + 1) % 3, b = (options.axis + 2) % 3;
    for (std::size_t f = 0; f < topology.face_count(); ++f) {
        stop_point(f);
        if (!faces[f]) continue;
        const Index begin = topology.face_offsets[f], end = topology.face_offsets[f + 1];
        int axis = options.axis;
        if (options.by == UvProjection::box) {
            const Vec3 n = glm::abs(normals[f]);
            axis = n.x > n.y && n.x > n.z ? 0 : n.y > n.z ? 1 : 2;
        }
        double first = 0, sum = 0;
        int known = 0;
        std::vector<std::uint8_t> pole;
        for (Index c = begin; c < end; ++c) {
            const DVec3 p(points[topology.corner_vertex[c]]);
            if (options.by == UvProjection::plane || options.by == UvProjection::box) {
                uv[c] = Vec2(flat(p, axis));
                continue;
            }
            const DVec3 d = p - options.centre;
            const double reach = std::hypot(d[a], d[b]);
            double u = std::atan2(d[b], d[a]) / turn;
            if (u < 0) u += 1;
            pole.push_back(reach < 1e-9 * std::max({size.x, size.y, size.z}));
            if (!pole.back()) {
                if (known == 0) first = u;
                while (u - first > 0.5) u -= 1;
                while (u - first < -0.5) u += 1;
                sum += u, ++known;
            }
            const double v = options.by == UvProjection::sphere
                                 ? 0.5 + std::atan2(d[options.axis], reach) / std::numbers::pi
                             : options.real ? p[options.axis]
                                            : (p[options.axis] - low[options.axis]) / size[options.axis];
            uv[c] = Vec2(DVec2(u, v));
        }
        for (std::size_t k = 0; k < pole.size(); ++k)  // a pole stands between the others of its face
            if (pole[k] && known > 0) uv[begin + k].x = static_cast<float>(sum / known);
        if (known > 0) {  // beyond 1 rather than below 0
            float least = 1e30f;
            for (Index c = begin; c < end; ++c) least = std::min(least, uv[c].x);
            if (least < 0)
                for (Index c = begin; c < end; ++c) uv[c].x += 1;
        }
    }
    out.attributes.set(Domain::corner, attribute_name::uv, std::move(uv));
    return out;
}

UnwrapResult unwrapped(const Mesh& mesh, const Mask& seams, double margin) {
    UnwrapResult result;
    result.mesh = mesh;
    const Topology& topology = *mesh.topology;
    const Adjacency& near = topology.adjacency();
    // Faces hang together, and corners at a vertex are one point, across every edge that is no seam.
    Joined faces(topology.face_count()), corners(topology.corner_count());
    std::vector<Index> face_of(topology.corner_count());
    for (Index f = 0; f < topology.face_count(); ++f)
        for (Index c = topology.face_offsets[f]; c < topology.face_offsets[f + 1]; ++c) face_of[c] = f;
    const auto corner_at = [&](Index f, Index v) {
        for (Index c = topology.face_offsets[f]; c < topology.face_offsets[f + 1]; ++c)
            if (topology.corner_vertex[c] == v) return c;
        return no_index;
    };
    for (Index e = 0; e < topology.edge_count(); ++e) {
        stop_point(e);
        const auto around = near.faces_of_edge(e);
        if (around.size() != 2 || (e < seams.size() && seams[e])) continue;
        faces.join(around[0], around[1]);
        for (const Index v : topology.edges[e]) corners.join(corner_at(around[0], v), corner_at(around[1], v));
    }
    const Triangles cut = triangulated(mesh);
    struct Chart {
        std::vector<DVec3> points;
        std::vector<std::array<Index, 3>> triangles;
        std::vector<DVec2> uv;
        std::vector<Index> corner;  // root corner of each point
        DVec2 size{0};
    };
    std::vector<Chart> charts;
    std::vector<Index> chart_of(topology.face_count(), no_index), point_of(topology.corner_count(), no_index);
    for (std::size_t t = 0; t < cut.count(); ++t) {
        stop_point(t);
        const Index root = faces.root(cut.face[t]);
        if (chart_of[root] == no_index) chart_of[root] = static_cast<Index>(charts.size()), charts.emplace_back();
        Chart& chart = charts[chart_of[root]];
        std::array<Index, 3> triangle;
        for (int k = 0; k < 3; ++k) {
            const Index own = corners.root(cut.corners[3 * t + k]);
            if (point_of[own] == no_index) {
                point_of[own] = static_cast<Index>(chart.points.size());
                chart.points.push_back(DVec3((*mesh.positions)[topology.corner_vertex[own]]));
                chart.corner.push_back(own);
            }
            triangle[k] = point_of[own];
        }
        chart.triangles.push_back(triangle);
    }
    for (Chart& chart : charts) {
        stop_point();
        chart.uv = flattened_disc(chart.points, chart.triangles);
        if (chart.uv.empty()) {
            ++result.not_discs;
            result.not_disc_at.push_back(Vec3(chart.points[0]));
            DVec3 mean(0);
            for (const auto& t : chart.triangles)
                mean += glm::cross(chart.points[t[1]] - chart.points[t[0]], chart.points[t[2]] - chart.points[t[0]]);
            const DVec3 n = glm::length(mean) > 1e-12 ? glm::normalize(mean) : DVec3(0, 0, 1),
                        helper = std::abs(n.z) < 0.9 ? DVec3(0, 0, 1) : DVec3(1, 0, 0);
            const DVec3 across = glm::normalize(glm::cross(helper, n)), over = glm::cross(n, across);
            for (const DVec3& p : chart.points) chart.uv.emplace_back(glm::dot(p, across), glm::dot(p, over));
        }
        // As large as the piece itself, its longer side upright.
        double area = 0, flat = 0;
        for (const auto& t : chart.triangles) {
            area += glm::length(
                        glm::cross(chart.points[t[1]] - chart.points[t[0]], chart.points[t[2]] - chart.points[t[0]])) /
                    2;
            const DVec2 p = chart.uv[t[1]] - chart.uv[t[0]], q = chart.uv[t[2]] - chart.uv[t[0]];
            flat += std::abs(p.x * q.y - p.y * q.x) / 2;
        }
        const double scale = flat > 0 ? std::sqrt(area / flat) : 1;
        DVec2 low(1e300), high(-1e300);
        for (DVec2& p : chart.uv) p *= scale, low = glm::min(low, p), high = glm::max(high, p);
        const bool lies = high.x - low.x > high.y - low.y;
        for (DVec2& p : chart.uv) {
            p -= low;
            if (lies) p = {high.y - low.y - p.y, p.x};
        }
        chart.size = high - low;
        if (lies) std::swap(chart.size.x, chart.size.y);
    }
    // Rows of charts, tallest first, as wide as makes the whole about square.
    std::vector<std::size_t> order(charts.size());
    std::iota(order.begin(), order.end(), std::size_t(0));
    std::stable_sort(order.begin(), order.end(),
                     [&](std::size_t x, std::size_t y) { return charts[x].size.y > charts[y].size.y; });
    double area = 0, widest = 0;
    for (const Chart& chart : charts) area += chart.size.x * chart.size.y, widest = std::max(widest, chart.size.x);
    const double gap = margin * std::sqrt(area), width = std::max(std::sqrt(area) * 1.1, widest + gap);
    std::vector<DVec2> at(charts.size());
    DVec2 pen(0);
    double row = 0, whole = 0;
    for (const std::size_t i : order) {
        if (pen.x > 0 && pen.x + charts[i].size.x > width) pen = {0, pen.y + row + gap}, row = 0;
        at[i] = pen;
        pen.x += charts[i].size.x + gap;
        row = std::max(row, charts[i].size.y);
        whole = std::max({whole, at[i].x + charts[i].size.x, at[i].y + charts[i].size.y});
    }
    Array<Vec2> uv(topology.corner_count(), Vec2(0));
    for (Index c = 0; c < uv.size(); ++c) {
        const Index root = faces.root(face_of[c]);
        if (chart_of[root] == no_index) continue;
        const Chart& chart = charts[chart_of[root]];
        const Index point = point_of[corners.root(c)];
        if (point != no_index) uv[c] = Vec2((chart.uv[point] + at[chart_of[root]]) / std::max(whole, 1e-12));
    }
    result.charts = charts.size();
    result.covered = whole > 0 ? area / (whole * whole) : 0;
    result.mesh.attributes.set(Domain::corner, attribute_name::uv, std::move(uv));
    return result;
}

}  // namespace bricol
