// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>

#include "core/kernels/boolean.h"
#include "core/kernels/quad_relax.h"

namespace bricol {

namespace {

constexpr int most_looks = 12, evenings = 3;
constexpr std::size_t most_pairs = 20000;

/// The vertices of these faces, and of the faces round them so many times.
std::vector<std::uint8_t> vertices_by_crossings(const QuadFaces& faces, std::span<const std::array<Index, 2>> pairs,
                                                std::size_t vertices, int wider) {
    std::vector<std::uint8_t> near(vertices, 0);
    for (const auto& pair : pairs)
        for (const Index f : pair)
            for (std::size_t k = 0; k < corners_of(faces.faces[f]); ++k) near[faces.faces[f][k]] = 1;
    for (; wider > 0; --wider) {
        const std::vector<std::uint8_t> inner = near;
        for (const auto& face : faces.faces)
            if (std::any_of(face.begin(), face.begin() + corners_of(face), [&](Index v) { return inner[v]; }))
                for (std::size_t k = 0; k < corners_of(face); ++k) near[face[k]] = 1;
    }
    return near;
}

/// Moves these vertices to the middle of those they share an edge with.
void even_out_quads(EvenTriangles& t, const QuadFaces& faces, const std::vector<std::uint8_t>& these) {
    std::vector<DVec3> sum(t.point.size(), DVec3(0));
    std::vector<int> count(t.point.size(), 0);
    for (const auto& face : faces.faces)
        for (std::size_t k = 0, n = corners_of(face); k < n; ++k)
            for (const Index other : {face[(k + 1) % n], face[(k + n - 1) % n]})
                if (these[face[k]]) sum[face[k]] += t.point[other], ++count[face[k]];
    for (Index v = 0; v < t.point.size(); ++v)
        if (count[v] > 0 && t.hold[v] == VertexHold::free) t.point[v] = sum[v] / static_cast<double>(count[v]);
}

}  // namespace

std::size_t part_crossing_quads(EvenTriangles& t, const QuadFaces& faces) {
    for (int look = 0;; ++look) {
        const std::vector<std::array<Index, 2>> pairs = crossing_faces(quad_mesh(t, faces), most_pairs);
        if (pairs.empty() || look == most_looks) return pairs.size();
        const std::vector<std::uint8_t> near = vertices_by_crossings(faces, pairs, t.point.size(), look / 3);
        for (int i = 0; i < evenings; ++i) even_out_quads(t, faces, near);
    }
}

}  // namespace bricol
