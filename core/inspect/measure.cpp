// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inspect/measure.h"

#include <algorithm>
#include <cmath>

#include "core/kernels/triangulate.h"
#include "core/shape/joined.h"

namespace bricol {

double signed_volume(const Mesh& mesh) {
    const Topology& t = *mesh.topology;
    const Array<Vec3>& p = *mesh.positions;
    if (mesh.empty()) return 0;
    const DVec3 origin(p[0]);  // near the shape: far from the world's origin little would be left of the digits
    double sum = 0;
    const Triangles all = triangulated(mesh);  // the same triangles that are drawn and exported
    const auto at = [&](std::size_t corner) { return DVec3(p[t.corner_vertex[all.corners[corner]]]) - origin; };
    for (std::size_t i = 0; i < all.corners.size(); i += 3) sum += glm::dot(at(i), glm::cross(at(i + 1), at(i + 2)));
    return sum / 6;
}

namespace {

/// Adds the measures of every instance. A place that keeps angles scales area and volume evenly; any other has its copy
/// measured for itself.
void add_instances(Measures& m, const Shape& shape) {
    const bool alone = m.faces == 0;
    double volume = m.volume.value_or(0);
    for (const Instances& group : shape.instances) {
        const Measures one = measured(*group.shape);
        for (const glm::mat4& place : group.places) {
            const glm::dmat3 linear{glm::mat4(place)};
            const double size = glm::length(linear[0]);
            const bool even = std::abs(glm::length(linear[1]) - size) < 1e-5 * size && std::abs(glm::length(linear[2]) - size) < 1e-5 * size &&
                              std::abs(glm::dot(linear[0], linear[1])) + std::abs(glm::dot(linear[1], linear[2])) + std::abs(glm::dot(linear[2], linear[0])) < 1e-5 * size * size;
            if (even) {
                m.area += one.area * size * size;
                volume += one.volume.value_or(0) * size * size * size;
            } else {
                const Measures own = measured(transformed(*group.shape, glm::dmat4(place)));
                m.area += own.area;
                volume += own.volume.value_or(0);
            }
        }
        const std::size_t n = group.count();
        m.vertices += n * one.vertices, m.edges += n * one.edges, m.faces += n * one.faces, m.triangles += n * one.triangles;
        m.curves += n * one.curves, m.border_edges += n * one.border_edges, m.non_manifold_edges += n * one.non_manifold_edges;
        m.turned_edges += n * one.turned_edges, m.loose_edges += n * one.loose_edges, m.pieces += n * one.pieces;
        m.euler += static_cast<std::ptrdiff_t>(n) * one.euler;
        m.instances += n * std::max<std::size_t>(1, one.instances);
        m.closed = (m.closed || alone) && (one.closed || one.faces == 0);
    }
    m.closed = m.closed && m.faces > 0 && m.border_edges == 0 && m.non_manifold_edges == 0;
    m.volume = m.closed ? std::optional(volume) : std::nullopt;
}

}  // namespace

Measures measured(const Shape& shape) {
    Measures m;
    const Mesh& mesh = shape.mesh;
    const Topology& t = *mesh.topology;
    const Array<Vec3>& p = *mesh.positions;
    m.vertices = mesh.vertex_count();
    m.edges = mesh.edge_count();
    m.faces = mesh.face_count();
    m.curves = shape.curves.size();
    m.box = box_of(shape);
    m.euler = static_cast<std::ptrdiff_t>(m.vertices + m.faces) - static_cast<std::ptrdiff_t>(m.edges);
    for (std::size_t f = 0; f < t.face_count(); ++f) {
        const auto face = t.face(f);
        m.triangles += face.size() - 2;
        const DVec3 a(p[face[0]]);
        DVec3 sum(0);
        for (std::size_t i = 1; i + 1 < face.size(); ++i)
            sum += glm::cross(DVec3(p[face[i]]) - a, DVec3(p[face[i + 1]]) - a);
        m.area += glm::length(sum) / 2;
    }
    Array<std::int32_t> uses(m.edges, 0), balance(m.edges, 0);
    for (std::size_t f = 0; f < t.face_count(); ++f)
        for (Index c = t.face_offsets[f]; c < t.face_offsets[f + 1]; ++c) {
            const Index e = t.corner_edge[c];
            ++uses[e];
            balance[e] += t.edges[e][0] == t.corner_vertex[c] ? 1 : -1;
        }
    for (std::size_t e = 0; e < m.edges; ++e) {
        m.loose_edges += uses[e] == 0;
        m.border_edges += uses[e] == 1;
        m.non_manifold_edges += uses[e] > 2;
        m.turned_edges += uses[e] == 2 && balance[e] != 0;
    }
    m.closed = m.faces > 0 && m.border_edges == 0 && m.non_manifold_edges == 0;
    if (m.closed) m.volume = signed_volume(mesh);

    Joined pieces(m.vertices);
    m.pieces = m.vertices;
    for (const auto& [a, b] : t.edges) m.pieces -= pieces.join(a, b);
    if (!shape.instances.empty()) add_instances(m, shape);
    return m;
}

}  // namespace bricol
