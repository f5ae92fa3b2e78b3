// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/remesh_sizes.h"

#include <algorithm>
#include <cmath>

#include "core/ground/stop.h"
#include "core/kernels/quad_field.h"
#include "core/kernels/surface_finder.h"

namespace bricol {

namespace {

constexpr int spread_rounds = 12;
constexpr double smallest = 1e-2, largest = 1e2;  // of what an attribute may ask for

/// Share of the surface that belongs to every vertex (m^2).
std::vector<double> vertex_areas(const EvenTriangles& t) {
    std::vector<double> area(t.point.size(), 0);
    for (Index h = 0; h < t.from.size(); h += 3) {
        if (t.gone(h)) continue;
        const double third = glm::length(t.normal(h / 3)) / 6;
        for (Index k = 0; k < 3; ++k) area[t.from[h + k]] += third;
    }
    return area;
}

void size_by_given(const EvenTriangles& t, std::span<const float> given, const SurfaceFinder& surface, double near,
                   std::vector<double>& size) {
    const Array<Vec3> points(t.point.begin(), t.point.end());
    std::vector<SurfaceHit> hits(points.size());
    surface.nearest(points, hits, near);
    const Topology& old = *surface.mesh().topology;
    for (std::size_t v = 0; v < size.size(); ++v) {
        stop_point(v);
        if (!hits[v]) continue;
        const auto& corners = surface.triangles()[hits[v].triangle];
        const auto at = [&](std::size_t k) { return static_cast<double>(given[old.corner_vertex[corners[k]]]); };
        const DVec3& share = hits[v].share;
        size[v] = std::clamp(share.x * at(0) + share.y * at(1) + share.z * at(2), smallest, largest);
    }
}

}  // namespace

std::vector<double> remesh_sizes(EvenTriangles& t, const RemeshSizes& sizes, double even,
                                 const SurfaceFinder& surface) {
    std::vector<double> size(t.point.size(), 1);
    if (sizes.by == RemeshSizes::By::even) {
        std::ranges::fill(size, even);
        return size;
    }
    const QuadMaps maps = quad_maps(t);
    if (sizes.by == RemeshSizes::By::curvature) {
        const QuadCurving curving = quad_curving(t, maps);
        for (std::size_t v = 0; v < size.size(); ++v)
            if (t.hold[v] == VertexHold::free)
                size[v] = 1 / (1 + (std::max(sizes.range, 1.0) - 1) * std::min(1.0, 2 * curving.most[v] * even));
    } else {
        size_by_given(t, sizes.given, surface, even / 10, size);
    }
    // Sizes that change much within a face make bad ones: spread over the neighbours, the smaller counting more.
    for (int round = 0; round < spread_rounds; ++round) {
        std::vector<double> count(size.size(), 0), inverse(size.size(), 0);
        for (const QuadEdge& edge : maps.edges) {
            count[edge.a] += 1, inverse[edge.a] += 1 / size[edge.b];
            count[edge.b] += 1, inverse[edge.b] += 1 / size[edge.a];
        }
        for (std::size_t v = 0; v < size.size(); ++v)
            if (count[v] > 0) size[v] = 2 / (1 / size[v] + inverse[v] / count[v]);
        stop_point();
    }
    const std::vector<double> area = vertex_areas(t);
    double whole = 0, faces = 0;
    for (std::size_t v = 0; v < size.size(); ++v) whole += area[v], faces += area[v] / (size[v] * size[v]);
    const double scale = whole > 0 ? even * std::sqrt(faces / whole) : even;
    for (double& s : size) s *= scale;
    return size;
}

}  // namespace bricol
