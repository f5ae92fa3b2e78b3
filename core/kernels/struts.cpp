// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/struts.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "core/kernels/array.h"
#include "core/kernels/edit_faces.h"
#include "core/kernels/normals.h"
#include "core/kernels/offsets.h"
#include "core/kernels/real_geometry.h"
#include "core/kernels/rebuild.h"
#include "core/kernels/solids.h"
#include "core/kernels/weld.h"

namespace bricol {

namespace {

/// The frame of square bars: every face becomes a ring of quads above, below and inside, borders a wall outside.
void square_frame(const Mesh& mesh, const StrutOptions& options, const Mask& edges, StrutResult& result) {
    const Topology& t = *mesh.topology;
    const Array<Vec3>& p = *mesh.positions;
    const Array<Vec3> flat = face_normals(mesh);
    const Adjacency& near = t.adjacency();
    Mask chosen(t.face_count(), 1);
    if (!edges.empty()) chosen = turned_over(mesh, edges, Domain::edge, Domain::face);
    const Array<Vec3> normals = even_offsets(mesh, chosen, 2);
    Array<Vec3> points;
    Array<Index> source;
    Array<Index> above(t.vertex_count, no_index), below(t.vertex_count, no_index);
    const auto add = [&](const DVec3& place, Index v) {
        points.push_back(Vec3(place));
        source.push_back(v);
        return static_cast<Index>(points.size() - 1);
    };
    points.reserve(2 * (t.vertex_count + t.corner_count()));
    source.reserve(points.capacity());
    const auto mean_edge = [&](std::span<const Index> face) {
        double sum = 0;
        for (std::size_t i = 0; i < face.size(); ++i) sum += glm::distance(p[face[i]], p[face[(i + 1) % face.size()]]);
        return sum / static_cast<double>(face.size());
    };
    Array<double> reach(t.vertex_count, 0);  // half depth at a vertex
    for (std::size_t f = 0; f < t.face_count(); ++f)
        if (chosen[f])
            for (Index v : t.face(f)) {
                const double thick = options.relative ? options.thickness * mean_edge(t.face(f)) : options.thickness;
                reach[v] = std::max(reach[v], (options.depth > 0 ? options.depth : thick) / 2);
            }
    FaceList faces;
    faces.corners.reserve(t.corner_count() * 16);
    std::vector<DVec3> polygon, inset;
    std::vector<Index> top, low;
    bool square_corners = false;
    const auto quad = [&](Index a, Index b, Index c, Index d, std::size_t f) {
        const std::array<Index, 4> ring = {a, b, c, d};
        for (int k = 0; k < 4; ++k)
            if (ring[k] != ring[(k + 3) % 4]) faces.corner(ring[k], no_index);
        faces.close(static_cast<Index>(f));
    };
    for (std::size_t f = 0; f < t.face_count(); ++f) {
        if (!chosen[f]) continue;
        const auto face = t.face(f);
        const std::size_t n = face.size();
        polygon.clear();
        for (Index v : face) polygon.emplace_back(p[v]);
        inset.resize(n);
        double share = 1;
        const double thick = options.relative ? options.thickness * mean_edge(face) : options.thickness;
        inset_polygon(polygon, DVec3(flat[f]), thick / 2, inset, &share);
        if (share < 1) {
            ++result.held;
            if (result.places.size() < 64) result.places.push_back(Vec3(polygon[0]));
        }
        top.clear();
        low.clear();
        for (std::size_t i = 0; i < n; ++i) {
            const Index v = face[i];
            const DVec3 lift = DVec3(normals[v]) * reach[v];
            if (above[v] == no_index) {
                above[v] = add(DVec3(p[v]) + lift, v);
                below[v] = add(DVec3(p[v]) - lift, v);
            }
            const DVec3 flat_lift = DVec3(flat[f]) * reach[v];
            top.push_back(add(inset[i] + flat_lift, v));
            // At a square corner the inner edges of both bars fall together.
            const DVec3 inner = inset[i] - flat_lift;
            const bool together = glm::distance(Vec3(inner), points[below[v]]) < 1e-4f * static_cast<float>(reach[v]);
            square_corners |= together;
            low.push_back(together ? below[v] : add(inner, v));
        }
        for (std::size_t i = 0; i < n; ++i) {
            const std::size_t j = (i + 1) % n;
            const Index a = face[i], b = face[j];
            quad(above[a], above[b], top[j], top[i], f);
            quad(below[b], below[a], low[i], low[j], f);
            quad(top[i], top[j], low[j], low[i], f);
            std::size_t framed = 0;
            for (const Index other : near.faces_of_edge(t.corner_edge[t.face_offsets[f] + i])) framed += chosen[other];
            if (framed == 1) quad(above[b], above[a], below[a], below[b], f);
        }
    }
    Mesh old = mesh;
    old.attributes.remove_all(Domain::corner);
    old.attributes.remove(Domain::vertex, attribute_name::normal);
    result.mesh = rebuilt(old, std::move(points), source, faces);
    if (!square_corners) return;
    // Along a square corner the undersides have shrunk to a line: what lies there is drawn together, and doubled slivers go.
    double least = 1e300;
    for (const double r : reach)
        if (r > 0) least = std::min(least, r);
    result.mesh = weld(result.mesh, 2e-4 * least).mesh;
    if (const Mask doubled = doubled_faces(result.mesh); count_of(doubled) > 0) result.mesh = without_faces(result.mesh, doubled);
}

void round_bars(const Mesh& mesh, const StrutOptions& options, const Mask& edges, StrutResult& result) {
    const Topology& t = *mesh.topology;
    const Array<Vec3>& p = *mesh.positions;
    const Adjacency& near = t.adjacency();
    Array<double> ball(t.vertex_count, 0);
    const int sides = std::max(3, options.sides);
    Array<Vec3> points;
    Array<Index> offsets{0}, corners;
    const auto face = [&](std::span<const Index> list) {
        corners.insert(corners.end(), list.begin(), list.end());
        offsets.push_back(static_cast<Index>(corners.size()));
    };
    std::vector<Index> cap;
    for (Index e = 0; e < t.edge_count(); ++e) {
        const auto [a, b] = t.edges[e];
        if ((!edges.empty() && !edges[e]) || (!options.borders && near.faces_of_edge(e).size() == 1)) continue;
        const DVec3 from(p[a]), to(p[b]), run = to - from;
        const double length = glm::length(run);
        if (length == 0) continue;
        const double radius = (options.relative ? options.thickness * length : options.thickness) / 2;
        ball[a] = std::max(ball[a], radius), ball[b] = std::max(ball[b], radius);
        const DVec3 along = run / length, helper = std::abs(along.z) < 0.9 ? DVec3(0, 0, 1) : DVec3(1, 0, 0);
        const DVec3 across = glm::normalize(glm::cross(helper, along)), over = glm::cross(along, across);
        const auto base = static_cast<Index>(points.size());
        for (const DVec3& centre : {from, to})
            for (int s = 0; s < sides; ++s) {
                const double angle = 2 * std::numbers::pi * s / sides;
                points.push_back(Vec3(centre + (across * std::cos(angle) + over * std::sin(angle)) * radius));
            }
        const auto n = static_cast<Index>(sides);
        for (Index s = 0; s < n; ++s) face(std::array<Index, 4>{base + s, base + (s + 1) % n, base + n + (s + 1) % n, base + n + s});
        cap.clear();
        for (Index s = n; s-- > 0;) cap.push_back(base + s);
        face(cap);
        cap.clear();
        for (Index s = 0; s < n; ++s) cap.push_back(base + n + s);
        face(cap);
    }
    const auto count = static_cast<Index>(points.size());
    std::vector<Mesh> all{Mesh(std::move(points), make_topology(count, std::move(offsets), std::move(corners)))};
    const Mesh unit = make_geodesic_sphere(1, sides > 8 ? 2 : 1);
    Array<glm::mat4> places;
    for (Index v = 0; v < t.vertex_count; ++v)
        if (ball[v] > 0) {
            glm::mat4 place(static_cast<float>(ball[v]));
            place[3] = Vec4(p[v], 1);
            places.push_back(place);
        }
    all.push_back(repeated(unit, places));
    result.mesh = joined_meshes(all);
    result.mesh.attributes = {};
}

}  // namespace

StrutResult struts(const Mesh& mesh, const StrutOptions& options, const Mask& edges) {
    StrutResult result;
    options.round ? round_bars(mesh, options, edges, result) : square_frame(mesh, options, edges, result);
    result.bars.assign(result.mesh.face_count(), 1);
    result.panes.assign(result.mesh.face_count(), 0);
    if (options.keep_faces) {
        Mesh panes = mesh;
        for (const Domain domain : {Domain::vertex, Domain::corner}) panes.attributes.remove(domain, attribute_name::normal);
        result.mesh = appended(result.mesh, panes);
        result.bars.resize(result.mesh.face_count(), 0);
        result.panes.resize(result.mesh.face_count(), 1);
    }
    return result;
}

}  // namespace bricol
