// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/thicken.h"

#include <cmath>
#include <numeric>

#include "core/ground/stop.h"
#include "core/kernels/normals.h"
#include "core/kernels/offsets.h"
#include "core/kernels/rebuild.h"

namespace bricol {

ThickenResult thickened(const Mesh& mesh, const ThickenOptions& options, const Selection& chosen) {
    ThickenResult result;
    const Topology& t = *mesh.topology;
    const auto taken = [&](std::size_t f) { return chosen[f]; };
    const Array<Vec3> offsets = even_offsets(mesh, chosen);
    const auto out = static_cast<float>(options.thickness * options.outward),
               in = static_cast<float>(options.thickness * (options.outward - 1));

    // A vertex that other faces use as well stays for them; the wall gets one of its own when it moves away.
    Mask in_wall(t.vertex_count, 0), outside(t.vertex_count, 0);
    for (std::size_t f = 0; f < t.face_count(); ++f)
        for (Index v : t.face(f)) (taken(f) ? in_wall : outside)[v] = 1;
    Array<Vec3> points = *mesh.positions;
    Array<Index> source(points.size()), outer(t.vertex_count), inner(t.vertex_count);
    std::iota(source.begin(), source.end(), 0);
    const auto moved = [&](Index v, float by) {
        points.push_back((*mesh.positions)[v] + offsets[v] * by);
        source.push_back(v);
        return static_cast<Index>(points.size() - 1);
    };
    points.reserve(points.size() * 2 + 8);
    for (Index v = 0; v < t.vertex_count; ++v) {
        stop_point(v);
        outer[v] = inner[v] = v;
        if (!in_wall[v]) continue;
        if (outside[v] && out != 0)
            outer[v] = moved(v, out);
        else
            points[v] += offsets[v] * out;
        inner[v] = moved(v, in);
    }
    FaceList faces;
    faces.corners.reserve(t.corner_count() * 2);
    const auto mark = [&](bool o, bool i, bool r) {
        result.outer.push_back(o);
        result.inner.push_back(i);
        result.rim.push_back(r);
    };
    for (std::size_t f = 0; f < t.face_count(); ++f) {
        stop_point(f);
        const bool wall = taken(f);
        for (Index c = t.face_offsets[f]; c < t.face_offsets[f + 1]; ++c)
            faces.corner(wall ? outer[t.corner_vertex[c]] : t.corner_vertex[c], c);
        faces.close(static_cast<Index>(f));
        mark(wall, false, false);
    }
    for (std::size_t f = 0; f < t.face_count(); ++f) {
        stop_point(f);
        if (!taken(f)) continue;
        const Index begin = t.face_offsets[f], n = t.face_offsets[f + 1] - begin;
        for (Index i = 0; i < n; ++i) {
            const Index c = begin + (n - i) % n;
            faces.corner(inner[t.corner_vertex[c]], c);
        }
        faces.close(static_cast<Index>(f));
        mark(false, true, false);
    }
    if (options.rims) {
        const Adjacency& near = t.adjacency();
        for (std::size_t f = 0; f < t.face_count(); ++f) {
            stop_point(f);
            if (!taken(f)) continue;
            for (Index c = t.face_offsets[f], end = t.face_offsets[f + 1]; c < end; ++c) {
                std::size_t walls = 0;
                for (const Index other : near.faces_of_edge(t.corner_edge[c])) walls += taken(other);
                if (walls != 1) continue;
                const Index next = c + 1 == end ? t.face_offsets[f] : c + 1;
                const Index a = t.corner_vertex[c], b = t.corner_vertex[next];
                faces.corner(outer[b], next);
                faces.corner(outer[a], c);
                faces.corner(inner[a], c);
                faces.corner(inner[b], next);
                faces.close(static_cast<Index>(f));
                mark(false, false, true);
            }
        }
    }
    const Adjacency& near = t.adjacency();
    if (t.has_loose_edges())
        for (Index e = 0; e < t.edge_count(); ++e)
            if (near.faces_of_edge(e).empty()) faces.loose.push_back(t.edges[e]);

    // Too tight: an edge of the moved side runs the other way than the edge it came from.
    for (Index e = 0; e < t.edge_count(); ++e) {
        stop_point(e);
        const auto [a, b] = t.edges[e];
        if (!in_wall[a] || !in_wall[b] || near.faces_of_edge(e).empty()) continue;
        const Vec3 before = (*mesh.positions)[b] - (*mesh.positions)[a];
        for (const float by : {out, in})
            if (by != 0 && glm::dot(before, before + (offsets[b] - offsets[a]) * by) < 0) {
                result.too_tight.push_back(((*mesh.positions)[a] + (*mesh.positions)[b]) * 0.5f);
                break;
            }
    }
    Mesh old = mesh;
    for (const Domain domain : {Domain::vertex, Domain::corner}) old.attributes.remove(domain, attribute_name::normal);
    result.mesh = rebuilt(old, std::move(points), source, faces);
    return result;
}

}  // namespace bricol
