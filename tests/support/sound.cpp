// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <cmath>
#include <variant>

#include "tests/support/shapes.h"

namespace bricol::test {

bool sound(const Mesh& mesh) {
    const Topology& t = *mesh.topology;
    if (t.vertex_count != mesh.positions->size() || t.corner_edge.size() != t.corner_vertex.size()) return false;
    if (!t.face_offsets.empty() && t.face_offsets.back() != t.corner_vertex.size()) return false;
    for (const auto& edge : t.edges)
        if (edge[0] >= t.vertex_count || edge[1] >= t.vertex_count) return false;
    for (std::size_t f = 0; f < t.face_count(); ++f) {
        const Index begin = t.face_offsets[f], end = t.face_offsets[f + 1];
        if (end < begin + 3) return false;
        for (Index c = begin; c < end; ++c) {
            const Index a = t.corner_vertex[c], b = t.corner_vertex[c + 1 == end ? begin : c + 1];
            if (a >= t.vertex_count || t.corner_edge[c] >= t.edges.size()) return false;
            const auto& e = t.edges[t.corner_edge[c]];
            if (!((e[0] == a && e[1] == b) || (e[0] == b && e[1] == a))) return false;
        }
    }
    for (const Attribute& attribute : mesh.attributes.all())
        if (column_size(*attribute.values) != mesh.domain_sizes()[static_cast<std::size_t>(attribute.domain)])
            return false;
    return true;
}

bool finite(const Mesh& mesh) {
    const auto number = [](const Vec3& v) { return std::isfinite(v.x) && std::isfinite(v.y) && std::isfinite(v.z); };
    if (!std::ranges::all_of(*mesh.positions, number)) return false;
    for (const Attribute& attribute : mesh.attributes.all())
        if (const auto* normals = std::get_if<Array<Vec3>>(attribute.values.get()))
            if (!std::ranges::all_of(*normals, number)) return false;
    return true;
}

}  // namespace bricol::test
