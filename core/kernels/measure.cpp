// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/measure.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/kernels/triangulate.h"
#include "core/ground/parallel.h"

namespace bricol {

namespace {

/// A sum over faces, in blocks of one size so that it is the same for any number of threads; `part(begin, end)` gives a
/// block's own.
template <class Part>
double summed(std::size_t faces, const Part& part) {
    constexpr std::size_t block = 4096;
    std::vector<double> sums((faces + block - 1) / block);
    parallel::each(std::size_t(0), sums.size(),
                   [&](std::size_t b) { sums[b] = part(b * block, std::min(faces, (b + 1) * block)); });
    return std::accumulate(sums.begin(), sums.end(), 0.0);
}

}  // namespace

double signed_volume(const Mesh& mesh) {
    const Topology& t = *mesh.topology;
    const Array<Vec3>& p = *mesh.positions;
    if (mesh.empty()) return 0;
    const DVec3 origin(p[0]);  // near the shape: far from the world's origin little would be left of the digits
    const double six_times = summed(mesh.face_count(), [&](std::size_t begin, std::size_t end) {
        const Triangles all = triangulated(mesh, begin, end);  // the same triangles that are drawn and exported
        const auto at = [&](std::size_t corner) { return DVec3(p[t.corner_vertex[all.corners[corner]]]) - origin; };
        double sum = 0;
        for (std::size_t i = 0; i < all.corners.size(); i += 3)
            sum += glm::dot(at(i), glm::cross(at(i + 1), at(i + 2)));
        return sum;
    });
    return six_times / 6;
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
            const bool even = std::abs(glm::length(linear[1]) - size) < 1e-5 * size &&
                              std::abs(glm::length(linear[2]) - size) < 1e-5 * size &&
                              std::abs(glm::dot(linear[0], linear[1])) + std::abs(glm::dot(linear[1], linear[2])) +
                                      std::abs(glm::dot(linear[2], linear[0])) <
                                  1e-5 * size * size;
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
        m.vertices += n * one.vertices, m.edges += n * one.edges, m.faces += n * one.faces,
            m.triangles += n * one.triangles;
        m.curves += n * one.curves, m.border_edges += n * one.border_edges,
            m.non_manifold_edges += n * one.non_manifold_edges;
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
    m.triangles = t.corner_count() - 2 * m.faces;
    m.area = summed(m.faces, [&](std::size_t begin, std::size_t end) {
        double area = 0;
        for (std::size_t f = begin; f < end; ++f) {
            const auto face = t.face(f);
            const DVec3 a(p[face[0]]);
            DVec3 sum(0);
            for (std::size_t i = 1; i + 1 < face.size(); ++i)
                sum += glm::cross(DVec3(p[face[i]]) - a, DVec3(p[face[i + 1]]) - a);
            area += glm::length(sum) / 2;
        }
        return area;
    });
    const Ties& ties = t.ties();
    m.border_edges = ties.border_edges, m.non_manifold_edges = ties.non_manifold_edges,
    m.turned_edges = ties.turned_edges;
    m.loose_edges = ties.loose_edges, m.pieces = ties.pieces;
    m.closed = m.faces > 0 && m.border_edges == 0 && m.non_manifold_edges == 0;
    if (m.closed) m.volume = signed_volume(mesh);
    if (!shape.instances.empty()) add_instances(m, shape);
    return m;
}

}  // namespace bricol
