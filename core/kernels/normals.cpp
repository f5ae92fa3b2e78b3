// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/normals.h"

#include <cmath>
#include <numbers>

#include "core/ground/parallel.h"
#include "core/ground/stop.h"

namespace bricol {

namespace {

constexpr std::size_t grain = 4096;

Vec3 unit_or_zero(const Vec3& v) {
    const float length = glm::length(v);
    return length > 0 ? v / length : Vec3(0);
}

float corner_angle(const Mesh& mesh, std::size_t f, Index c) {
    const Topology& t = *mesh.topology;
    const Index begin = t.face_offsets[f], end = t.face_offsets[f + 1];
    const Array<Vec3>& p = *mesh.positions;
    const Vec3 at = p[t.corner_vertex[c]];
    const Vec3 to = unit_or_zero(p[t.corner_vertex[c + 1 == end ? begin : c + 1]] - at);
    const Vec3 back = unit_or_zero(p[t.corner_vertex[c == begin ? end - 1 : c - 1]] - at);
    return std::acos(glm::clamp(glm::dot(to, back), -1.0f, 1.0f));
}

/// Faces round each vertex, weighted by their angle there.
Array<Vec3> smooth_normals(const Mesh& mesh, const Array<Vec3>& flat) {
    const Topology& t = *mesh.topology;
    Array<Vec3> sum(t.vertex_count, Vec3(0));
    for (std::size_t f = 0; f < t.face_count(); ++f) {
        stop_point(f);
        for (Index c = t.face_offsets[f]; c < t.face_offsets[f + 1]; ++c)
            sum[t.corner_vertex[c]] += flat[f] * corner_angle(mesh, f, c);
    }
    for (Vec3& n : sum) {
        n = unit_or_zero(n);
        if (n == Vec3(0)) n = Vec3(0, 0, 1);
    }
    return sum;
}

}  // namespace

Array<Vec3> face_normals(const Mesh& mesh) {
    const Topology& t = *mesh.topology;
    const Array<Vec3>& p = *mesh.positions;
    Array<Vec3> normals(t.face_count());
    parallel::each(parallel::Numbers<std::size_t>(0, t.face_count(), grain), [&](const auto& range) {
        stop_point();
        for (std::size_t f = range.begin(); f != range.end(); ++f) {
            const auto face = t.face(f);
            const Vec3 origin = p[face[0]];  // relative coordinates keep far-away faces exact enough
            Vec3 sum(0);
            for (std::size_t i = 1; i + 1 < face.size(); ++i)
                sum += glm::cross(p[face[i]] - origin, p[face[i + 1]] - origin);
            normals[f] = unit_or_zero(sum);
        }
    });
    return normals;
}

Mesh with_normals_by_angle(const Mesh& mesh, float degrees) {
    const Topology& t = *mesh.topology;
    const Array<Vec3> flat = face_normals(mesh);
    const float cosine = std::cos(degrees * std::numbers::pi_v<float> / 180);
    const bool all_flat = degrees <= 0, all_smooth = degrees >= 180;
    const Adjacency& near = t.adjacency();

    Array<std::uint8_t> hard(t.edge_count());
    bool any_hard = all_flat;
    for (std::size_t e = 0; e < t.edge_count(); ++e) {
        stop_point(e);
        const auto faces = near.faces_of_edge(static_cast<Index>(e));
        hard[e] = !all_smooth && (all_flat || faces.size() > 2 ||
                                  (faces.size() == 2 && glm::dot(flat[faces[0]], flat[faces[1]]) < cosine));
        any_hard |= hard[e] != 0;
    }
    Mesh out = mesh;
    out.attributes.remove(Domain::vertex, attribute_name::normal);
    out.attributes.remove(Domain::corner, attribute_name::normal);
    if (!any_hard) {
        out.attributes.set(Domain::vertex, attribute_name::normal, smooth_normals(mesh, flat));
        return out;
    }
    // Corners round each vertex, then a walk from each corner over the soft edges of its fan.
    Array<Index> offsets(t.vertex_count + 1, 0), at_vertex(t.corner_count()), face_of(t.corner_count());
    for (Index v : t.corner_vertex) ++offsets[v + 1];
    for (std::size_t i = 1; i < offsets.size(); ++i) offsets[i] += offsets[i - 1];
    Array<Index> next(offsets.begin(), offsets.end());
    stop_point();
    for (std::size_t f = 0; f < t.face_count(); ++f)
        for (Index c = t.face_offsets[f]; c < t.face_offsets[f + 1]; ++c) {
            at_vertex[next[t.corner_vertex[c]]++] = c;
            face_of[c] = static_cast<Index>(f);
        }
    stop_point();
    Array<Vec3> normals(t.corner_count());
    const auto incoming = [&](Index c) {  // edge that ends at this corner
        const std::size_t f = face_of[c];
        return t.corner_edge[c == t.face_offsets[f] ? t.face_offsets[f + 1] - 1 : c - 1];
    };
    parallel::each(parallel::Numbers<Index>(0, t.vertex_count, 1024), [&](const auto& range) {
        stop_point();
        std::vector<Index> group, stack;
        std::vector<std::uint8_t> grouped;
        for (Index v = range.begin(); v != range.end(); ++v) {
            const std::span<const Index> fan(at_vertex.data() + offsets[v], at_vertex.data() + offsets[v + 1]);
            grouped.assign(fan.size(), 0);
            for (std::size_t seed = 0; seed < fan.size(); ++seed) {
                if (grouped[seed]) continue;
                group.assign(1, static_cast<Index>(seed));
                grouped[seed] = 1;
                for (std::size_t g = 0; g < group.size(); ++g) {
                    const Index c = fan[group[g]];
                    for (const Index edge : {t.corner_edge[c], incoming(c)}) {
                        if (hard[edge]) continue;
                        for (std::size_t o = 0; o < fan.size(); ++o)
                            if (!grouped[o] && (t.corner_edge[fan[o]] == edge || incoming(fan[o]) == edge)) {
                                grouped[o] = 1;
                                group.push_back(static_cast<Index>(o));
                            }
                    }
                }
                Vec3 sum(0);
                for (Index g : group) sum += flat[face_of[fan[g]]] * corner_angle(mesh, face_of[fan[g]], fan[g]);
                sum = unit_or_zero(sum);
                if (sum == Vec3(0)) sum = Vec3(0, 0, 1);
                for (Index g : group) normals[fan[g]] = sum;
            }
        }
    });
    out.attributes.set(Domain::corner, attribute_name::normal, std::move(normals));
    return out;
}

Array<Vec3> vertex_normals(const Mesh& mesh) {
    if (const auto* given = mesh.attributes.values<Vec3>(Domain::vertex, attribute_name::normal)) return *given;
    return smooth_normals(mesh, face_normals(mesh));
}

Array<Vec3> corner_normals(const Mesh& mesh) {
    if (const auto* given = mesh.attributes.values<Vec3>(Domain::corner, attribute_name::normal)) return *given;
    const auto* on_vertices = mesh.attributes.values<Vec3>(Domain::vertex, attribute_name::normal);
    if (!on_vertices) return corner_normals(with_normals_by_angle(mesh, 40));
    const Topology& t = *mesh.topology;
    Array<Vec3> normals(t.corner_count());
    for (std::size_t c = 0; c < normals.size(); ++c) normals[c] = (*on_vertices)[t.corner_vertex[c]];
    return normals;
}

}  // namespace bricol
