// SPDX-License-Identifier: GPL-3.0-or-later
// A flat pattern cut along the border of a surface's UVs.
#include <cmath>

#include "core/ground/stop.h"
#include "core/kernels/drape.h"
#include "core/kernels/fill_holes.h"
#include "core/kernels/bridge.h"
#include "core/kernels/rebuild.h"
#include "core/kernels/triangulate.h"
#include "core/ground/parallel.h"

namespace bricol {

namespace {

/// The place as it will be kept. GCC 12 at -O3 leaves the way to float and back out when it holds several numbers in
/// one register; a volatile number is rounded for certain.
Vec3 as_kept(const DVec3& p) {
    volatile float x = static_cast<float>(p.x), y = static_cast<float>(p.y), z = static_cast<float>(p.z);
    return {x, y, z};
}

/// Border edges between points of the cut.
Mask trimmed_edges(const Mesh& mesh, const Mask& at_border) {
    const Adjacency& near = mesh.topology->adjacency();
    Mask edges(mesh.edge_count(), 0);
    for (Index e = 0; e < mesh.edge_count(); ++e) {
        stop_point(e);
        const auto [a, b] = mesh.topology->edges[e];
        edges[e] = at_border[a] && at_border[b] && near.faces_of_edge(e).size() == 1;
    }
    return edges;
}

/// Triangles over a loop that stands in an upright wall, seen from beside it; none when it crosses itself there.
std::vector<std::array<int, 3>> cap_of(const Array<Vec3>& p, const std::vector<Index>& loop) {
    DVec2 from(p[loop[0]]), to = from;
    for (const bool second : {false, true})  // the two that lie farthest apart in plan, nearly
        for (const Index v : loop)
            if (glm::distance(DVec2(p[v]), second ? to : from) > glm::distance(second ? from : to, second ? to : from))
                (second ? from : to) = DVec2(p[v]);
    if (glm::distance(from, to) <= 0) return {};
    const DVec2 along = glm::normalize(to - from);
    std::vector<DVec2> flat;
    for (const Index v : loop) flat.emplace_back(glm::dot(DVec2(p[v]) - from, along), p[v].z);
    double area = 0;
    for (std::size_t i = 0; i < flat.size(); ++i) {
        const DVec2 a = flat[i] - flat[0], c = flat[(i + 1) % flat.size()] - flat[0];
        area += a.x * c.y - a.y * c.x;
    }
    if (area < 0)
        for (DVec2& f : flat) f.x = -f.x;
    std::vector<std::array<int, 3>> pieces = triangulate_polygon(flat);
    return pieces.size() + 2 == loop.size() ? pieces : std::vector<std::array<int, 3>>{};
}

double plan_area(const Array<Vec3>& p, const std::vector<Index>& loop, double* length) {
    double area = 0;
    const DVec2 first(p[loop[0]]);
    for (std::size_t i = 0; i < loop.size(); ++i) {
        const DVec2 a = DVec2(p[loop[i]]) - first, b = DVec2(p[loop[(i + 1) % loop.size()]]) - first;
        area += (a.x * b.y - a.y * b.x) / 2;
        *length += glm::distance(a, b);
    }
    return area;
}

/// Closes what the cut opened. The cut stands upright, so a strand's cut is seen from above as a line and gets a cap; a
/// border that goes round an area belongs to the top or the underside of a slab, and two of them get a wall when the
/// pattern was `solid`.
void close_cuts(DrapeSurface::Trimmed& trimmed, const Mask& at_border, bool solid) {
    const Mask edges = trimmed_edges(trimmed.mesh, at_border);
    std::size_t around = 0;
    Mask walls(edges.size(), 0), on_around(trimmed.mesh.vertex_count(), 0);
    FaceList faces = faces_of(trimmed.mesh);
    const Array<Vec3>& p = *trimmed.mesh.positions;
    std::size_t caps = 0;
    for (const BorderLoop& loop : border_loops(trimmed.mesh, edges)) {
        if (!loop.closed || loop.vertices.size() < 3) continue;
        double length = 0;
        if (std::abs(plan_area(p, loop.vertices, &length)) >= 0.005 * length * length) {
            ++around;
            for (const Index v : loop.vertices) on_around[v] = 1;
            continue;
        }
        const auto cap = cap_of(p, loop.vertices);
        if (cap.empty())
            ++trimmed.left_open;
        else
            ++caps;
        for (const auto& t : cap)
            faces.add(std::array{loop.vertices[static_cast<std::size_t>(t[0])],
                                 loop.vertices[static_cast<std::size_t>(t[1])],
                                 loop.vertices[static_cast<std::size_t>(t[2])]});
    }
    for (Index e = 0; e < edges.size(); ++e)
        walls[e] =
            edges[e] && on_around[trimmed.mesh.topology->edges[e][0]] && on_around[trimmed.mesh.topology->edges[e][1]];
    trimmed.closed = caps;
    if (solid && around > 0) {
        BridgeResult walled;
        walled.refused = "more than two";
        if (around == 2 && caps == 0) walled = bridged(trimmed.mesh, walls, 1, 0);
        if (walled.refused.empty()) {
            trimmed.mesh = std::move(walled.mesh);
            ++trimmed.closed;
            return;
        }
        trimmed.left_open += around;
    }
    if (caps > 0) trimmed.mesh = rebuilt(trimmed.mesh, *trimmed.mesh.positions, {}, faces);
}

}  // namespace

namespace {

/// Where the way from a point inside to one outside leaves the surface, found by halving; and its share of the way.
template <class On>
std::pair<Vec3, double> last_inside(const DVec3& start, const DVec3& end, const On& on) {
    double in = 0, out = 1;
    Vec3 kept(start);
    for (int round = 0; round < 40; ++round) {
        const double middle = (in + out) / 2;
        const Vec3 there = as_kept(start + (end - start) * middle);  // so that it still is inside then
        if (on(there))
            in = middle, kept = there;
        else
            out = middle;
    }
    return {kept, in};
}

}  // namespace

DrapeSurface::Trimmed DrapeSurface::trimmed(const Mesh& pattern, const Options& options) const {
    const Topology& topology = *pattern.topology;
    const auto on = [&](const Vec3& p) {
        DVec3 weights;
        const DVec3 d = DVec3(p) - options.origin;
        return find({d.x / options.size.x, d.y / options.size.y}, weights, 1e-9) >=
               0;  // well within what draped takes for on it
    };
    const std::size_t n = pattern.vertex_count();
    std::vector<std::uint8_t> inside(n);
    parallel::each(tbb::blocked_range<std::size_t>(0, n, 4096), [&](const auto& range) {
        stop_point();
        for (std::size_t i = range.begin(); i != range.end(); ++i) inside[i] = on((*pattern.positions)[i]);
    });
    // One new point on every edge that crosses the border, found by halving.
    std::vector<Index> fresh(topology.edge_count(), no_index);
    std::vector<DVec3> points;
    std::vector<Index> source;
    for (Index v = 0; v < n; ++v) points.emplace_back((*pattern.positions)[v]), source.push_back(v);
    for (Index e = 0; e < topology.edge_count(); ++e) {
        stop_point(e);
        const auto [a, b] = topology.edges[e];
        if (inside[a] == inside[b]) continue;
        const DVec3 start = points[inside[a] ? a : b], end = points[inside[a] ? b : a];
        const auto [kept, in] = last_inside(start, end, on);
        fresh[e] = static_cast<Index>(points.size());
        points.emplace_back(kept);
        source.push_back(in < 0.5 ? (inside[a] ? a : b) : (inside[a] ? b : a));
    }
    std::atomic<std::size_t> passed_over = 0;
    parallel::each(tbb::blocked_range<Index>(0, static_cast<Index>(topology.edge_count()), 4096),
                   [&](const auto& range) {
                       stop_point();
                       for (Index e = range.begin(); e != range.end(); ++e) {
                           const auto [a, b] = topology.edges[e];
                           if (inside[a] != inside[b]) continue;
                           const DVec3 start((*pattern.positions)[a]), way = DVec3((*pattern.positions)[b]) - start;
                           bool other = false;
                           for (const double t : {0.25, 0.5, 0.75})
                               other |= on(Vec3(start + way * t)) != (inside[a] != 0);
                           passed_over += other;
                       }
                   });
    FaceList faces;
    for (Index f = 0; f < topology.face_count(); ++f) {
        stop_point(f);
        for (Index c = topology.face_offsets[f]; c < topology.face_offsets[f + 1]; ++c) {
            if (inside[topology.corner_vertex[c]]) faces.corner(topology.corner_vertex[c], c);
            if (const Index made = fresh[topology.corner_edge[c]]; made != no_index) faces.corner(made, c);
        }
        faces.close(f);
    }
    // Points that nothing uses any more go.
    std::vector<Index> number(points.size(), no_index), kept_source;
    Array<Vec3> kept;
    for (Index& corner : faces.corners) {
        if (number[corner] == no_index) {
            number[corner] = static_cast<Index>(kept.size());
            kept.push_back(Vec3(points[corner]));
            kept_source.push_back(source[corner]);
        }
        corner = number[corner];
    }
    Trimmed out;
    out.passed_over = passed_over;
    out.mesh = rebuilt(pattern, std::move(kept), kept_source, faces);
    Mask at_border(out.mesh.vertex_count(), 0);
    for (std::size_t v = n; v < points.size(); ++v)
        if (number[v] != no_index) at_border[number[v]] = 1;
    close_cuts(out, at_border, topology.ties().border_edges == 0);
    return out;
}

}  // namespace bricol
