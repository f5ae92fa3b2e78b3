// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/mesh_buffer.h"

#include <cmath>
#include <meshoptimizer.h>
#include <tbb/parallel_for.h>

#include "core/kernels/normals.h"
#include "core/kernels/triangulate.h"

namespace bricol {

namespace {

std::uint32_t packed(const Vec3& n) {
    const auto part = [](float v) { return static_cast<std::uint32_t>(static_cast<std::int32_t>(std::lround(v * 511))) & 1023u; };
    return part(n.x) | part(n.y) << 10 | part(n.z) << 20;
}

/// Place of every face's material in the table of its mesh, 0 for none; shifted to where DrawVertex::mask wants it.
Array<std::uint32_t> looks_of(const Mesh& mesh) {
    Array<std::uint32_t> looks(mesh.face_count(), 0);
    const auto* numbers = mesh.attributes.values<std::int32_t>(Domain::face, attribute_name::material);
    if (!numbers || !mesh.materials) return looks;
    std::int32_t last = 0;
    std::uint32_t place = 0;
    for (std::size_t f = 0; f < looks.size(); ++f) {
        if ((*numbers)[f] != last) {
            last = (*numbers)[f];
            place = 0;
            for (std::size_t i = 0; i + 1 < most_materials && i < mesh.materials->size(); ++i)
                if ((*mesh.materials)[i].number == last) place = static_cast<std::uint32_t>(i + 1) << 8;
        }
        looks[f] = place;
    }
    return looks;
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
    const Array<std::uint32_t> looks = looks_of(mesh);
    Array<DrawVertex> out(triangles.corners.size());
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, triangles.count(), 4096), [&](const auto& range) {
        for (std::size_t i = range.begin(); i != range.end(); ++i) {
            const Index* c = triangles.corners.data() + 3 * i;
            const Index begin = t.face_offsets[triangles.face[i]], end = t.face_offsets[triangles.face[i] + 1];
            std::uint32_t mask = looks[triangles.face[i]];
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

Array<DrawVertex> proxy_vertices(const Mesh& mesh, std::size_t wanted) {
    const Topology& t = *mesh.topology;
    const Triangles triangles = triangulated(mesh);
    const Array<std::uint32_t> looks = looks_of(mesh);
    const Array<Vec3> normals = corner_normals(mesh);
    const Array<Vec3>& points = *mesh.positions;
    std::vector<unsigned> indices(triangles.corners.size());
    std::vector<Vec3> smooth(points.size(), Vec3(0));
    std::vector<std::uint32_t> look(points.size(), 0);
    for (std::size_t i = 0; i < indices.size(); ++i) {
        indices[i] = t.corner_vertex[triangles.corners[i]];
        smooth[indices[i]] += normals[triangles.corners[i]];
        look[indices[i]] = looks[triangles.face[i / 3]];
    }
    std::vector<unsigned> fewer(indices.size());
    const auto simplify = [&](auto run) {
        fewer.resize(indices.size());
        fewer.resize(run(fewer.data(), indices.data(), indices.size(), &points[0].x, points.size(), sizeof(Vec3), 3 * wanted, 1.0f));
    };
    simplify([](auto... a) { return meshopt_simplify(a..., 0u, nullptr); });
    if (fewer.size() > 6 * wanted || fewer.empty()) simplify([](auto... a) { return meshopt_simplifySloppy(a..., nullptr); });
    Array<DrawVertex> out(fewer.size());
    for (std::size_t i = 0; i < fewer.size(); ++i) {
        const Vec3 n = smooth[fewer[i]];
        const float length = glm::length(n);
        out[i] = {points[fewer[i]], packed(length > 0 ? n / length : Vec3(0, 0, 1)), look[fewer[i - i % 3]]};
    }
    return out;
}

}  // namespace bricol
