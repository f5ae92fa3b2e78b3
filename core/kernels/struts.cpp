// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/struts.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <cmath>
#include <numbers>

#include "core/ground/stop.h"
#include "core/kernels/array.h"
#include "core/kernels/remove_elements.h"
#include "core/kernels/normals.h"
#include "core/kernels/offsets.h"
#include "core/kernels/real_geometry.h"
#include "core/kernels/rebuild.h"
#include "core/kernels/solids.h"
#include "core/kernels/weld.h"
#include "core/ground/parallel.h"

namespace bricol {

namespace {

double mean_edge(const Mesh& mesh, std::size_t f) {
    const auto face = mesh.topology->face(f);
    double sum = 0;
    for (std::size_t i = 0; i < face.size(); ++i)
        sum += glm::distance((*mesh.positions)[face[i]], (*mesh.positions)[face[(i + 1) % face.size()]]);
    return sum / static_cast<double>(face.size());
}

/// The whole mesh framed, every index known in advance, so that faces are written side by side. Nothing when bars would
/// run into one another along a square corner: then points fall together and the list has to be made with care.
bool whole_frame(const Mesh& mesh, const StrutOptions& options, StrutResult& result) {
    const Topology& t = *mesh.topology;
    const Array<Vec3>& p = *mesh.positions;
    const Array<Vec3> flat = face_normals(mesh), normals = even_offsets(mesh, {}, 2);
    const Adjacency& near = t.adjacency();
    const auto vertices = static_cast<Index>(t.vertex_count), edges = static_cast<Index>(t.edge_count()),
               corners = static_cast<Index>(t.corner_count());
    if (10.0 * corners + edges > 2e9 || std::ranges::any_of(t.edges, [](const auto& e) { return e[0] == e[1]; }))
        return false;
    // Half the depth at every vertex: of the thickest bar that meets there.
    Array<double> thick(t.face_count());
    parallel::each(tbb::blocked_range<std::size_t>(0, t.face_count(), 4096), [&](const auto& range) {
        stop_point();
        for (std::size_t f = range.begin(); f != range.end(); ++f)
            thick[f] = options.relative ? options.thickness * mean_edge(mesh, f) : options.thickness;
    });
    const double depth = (options.depth > 0 ? options.depth : options.relative ? 0 : options.thickness) / 2;
    Array<double> reach(vertices, depth);
    Mask used(vertices, 0);
    for (const Index v : t.corner_vertex) used[v] = 1;
    for (std::size_t f = 0; f < t.face_count() && depth == 0; ++f)
        for (const Index v : t.face(f)) reach[v] = std::max(reach[v], thick[f] / 2);
    // Points: above and below every vertex, then on top and underneath every corner.
    Array<Index> of_vertex(vertices, no_index);
    Index count = 0;
    for (Index v = 0; v < vertices; ++v)
        if (used[v]) of_vertex[v] = 2 * count++;
    const Index corner_base = 2 * count;
    Array<Vec3> points(static_cast<std::size_t>(corner_base) + 2 * static_cast<std::size_t>(corners));
    Array<Index> source(points.size());
    parallel::each(tbb::blocked_range<Index>(0, vertices, 8192), [&](const auto& range) {
        stop_point();
        for (Index v = range.begin(); v != range.end(); ++v) {
            if (of_vertex[v] == no_index) continue;
            const DVec3 lift = DVec3(normals[v]) * reach[v];
            points[of_vertex[v]] = Vec3(DVec3(p[v]) + lift);
            points[of_vertex[v] + 1] = Vec3(DVec3(p[v]) - lift);
            source[of_vertex[v]] = source[of_vertex[v] + 1] = v;
        }
    });
    // Borders get a rim: numbered in advance as well.
    Array<Index> rim_of_edge(edges, no_index), rim_of_vertex(vertices, no_index);
    Index rims = 0, rim_ends = 0;
    for (Index e = 0; e < edges; ++e)
        if (near.faces_of_edge(e).size() == 1) {
            rim_of_edge[e] = rims++;
            for (const Index v : t.edges[e])
                if (rim_of_vertex[v] == no_index) rim_of_vertex[v] = rim_ends++;
        }
    // Edges: above and below every edge that has a face; then five per corner; then the ends of rims.
    Array<Index> of_edge(edges, no_index);
    Index edge_count = 0;
    for (Index e = 0; e < edges; ++e)
        if (!near.faces_of_edge(e).empty()) of_edge[e] = 2 * edge_count++;
    const Index corner_edge_base = 2 * edge_count, rim_edge_base = corner_edge_base + 5 * corners;
    const std::size_t quads = 3 * static_cast<std::size_t>(corners) + rims;
    auto topology = std::make_shared<Topology>();
    topology->vertex_count = static_cast<Index>(points.size());
    topology->edges.resize(static_cast<std::size_t>(rim_edge_base) + rim_ends);
    topology->face_offsets.resize(quads + 1);
    topology->corner_vertex.resize(4 * quads);
    topology->corner_edge.resize(4 * quads);
    Array<Index> face_source(quads);
    Array<double> share(t.face_count(), 1);
    std::atomic<bool> square = false;
    for (Index v = 0; v < vertices; ++v)
        if (rim_of_vertex[v] != no_index)
            topology->edges[rim_edge_base + rim_of_vertex[v]] = {of_vertex[v], of_vertex[v] + 1};
    const auto write = [&](std::size_t quad, std::size_t f, const std::array<Index, 4>& ring,
                           const std::array<Index, 4>& sides) {
        topology->face_offsets[quad] = static_cast<Index>(4 * quad);
        face_source[quad] = static_cast<Index>(f);
        std::copy(ring.begin(), ring.end(), topology->corner_vertex.begin() + static_cast<std::ptrdiff_t>(4 * quad));
        std::copy(sides.begin(), sides.end(), topology->corner_edge.begin() + static_cast<std::ptrdiff_t>(4 * quad));
    };
    parallel::each(tbb::blocked_range<std::size_t>(0, t.face_count(), 1024), [&](const auto& range) {
        stop_point();
        std::vector<DVec3> polygon, inset;
        for (std::size_t f = range.begin(); f != range.end(); ++f) {
            const Index first = t.face_offsets[f], n = t.face_offsets[f + 1] - first;
            polygon.clear();
            for (const Index v : t.face(f)) polygon.emplace_back(p[v]);
            inset.resize(n);
            inset_polygon(polygon, DVec3(flat[f]), thick[f] / 2, inset, &share[f]);
            for (Index i = 0; i < n; ++i) {
                const Index c = first + i, v = t.corner_vertex[c];
                const DVec3 lift = DVec3(flat[f]) * reach[v];
                const Index top = corner_base + 2 * c;
                points[top] = Vec3(inset[i] + lift);
                points[top + 1] = Vec3(inset[i] - lift);
                source[top] = source[top + 1] = v;
                if (glm::distance(points[top + 1], points[of_vertex[v] + 1]) < 1e-4f * static_cast<float>(reach[v]))
                    square = true;
            }
            for (Index i = 0; i < n; ++i) {
                const Index c = first + i, d = first + (i + 1 == n ? 0 : i + 1), a = t.corner_vertex[c],
                            b = t.corner_vertex[d], e = t.corner_edge[c];
                const Index top_c = corner_base + 2 * c, top_d = corner_base + 2 * d, five_c = corner_edge_base + 5 * c,
                            five_d = corner_edge_base + 5 * d;
                // The five of a corner: along the top, along underneath, out to the bar's edge above and below, down.
                topology->edges[five_c] = {top_c, top_d};
                topology->edges[five_c + 1] = {top_c + 1, top_d + 1};
                topology->edges[five_c + 2] = {of_vertex[a], top_c};
                topology->edges[five_c + 3] = {of_vertex[a] + 1, top_c + 1};
                topology->edges[five_c + 4] = {top_c, top_c + 1};
                if (near.faces_of_edge(e)[0] == f) {
                    topology->edges[of_edge[e]] = {of_vertex[t.edges[e][0]], of_vertex[t.edges[e][1]]};
                    topology->edges[of_edge[e] + 1] = {of_vertex[t.edges[e][0]] + 1, of_vertex[t.edges[e][1]] + 1};
                }
                const std::size_t quad = 3 * static_cast<std::size_t>(c);
                write(quad, f, {of_vertex[a], of_vertex[b], top_d, top_c},
                      {of_edge[e], five_d + 2, five_c, five_c + 2});
                write(quad + 1, f, {of_vertex[b] + 1, of_vertex[a] + 1, top_c + 1, top_d + 1},
                      {of_edge[e] + 1, five_c + 3, five_c + 1, five_d + 3});
                write(quad + 2, f, {top_c, top_d, top_d + 1, top_c + 1}, {five_c, five_d + 4, five_c + 1, five_c + 4});
                if (rim_of_edge[e] != no_index)
                    write(3 * static_cast<std::size_t>(corners) + rim_of_edge[e], f,
                          {of_vertex[b], of_vertex[a], of_vertex[a] + 1, of_vertex[b] + 1},
                          {of_edge[e], rim_edge_base + rim_of_vertex[a], of_edge[e] + 1,
                           rim_edge_base + rim_of_vertex[b]});
            }
        }
    });
    if (square) return false;
    topology->face_offsets[quads] = static_cast<Index>(4 * quads);
    for (std::size_t f = 0; f < share.size(); ++f)
        if (share[f] < 1) {
            ++result.held;
            if (result.places.size() < 64) result.places.push_back(p[t.face(f)[0]]);
        }
    result.mesh = Mesh(std::move(points), std::move(topology));
    Attributes kept = mesh.attributes;
    kept.remove(Domain::vertex, attribute_name::normal);
    kept.gather_into(result.mesh.attributes, Domain::vertex, source);
    kept.gather_into(result.mesh.attributes, Domain::face, face_source);
    for (const Attribute& attribute : kept.all())
        if (attribute.domain == Domain::whole) result.mesh.attributes.set(attribute);
    result.mesh.materials = mesh.materials;
    return true;
}

/// The frame of square bars: every face becomes a ring of quads above, below and inside, borders a wall outside.
void square_frame(const Mesh& mesh, const StrutOptions& options, const Selection& edges, StrutResult& result) {
    const Topology& t = *mesh.topology;
    const Array<Vec3>& p = *mesh.positions;
    const Array<Vec3> flat = face_normals(mesh);
    const Adjacency& near = t.adjacency();
    Mask chosen(t.face_count(), 1);
    if (!edges.all()) chosen = turned_over(mesh, edges.mask(t.edge_count()), Domain::edge, Domain::face);
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
    Array<double> reach(t.vertex_count, 0);  // half depth at a vertex
    for (std::size_t f = 0; f < t.face_count(); ++f)
        if (stop_point(f); chosen[f])
            for (Index v : t.face(f)) {
                const double thick = options.relative ? options.thickness * mean_edge(mesh, f) : options.thickness;
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
        stop_point(f);
        if (!chosen[f]) continue;
        const auto face = t.face(f);
        const std::size_t n = face.size();
        polygon.clear();
        for (Index v : face) polygon.emplace_back(p[v]);
        inset.resize(n);
        double share = 1;
        const double thick = options.relative ? options.thickness * mean_edge(mesh, f) : options.thickness;
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
    // Along a square corner the undersides have shrunk to a line: what lies there is drawn together, and doubled
    // slivers go.
    double least = 1e300;
    for (const double r : reach)
        if (r > 0) least = std::min(least, r);
    result.mesh = weld(result.mesh, 2e-4 * least).mesh;
    if (const Mask doubled = doubled_faces(result.mesh); count_of(doubled) > 0)
        result.mesh = without_faces(result.mesh, doubled);
}

void round_bars(const Mesh& mesh, const StrutOptions& options, const Selection& edges, StrutResult& result) {
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
        stop_point(e);
        const auto [a, b] = t.edges[e];
        if (!edges[e] || (!options.borders && near.faces_of_edge(e).size() == 1)) continue;
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
        for (Index s = 0; s < n; ++s)
            face(std::array<Index, 4>{base + s, base + (s + 1) % n, base + n + (s + 1) % n, base + n + s});
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

StrutResult struts(const Mesh& mesh, const StrutOptions& options, const Selection& edges) {
    StrutResult result;
    if (options.round)
        round_bars(mesh, options, edges, result);
    else if (!edges.all() || !whole_frame(mesh, options, result))
        square_frame(mesh, options, edges, result);
    result.bars.assign(result.mesh.face_count(), 1);
    result.panes.assign(result.mesh.face_count(), 0);
    if (options.keep_faces) {
        Mesh panes = mesh;
        for (const Domain domain : {Domain::vertex, Domain::corner})
            panes.attributes.remove(domain, attribute_name::normal);
        result.mesh = appended(result.mesh, panes);
        result.bars.resize(result.mesh.face_count(), 0);
        result.panes.resize(result.mesh.face_count(), 1);
    }
    return result;
}

}  // namespace bricol
