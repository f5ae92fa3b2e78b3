// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/mesh_buffer.h"

#include <cmath>
#include <tbb/parallel_for.h>

#include "core/kernels/normals.h"
#include "core/kernels/triangulate.h"

namespace bricol {

namespace {

std::uint32_t packed(const Vec3& n) {
    const auto part = [](float v) { return static_cast<std::uint32_t>(static_cast<std::int32_t>(std::lround(v * 511))) & 1023u; };
    return part(n.x) | part(n.y) << 10 | part(n.z) << 20;
}

}  // namespace

Array<DrawVertex> draw_vertices(const Mesh& mesh) {
    const Topology& t = *mesh.topology;
    const Triangles triangles = triangulated(mesh);
    const Array<Vec3> normals = corner_normals(mesh);
    const Array<Vec3> flat = face_normals(mesh);
    const Adjacency& near = t.adjacency();
    const float cosine = std::cos(glm::radians(40.0f));
    Array<std::uint8_t> sharp(t.edge_count());
    tbb::parallel_for(tbb::blocked_range<Index>(0, static_cast<Index>(t.edge_count()), 8192), [&](const auto& range) {
        for (Index e = range.begin(); e != range.end(); ++e) {
            const auto faces = near.faces_of_edge(e);
            sharp[e] = faces.size() != 2 || glm::dot(flat[faces[0]], flat[faces[1]]) < cosine;
        }
    });
    Array<DrawVertex> out(triangles.corners.size());
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, triangles.count(), 4096), [&](const auto& range) {
        for (std::size_t i = range.begin(); i != range.end(); ++i) {
            const Index* c = triangles.corners.data() + 3 * i;
            const Index begin = t.face_offsets[triangles.face[i]], end = t.face_offsets[triangles.face[i] + 1];
            std::uint32_t mask = 0;
            for (int k = 0; k < 3; ++k) {
                const Index from = c[(k + 1) % 3], to = c[(k + 2) % 3];
                if (to != (from + 1 == end ? begin : from + 1)) continue;  // a diagonal of the face
                mask |= 1u << k;
                if (sharp[t.corner_edge[from]]) mask |= 8u << k;
            }
            for (int k = 0; k < 3; ++k)
                out[3 * i + k] = {(*mesh.positions)[t.corner_vertex[c[k]]], packed(normals[c[k]]), mask};
        }
    });
    return out;
}

}  // namespace bricol
