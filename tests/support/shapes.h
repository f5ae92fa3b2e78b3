// SPDX-License-Identifier: GPL-3.0-or-later
// Small helpers for making things in tests.
#pragma once

#include <random>

#include "core/kernels/measure.h"
#include "core/kernels/lathe.h"
#include "core/make/make.h"

namespace bricol::test {

/// Corner knots in the front plane.
inline Curve profile(const std::vector<std::pair<double, double>>& places, bool closed = false) {
    Curve curve;
    curve.closed = closed;
    for (const auto& [x, z] : places) {
        Knot knot;
        knot.at = Vec3(static_cast<float>(x), 0, static_cast<float>(z));
        curve.knots.push_back(knot);
    }
    return curve;
}

inline Shape shape_of(Mesh mesh) {
    Shape shape;
    shape.mesh = std::move(mesh);
    return shape;
}

inline Measures measure(const Mesh& mesh) { return measured(shape_of(mesh)); }

/// Every array has the length its domain asks for, indices are in range, edges belong to their corners.
inline bool sound(const Mesh& mesh) {
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

inline Json step(const std::string& id, const std::string& type, Json settings = Json::object()) {
    Json json{{"id", id}, {"step", type}};
    for (const auto& [key, value] : settings.items()) json[key] = value;
    return json;
}

}  // namespace bricol::test
