// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/fill_holes.h"

#include <array>
#include <map>

#include "core/kernels/face_lists.h"
#include "core/kernels/triangulate.h"

namespace bricol {

std::vector<BorderLoop> border_loops(const Mesh& mesh, const Selection& edges) {
    const Topology& t = *mesh.topology;
    const Adjacency& near = t.adjacency();
    std::multimap<Index, Index> next;  // against the neighbour's direction
    std::map<Index, int> arriving;
    for (std::size_t f = 0; f < t.face_count(); ++f)
        for (Index c = t.face_offsets[f]; c < t.face_offsets[f + 1]; ++c) {
            const Index e = t.corner_edge[c];
            if (near.faces_of_edge(e).size() != 1 || !edges[e]) continue;
            const Index from = t.corner_vertex[t.next_in(f, c)];
            next.emplace(from, t.corner_vertex[c]);
            ++arriving[t.corner_vertex[c]];
        }
    std::vector<BorderLoop> loops;
    const auto follow = [&](Index start) {
        BorderLoop loop;
        loop.closed = false;
        Index at = start;
        for (auto step = next.find(at); step != next.end(); step = next.find(at)) {
            loop.vertices.push_back(at);
            at = step->second;
            next.erase(step);
            if (at == start) {
                loop.closed = true;
                break;
            }
        }
        if (!loop.closed) loop.vertices.push_back(at);
        loops.push_back(std::move(loop));
    };
    std::vector<Index> starts;
    for (const auto& [from, to] : next)
        if (!arriving.contains(from)) starts.push_back(from);
    for (const Index start : starts)
        if (next.contains(start)) follow(start);
    while (!next.empty()) follow(next.begin()->first);
    return loops;
}

Mesh with_holes_filled(const Mesh& mesh, HoleFill fill, int most_sides, const Selection& edges, std::size_t* made) {
    FaceList faces = faces_of(mesh);
    Array<Vec3> extra;
    Array<Index> extra_source;
    std::size_t count = 0;
    for (const BorderLoop& loop : border_loops(mesh, edges)) {
        const std::size_t n = loop.vertices.size();
        if (!loop.closed || n < 3 || (most_sides > 0 && n > static_cast<std::size_t>(most_sides))) continue;
        ++count;
        if (fill == HoleFill::face) {
            faces.add(loop.vertices);
        } else if (fill == HoleFill::fan) {
            DVec3 middle(0);
            for (const Index v : loop.vertices) middle += DVec3((*mesh.positions)[v]) / static_cast<double>(n);
            const auto centre = static_cast<Index>(mesh.vertex_count() + extra.size());
            extra.push_back(Vec3(middle));
            extra_source.push_back(loop.vertices[0]);
            for (std::size_t i = 0; i < n; ++i)
                faces.add(std::array<Index, 3>{loop.vertices[i], loop.vertices[(i + 1) % n], centre});
        } else {
            Array<Vec3> points;
            Array<Index> corners;
            for (const Index v : loop.vertices) {
                corners.push_back(static_cast<Index>(points.size()));
                points.push_back((*mesh.positions)[v]);
            }
            const Mesh one(std::move(points),
                           make_topology(static_cast<Index>(n), {0, static_cast<Index>(n)}, std::move(corners)));
            const Triangles all = triangulated(one);
            for (std::size_t k = 0; k < all.count(); ++k)
                faces.add(std::array<Index, 3>{loop.vertices[all.corners[3 * k]], loop.vertices[all.corners[3 * k + 1]],
                                               loop.vertices[all.corners[3 * k + 2]]});
        }
    }
    if (made) *made = count;
    if (count == 0) return mesh;
    return compacted(mesh, std::move(faces), extra, extra_source, lone_vertices(mesh));
}

}  // namespace bricol
