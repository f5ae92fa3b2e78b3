// SPDX-License-Identifier: GPL-3.0-or-later
// A flat pattern cut along the border of a surface's UVs.
#include <cmath>
#include <tbb/parallel_for.h>

#include "core/kernels/drape.h"
#include "core/kernels/edit_faces.h"
#include "core/kernels/rebuild.h"

namespace bricol {

namespace {

/// The place as it will be kept. GCC 12 at -O3 leaves the way to float and back out when it holds several numbers in one register; a
/// volatile number is rounded for certain.
Vec3 as_kept(const DVec3& p) {
    volatile float x = static_cast<float>(p.x), y = static_cast<float>(p.y), z = static_cast<float>(p.z);
    return {x, y, z};
}

/// Border edges between points of the cut.
Mask cut_edges(const Mesh& mesh, const Mask& at_border) {
    const Adjacency& near = mesh.topology->adjacency();
    Mask edges(mesh.edge_count(), 0);
    for (Index e = 0; e < mesh.edge_count(); ++e) {
        const auto [a, b] = mesh.topology->edges[e];
        edges[e] = at_border[a] && at_border[b] && near.faces_of_edge(e).size() == 1;
    }
    return edges;
}

/// Closes what the cut opened. The cut stands upright, so a strand's cut is seen from above as a line and gets a cap; a border that goes round an
/// area belongs to the top or the underside of a slab, and two of them get a wall when the pattern was `solid`.
void close_cuts(DrapeSurface::Trimmed& trimmed, const Mask& at_border, bool solid) {
    const Array<Vec3>& p = *trimmed.mesh.positions;
    const Mask edges = cut_edges(trimmed.mesh, at_border);
    std::vector<BorderLoop> around;
    Mask on_around(trimmed.mesh.vertex_count(), 0);
    for (const BorderLoop& loop : border_loops(trimmed.mesh, edges)) {
        if (!loop.closed) continue;
        double area = 0, length = 0;
        for (std::size_t i = 0; i < loop.vertices.size(); ++i) {
            const DVec2 a(p[loop.vertices[i]]), b(p[loop.vertices[(i + 1) % loop.vertices.size()]]), first(p[loop.vertices[0]]);
            area += ((a - first).x * (b - first).y - (a - first).y * (b - first).x) / 2;
            length += glm::distance(a, b);
        }
        if (std::abs(area) < 0.005 * length * length) continue;
        around.push_back(loop);
        for (const Index v : loop.vertices) on_around[v] = 1;
    }
    Mask caps = edges, walls = edges;
    for (Index e = 0; e < edges.size(); ++e) {
        const bool round = on_around[trimmed.mesh.topology->edges[e][0]] && on_around[trimmed.mesh.topology->edges[e][1]];
        (round ? caps : walls)[e] = 0;
    }
    trimmed.left_open = solid ? around.size() : 0;
    if (solid && around.size() == 2)
        if (BridgeResult walled = bridged(trimmed.mesh, walls, 1, 0); walled.refused.empty()) {
            trimmed.mesh = std::move(walled.mesh);
            caps = cut_edges(trimmed.mesh, at_border);  // edges keep no numbers through a bridge
            trimmed.left_open = 0;
        }
    const bool wall = solid && !around.empty() && trimmed.left_open == 0;
    trimmed.mesh = with_holes_filled(trimmed.mesh, HoleFill::triangles, 0, caps, &trimmed.closed);
    trimmed.closed += wall;
}

}  // namespace

DrapeSurface::Trimmed DrapeSurface::trimmed(const Mesh& pattern, const Options& options) const {
    const Topology& topology = *pattern.topology;
    const auto on = [&](const Vec3& p) {
        DVec3 weights;
        const DVec3 d = DVec3(p) - options.origin;
        return find({d.x / options.size.x, d.y / options.size.y}, weights, 1e-9) >= 0;  // well within what draped takes for on it
    };
    const std::size_t n = pattern.vertex_count();
    std::vector<std::uint8_t> inside(n);
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, n, 4096), [&](const auto& range) {
        for (std::size_t i = range.begin(); i != range.end(); ++i) inside[i] = on((*pattern.positions)[i]);
    });
    // One new point on every edge that crosses the border, found by halving.
    std::vector<Index> fresh(topology.edge_count(), no_index);
    std::vector<DVec3> points;
    std::vector<Index> source;
    for (Index v = 0; v < n; ++v) points.emplace_back((*pattern.positions)[v]), source.push_back(v);
    for (Index e = 0; e < topology.edge_count(); ++e) {
        const auto [a, b] = topology.edges[e];
        if (inside[a] == inside[b]) continue;
        const DVec3 start = points[inside[a] ? a : b], end = points[inside[a] ? b : a];
        double in = 0, out = 1;
        Vec3 kept(start);
        for (int round = 0; round < 40; ++round) {
            const double middle = (in + out) / 2;
            const Vec3 there = as_kept(start + (end - start) * middle);  // so that it still is inside then
            if (on(there)) in = middle, kept = there;
            else out = middle;
        }
        fresh[e] = static_cast<Index>(points.size());
        points.emplace_back(kept);
        source.push_back(in < 0.5 ? (inside[a] ? a : b) : (inside[a] ? b : a));
    }
    std::atomic<std::size_t> passed_over = 0;
    tbb::parallel_for(tbb::blocked_range<Index>(0, static_cast<Index>(topology.edge_count()), 4096), [&](const auto& range) {
        for (Index e = range.begin(); e != range.end(); ++e) {
            const auto [a, b] = topology.edges[e];
            if (inside[a] != inside[b]) continue;
            const DVec3 start((*pattern.positions)[a]), way = DVec3((*pattern.positions)[b]) - start;
            bool other = false;
            for (const double t : {0.25, 0.5, 0.75}) other |= on(Vec3(start + way * t)) != (inside[a] != 0);
            passed_over += other;
        }
    });
    FaceList faces;
    for (Index f = 0; f < topology.face_count(); ++f) {
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
