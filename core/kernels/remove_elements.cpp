// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/remove_elements.h"

#include <algorithm>

#include "core/ground/stop.h"
#include "core/kernels/face_lists.h"

namespace bricol {

Mesh without_faces(const Mesh& mesh, const Selection& chosen) {
    const Topology& t = *mesh.topology;
    FaceList faces;
    for (std::size_t f = 0; f < t.face_count(); ++f)
        if (!chosen[f]) add_face(faces, t, f);
    add_loose(faces, t, [](Index) { return true; });
    return compacted(mesh, std::move(faces), {}, {}, lone_vertices(mesh));
}

Mesh without_edges(const Mesh& mesh, const Selection& edges) {
    const Topology& t = *mesh.topology;
    FaceList faces;
    for (std::size_t f = 0; f < t.face_count(); ++f) {
        stop_point(f);
        bool touched = false;
        for (Index c = t.face_offsets[f]; c < t.face_offsets[f + 1]; ++c) touched |= edges[t.corner_edge[c]] != 0;
        if (!touched) add_face(faces, t, f);
    }
    add_loose(faces, t, [&](Index e) { return !edges[e]; });
    return compacted(mesh, std::move(faces), {}, {}, lone_vertices(mesh));
}

Mesh without_vertices(const Mesh& mesh, const Selection& vertices) {
    const Topology& t = *mesh.topology;
    FaceList faces;
    for (std::size_t f = 0; f < t.face_count(); ++f)
        if (std::ranges::none_of(t.face(f), [&](Index v) { return vertices[v] != 0; })) add_face(faces, t, f);
    add_loose(faces, t, [&](Index e) { return !vertices[t.edges[e][0]] && !vertices[t.edges[e][1]]; });
    Mask lone = lone_vertices(mesh);
    for (std::size_t v = 0; v < lone.size(); ++v) lone[v] = lone[v] && !vertices[v];
    return compacted(mesh, std::move(faces), {}, {}, lone);
}

Mesh split_off(const Mesh& mesh, const Selection& chosen) {
    const Topology& t = *mesh.topology;
    Mask outside(t.vertex_count, 0);
    for (std::size_t f = 0; f < t.face_count(); ++f)
        if (!chosen[f])
            for (Index v : t.face(f)) outside[v] = 1;
    Array<Vec3> extra;
    Array<Index> extra_source, own(t.vertex_count, no_index);
    FaceList faces;
    for (std::size_t f = 0; f < t.face_count(); ++f) {
        stop_point(f);
        if (!chosen[f]) {
            add_face(faces, t, f);
            continue;
        }
        for (Index c = t.face_offsets[f]; c < t.face_offsets[f + 1]; ++c) {
            const Index v = t.corner_vertex[c];
            if (outside[v] && own[v] == no_index) {
                own[v] = static_cast<Index>(t.vertex_count + extra.size());
                extra.push_back((*mesh.positions)[v]);
                extra_source.push_back(v);
            }
            faces.corner(outside[v] ? own[v] : v, c);
        }
        faces.close(static_cast<Index>(f));
    }
    add_loose(faces, t, [](Index) { return true; });
    return compacted(mesh, std::move(faces), extra, extra_source, lone_vertices(mesh));
}

}  // namespace bricol
