// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/uv.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <numeric>

#include "core/ground/stop.h"
#include "core/kernels/normals.h"
#include "core/kernels/triangulate.h"
#include "core/ground/disjoint_sets.h"

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

namespace {

/// A piece of the surface laid flat.
struct Chart {
    std::vector<DVec3> points;
    std::vector<std::array<Index, 3>> triangles;
    std::vector<DVec2> uv;
    DVec2 size{0}, at{0};
};

/// Charts of a mesh: its faces hang together, and corners at a vertex are one point, across every edge that is no seam.
class ChartCutter {
public:
    ChartCutter(const Mesh& mesh, const Selection& seams)
        : t_(*mesh.topology),
          faces_(t_.face_count()),
          corners_(t_.corner_count()),
          chart_of_(t_.face_count(), no_index),
          point_of_(t_.corner_count(), no_index) {
        sew(seams);
        fill(mesh);
    }

    std::vector<Chart> charts;

    /// The chart of a face's corner and its point there; nothing where the face has no triangle.
    std::optional<std::pair<Index, Index>> point(Index face, Index corner) {
        const Index chart = chart_of_[faces_.root(face)], at = point_of_[corners_.root(corner)];
        if (chart == no_index || at == no_index) return std::nullopt;
        return std::pair(chart, at);
    }

private:
    Index corner_at(Index f, Index v) const {
        for (Index c = t_.face_offsets[f]; c < t_.face_offsets[f + 1]; ++c)
            if (t_.corner_vertex[c] == v) return c;
        return no_index;
    }
    void sew(const Selection& seams) {
        const Adjacency& near = t_.adjacency();
        for (Index e = 0; e < t_.edge_count(); ++e) {
            stop_point(e);
            const auto around = near.faces_of_edge(e);
            if (around.size() != 2 || seams[e]) continue;
            faces_.join(around[0], around[1]);
            for (const Index v : t_.edges[e]) corners_.join(corner_at(around[0], v), corner_at(around[1], v));
        }
    }
    void fill(const Mesh& mesh) {
        const Triangles cut = triangulated(mesh);
        for (std::size_t t = 0; t < cut.count(); ++t) {
            stop_point(t);
            const Index root = faces_.root(cut.face[t]);
            if (chart_of_[root] == no_index) chart_of_[root] = static_cast<Index>(charts.size()), charts.emplace_back();
            Chart& chart = charts[chart_of_[root]];
            std::array<Index, 3> triangle{};
            for (int k = 0; k < 3; ++k) {
                const Index own = corners_.root(cut.corners[3 * t + static_cast<std::size_t>(k)]);
                if (point_of_[own] == no_index) {
                    point_of_[own] = static_cast<Index>(chart.points.size());
                    chart.points.push_back(DVec3((*mesh.positions)[t_.corner_vertex[own]]));
                }
                triangle[static_cast<std::size_t>(k)] = point_of_[own];
            }
            chart.triangles.push_back(triangle);
        }
    }

    const Topology& t_;
    DisjointSets faces_, corners_;
    std::vector<Index> chart_of_, point_of_;
};

DVec3 area_of(const Chart& chart, const std::array<Index, 3>& t) {
    return glm::cross(chart.points[t[1]] - chart.points[t[0]], chart.points[t[2]] - chart.points[t[0]]);
}

/// What cannot be flattened is seen along its mean normal.
void lay_by_projection(Chart& chart) {
    DVec3 mean(0);
    for (const auto& t : chart.triangles) mean += area_of(chart, t);
    const DVec3 n = glm::length(mean) > 1e-12 ? glm::normalize(mean) : DVec3(0, 0, 1),
                helper = std::abs(n.z) < 0.9 ? DVec3(0, 0, 1) : DVec3(1, 0, 0);
    const DVec3 across = glm::normalize(glm::cross(helper, n)), over = glm::cross(n, across);
    for (const DVec3& p : chart.points) chart.uv.emplace_back(glm::dot(p, across), glm::dot(p, over));
}

/// As large as the piece itself, its longer side upright, from 0 on.
void set_upright(Chart& chart) {
    double area = 0, flat = 0;
    for (const auto& t : chart.triangles) {
        area += glm::length(area_of(chart, t)) / 2;
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

/// Rows of charts, tallest first, as wide as makes the whole about square. Gives its longer side and the charts' area.
std::pair<double, double> lay_in_rows(std::vector<Chart>& charts, double margin) {
    std::vector<std::size_t> order(charts.size());
    std::iota(order.begin(), order.end(), std::size_t(0));
    std::stable_sort(order.begin(), order.end(),
                     [&](std::size_t x, std::size_t y) { return charts[x].size.y > charts[y].size.y; });
    double area = 0, widest = 0;
    for (const Chart& chart : charts) area += chart.size.x * chart.size.y, widest = std::max(widest, chart.size.x);
    const double gap = margin * std::sqrt(area), width = std::max(std::sqrt(area) * 1.1, widest + gap);
    DVec2 pen(0);
    double row = 0, whole = 0;
    for (const std::size_t i : order) {
        Chart& chart = charts[i];
        if (pen.x > 0 && pen.x + chart.size.x > width) pen = {0, pen.y + row + gap}, row = 0;
        chart.at = pen;
        pen.x += chart.size.x + gap;
        row = std::max(row, chart.size.y);
        whole = std::max({whole, chart.at.x + chart.size.x, chart.at.y + chart.size.y});
    }
    return {whole, area};
}

}  // namespace

UnwrapResult unwrapped(const Mesh& mesh, const Selection& seams, double margin) {
    UnwrapResult result;
    result.mesh = mesh;
    ChartCutter cut(mesh, seams);
    for (Chart& chart : cut.charts) {
        stop_point();
        chart.uv = flattened_disc(chart.points, chart.triangles);
        if (chart.uv.empty()) {
            ++result.not_discs;
            result.not_disc_at.push_back(Vec3(chart.points[0]));
            lay_by_projection(chart);
        }
        set_upright(chart);
    }
    const auto [whole, area] = lay_in_rows(cut.charts, margin);
    const Topology& topology = *mesh.topology;
    Array<Vec2> uv(topology.corner_count(), Vec2(0));
    for (Index f = 0; f < topology.face_count(); ++f)
        for (Index c = topology.face_offsets[f]; c < topology.face_offsets[f + 1]; ++c)
            if (const auto at = cut.point(f, c)) {
                const Chart& chart = cut.charts[at->first];
                uv[c] = Vec2((chart.uv[at->second] + chart.at) / std::max(whole, 1e-12));
            }
    result.charts = cut.charts.size();
    result.covered = whole > 0 ? area / (whole * whole) : 0;
    result.mesh.attributes.set(Domain::corner, attribute_name::uv, std::move(uv));
    return result;
}

}  // namespace bricol
