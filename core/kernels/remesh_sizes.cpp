// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/remesh_sizes.h"

#include <algorithm>
#include <cmath>

#include "core/ground/stop.h"
#include "core/kernels/quad_cells.h"
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

/// How much held lines bend at their points, measured over a distance to either side (1/m); 0 away from them. Lines are
/// polygons as fine as the triangles: over a single edge they would bend not at all here and by a corner there.
std::vector<double> bends_of_lines(EvenTriangles& t, double distance) {
    const QuadLines lines = quad_lines(t);
    std::vector<double> bend(t.point.size(), 0);
    for (std::size_t v = 0; v < bend.size(); ++v) {
        stop_point(v);
        const QuadPlace& place = lines.place[v];
        if (place.line == no_index) continue;
        const QuadLine& line = lines.lines[place.line];
        const double whole = line.past.back();
        const double reach = std::min(distance, line.ring ? whole / 4 : std::min(place.along, whole - place.along));
        const DVec3 here = line.at(place.along), before = here - line.at(place.along - reach),
                    after = line.at(place.along + reach) - here;
        const double turn = std::atan2(glm::length(glm::cross(before, after)), glm::dot(before, after));
        if (reach > 0) bend[v] = turn / reach;
    }
    return bend;
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
    std::vector<double> size(t.point.size(), 1), most_on_line;
    if (sizes.by == RemeshSizes::By::even) {
        std::ranges::fill(size, even);
        return size;
    }
    const QuadMaps maps = quad_maps(t);
    if (sizes.by == RemeshSizes::By::curvature) {
        const QuadCurving curving = quad_curving(t, maps);
        const std::vector<double> bend = bends_of_lines(t, even);
        for (std::size_t v = 0; v < size.size(); ++v) {
            // Across a held line the surface has an edge, which is no curvature.
            const double most = t.hold[v] == VertexHold::free ? curving.most[v] : bend[v];
            size[v] = 1 / (1 + (std::max(sizes.range, 1.0) - 1) * std::min(1.0, 2 * most * even));
        }
        most_on_line = size;
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
        // A line is a single row of points, and would be lost among what lies beside it.
        for (std::size_t v = 0; v < most_on_line.size(); ++v)
            if (t.hold[v] == VertexHold::line) size[v] = std::min(size[v], most_on_line[v]);
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
