// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/face_lists.h"

#include "core/ground/stop.h"

namespace bricol {

Mesh compacted(const Mesh& old, FaceList faces, const Array<Vec3>& extra, const Array<Index>& extra_source,
               const Selection& loose_vertices) {
    const std::size_t count = old.vertex_count();
    Mask used(count + extra.size(), 0);
    for (std::size_t c = 0; c < faces.corners.size(); ++c) {
        stop_point(c);
        used[faces.corners[c]] = 1;
    }
    for (const auto& edge : faces.loose) used[edge[0]] = used[edge[1]] = 1;
    for (std::size_t v = 0; v < count; ++v) used[v] |= loose_vertices[v];
    Array<Index> renumbered(used.size(), no_index), source;
    Array<Vec3> points;
    for (std::size_t v = 0; v < used.size(); ++v) {
        stop_point(v);
        if (!used[v]) continue;
        renumbered[v] = static_cast<Index>(points.size());
        points.push_back(v < count ? (*old.positions)[v] : extra[v - count]);
        source.push_back(v < count ? static_cast<Index>(v) : extra_source[v - count]);
    }
    for (std::size_t c = 0; c < faces.corners.size(); ++c) {
        stop_point(c);
        faces.corners[c] = renumbered[faces.corners[c]];
    }
    for (auto& edge : faces.loose) edge = {renumbered[edge[0]], renumbered[edge[1]]};
    return rebuilt(old, std::move(points), source, std::move(faces));
}

Mask lone_vertices(const Mesh& mesh) {
    Mask lone(mesh.vertex_count());
    const Adjacency& near = mesh.topology->adjacency();
    for (Index v = 0; v < lone.size(); ++v) lone[v] = near.edges_of_vertex(v).empty();
    return lone;
}

void add_face(FaceList& faces, const Topology& t, std::size_t f) {
    for (Index c = t.face_offsets[f]; c < t.face_offsets[f + 1]; ++c) faces.corner(t.corner_vertex[c], c);
    faces.close(static_cast<Index>(f));
}

void add_loose(FaceList& faces, const Topology& t, const std::function<bool(Index)>& keep) {
    const Adjacency& near = t.adjacency();
    if (!t.has_loose_edges()) return;
    for (Index e = 0; e < t.edge_count(); ++e)
        if (near.faces_of_edge(e).empty() && keep(e)) faces.loose.push_back(t.edges[e]);
}

}  // namespace bricol
