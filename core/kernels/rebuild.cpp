// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/rebuild.h"

#include <numeric>

#include "core/ground/stop.h"

namespace bricol {

void FaceList::add(std::span<const Index> vertices) {
    for (Index v : vertices) corner(v, no_index);
    close(no_index);
}

bool FaceList::close(Index source) {
    if (corners.size() - offsets.back() < 3) {
        corners.resize(offsets.back());
        corner_source.resize(offsets.back());
        return false;
    }
    stop_point(face_source.size());
    offsets.push_back(static_cast<Index>(corners.size()));
    face_source.push_back(source);
    return true;
}

FaceList faces_of(const Mesh& mesh) {
    const Topology& t = *mesh.topology;
    FaceList faces;
    if (t.face_count() > 0) faces.offsets = t.face_offsets;
    faces.corners = t.corner_vertex;
    faces.face_source.resize(t.face_count());
    std::iota(faces.face_source.begin(), faces.face_source.end(), 0);
    faces.corner_source.resize(t.corner_count());
    std::iota(faces.corner_source.begin(), faces.corner_source.end(), 0);
    const Adjacency& near = t.adjacency();
    for (Index e = 0; e < t.edge_count(); ++e) {
        stop_point(e);
        if (near.faces_of_edge(e).empty()) faces.loose.push_back(t.edges[e]);
    }
    return faces;
}

Mesh rebuilt(const Mesh& old, Array<Vec3> points, std::span<const Index> vertex_source, FaceList&& faces) {
    const auto count = static_cast<Index>(points.size());
    Mesh mesh(std::move(points),
              make_topology(count, std::move(faces.offsets), std::move(faces.corners), std::move(faces.loose)));
    mesh.materials = old.materials;
    mesh.skeleton = old.skeleton;
    for (const Attribute& attribute : old.attributes.all())
        if (attribute.domain == Domain::whole) mesh.attributes.set(attribute);
    const auto gather = [&](Domain domain, std::span<const Index> source) {
        for (const Attribute& attribute : old.attributes.all()) {
            if (attribute.domain != domain) continue;
            stop_point();
            mesh.attributes.set(domain, attribute.name,
                                std::visit(
                                    [&](const auto& values) -> Column {
                                        std::decay_t<decltype(values)> out(source.size());
                                        for (std::size_t i = 0; i < source.size(); ++i) {
                                            stop_point(i);
                                            out[i] = source[i] == no_index
                                                         ? typename std::decay_t<decltype(values)>::value_type(0)
                                                         : values[source[i]];
                                        }
                                        return out;
                                    },
                                    *attribute.values));
        }
    };
    if (vertex_source.empty() && mesh.vertex_count() == old.vertex_count()) {
        for (const Attribute& attribute : old.attributes.all())
            if (attribute.domain == Domain::vertex) mesh.attributes.set(attribute);
    } else {
        gather(Domain::vertex, vertex_source);
    }
    gather(Domain::face, faces.face_source);
    gather(Domain::corner, faces.corner_source);
    bool edge_values = false;
    for (const Attribute& attribute : old.attributes.all()) edge_values |= attribute.domain == Domain::edge;
    if (edge_values) {
        // The edge after a surviving corner keeps its values only when the next corner survived beside it.
        Array<Index> source(mesh.edge_count(), no_index);
        const Topology& t = *mesh.topology;
        const Topology& before = *old.topology;
        for (std::size_t f = 0; f < t.face_count(); ++f) {
            stop_point(f);
            for (Index c = t.face_offsets[f]; c < t.face_offsets[f + 1]; ++c) {
                const Index from = faces.corner_source[c];
                const Index to = faces.corner_source[t.next_in(f, c)];
                if (from == no_index || to == no_index || source[t.corner_edge[c]] != no_index) continue;
                const Index a = before.corner_vertex[from], b = before.corner_vertex[to];
                for (const Index candidate : {before.corner_edge[from], before.corner_edge[to]}) {
                    const auto& edge = before.edges[candidate];
                    if ((edge[0] == a && edge[1] == b) || (edge[0] == b && edge[1] == a))
                        source[t.corner_edge[c]] = candidate;
                }
            }
        }
        gather(Domain::edge, source);
    }
    return mesh;
}

void carry_edge_pieces(Mesh& mesh, const Mesh& old, std::span<const Index> old_vertex, std::span<const Index> on_edge) {
    const Topology& t = *mesh.topology;
    const auto piece_of = [&](Index a, Index b) {
        const Index e = on_edge[a] != no_index ? on_edge[a] : on_edge[b];
        if (e == no_index) return no_index;
        for (const Index v : {a, b})
            if (on_edge[v] != e && old_vertex[v] != old.topology->edges[e][0] &&
                old_vertex[v] != old.topology->edges[e][1])
                return no_index;
        return e;
    };
    Array<Index> source;
    for (const Attribute& attribute : old.attributes.all()) {
        const Attribute* const kept = mesh.attributes.find(Domain::edge, attribute.name);
        if (attribute.domain != Domain::edge || !kept) continue;
        if (source.empty())
            for (std::size_t e = 0; e < t.edge_count(); ++e) source.push_back(piece_of(t.edges[e][0], t.edges[e][1]));
        mesh.attributes.set(Domain::edge, attribute.name,
                            std::visit(
                                [&](const auto& before) -> Column {
                                    auto values = std::get<std::decay_t<decltype(before)>>(*kept->values);
                                    for (std::size_t e = 0; e < values.size(); ++e)
                                        if (source[e] != no_index) values[e] = before[source[e]];
                                    return values;
                                },
                                *attribute.values));
    }
}

}  // namespace bricol
