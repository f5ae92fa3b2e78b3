// SPDX-License-Identifier: GPL-3.0-or-later
// Taking away what lies beyond a plane.
#include <algorithm>
#include <cmath>

#include "core/ground/stop.h"
#include "core/kernels/mirror.h"
#include "core/kernels/rebuild.h"
#include "core/kernels/triangulate.h"

namespace bricol {

namespace {

/// Linear interpolation of every column of one domain between two elements, appended to the columns in `target`.
void append_between(const Attributes& from, Domain domain, Index a, Index b, float t,
                    std::vector<std::pair<std::string, Column>>& target) {
    std::size_t column = 0;
    for (const Attribute& attribute : from.all()) {
        if (attribute.domain != domain) continue;
        std::visit(
            [&](const auto& values) {
                using Values = std::decay_t<decltype(values)>;
                using Value = typename Values::value_type;
                auto& out = std::get<Values>(target[column].second);
                if constexpr (std::is_same_v<Value, std::uint8_t>)  // in a set only as the very element that was
                    out.push_back(t <= 0 ? values[a] : t >= 1 ? values[b] : Value(0));
                else if constexpr (std::is_integral_v<Value>)
                    out.push_back(t < 0.5f ? values[a] : values[b]);
                else
                    out.push_back(values[a] * (1 - t) + values[b] * t);
            },
            *attribute.values);
        ++column;
    }
}

std::vector<std::pair<std::string, Column>> empty_columns(const Attributes& like, Domain domain, bool copy) {
    std::vector<std::pair<std::string, Column>> columns;
    for (const Attribute& attribute : like.all())
        if (attribute.domain == domain)
            columns.emplace_back(attribute.name,
                                 copy ? *attribute.values
                                      : std::visit([](const auto& v) -> Column { return std::decay_t<decltype(v)>{}; },
                                                   *attribute.values));
    return columns;
}

/// How far each vertex lies beyond the plane; exactly 0 within a millionth of the mesh's size, so that a plane through
/// vertices goes through them and not a hair beside.
std::vector<double> heights_over(const Mesh& mesh, const DVec3& normal, double at) {
    std::vector<double> heights;
    double size = 0;
    for (const Vec3& p : *mesh.positions) {
        heights.push_back(glm::dot(DVec3(p), normal) - at);
        size = std::max({size, std::abs(heights.back()), glm::length(DVec3(p))});
    }
    for (double& h : heights)
        if (std::abs(h) <= 1e-6 * size) h = 0;
    return heights;
}

/// Polygons the plane crosses more than twice fall into several pieces: they go through as triangles.
Mesh with_crossed_triangles(const Mesh& given, const std::vector<double>& heights) {
    Mask many(given.face_count(), 0);
    bool any = false;
    for (std::size_t f = 0; f < given.face_count(); ++f) {
        stop_point(f);
        const auto face = given.topology->face(f);
        int crossings = 0;
        for (std::size_t i = 0; i < face.size(); ++i)
            crossings += (heights[face[i]] >= 0) != (heights[face[(i + 1) % face.size()]] >= 0);
        if (crossings > 2) many[f] = 1, any = true;
    }
    return any ? with_triangles(given, many) : given;
}

/// Faces that lie in the plane and close a body on its far side only: they belong to what is taken away.
bool closes_other_side(const Topology& t, const std::vector<double>& heights, std::size_t f) {
    bool below = false;
    for (const Index v : t.face(f))
        if (heights[v] != 0) return false;
    const Adjacency& near = t.adjacency();
    for (Index c = t.face_offsets[f]; c < t.face_offsets[f + 1]; ++c)
        for (const Index other : near.faces_of_edge(t.corner_edge[c]))
            for (const Index v : t.face(other)) {
                if (heights[v] > 0) return false;
                below |= heights[v] < 0;
            }
    return below;
}

/// One clipping: vertices on cut edges, then faces, then what is no longer used dropped.
class PlaneClip {
public:
    PlaneClip(const Mesh& mesh, std::vector<double> heights)
        : mesh_(mesh),
          t_(*mesh.topology),
          heights_(std::move(heights)),
          points_(*mesh.positions),
          vertex_columns_(empty_columns(mesh.attributes, Domain::vertex, true)),
          corner_columns_(empty_columns(mesh.attributes, Domain::corner, false)),
          cut_vertex_(t_.edge_count(), no_index),
          on_edge_(points_.size(), no_index) {}

    Mesh run() {
        cut_edges();
        for (std::size_t f = 0; f < t_.face_count(); ++f) {
            stop_point(f);
            if (!closes_other_side(t_, heights_, f)) clip_face(f);
        }
        return finished();
    }

private:
    void cut_edges() {
        for (Index e = 0; e < t_.edge_count(); ++e) {
            stop_point(e);
            const auto [a, b] = t_.edges[e];
            const double ha = heights_[a], hb = heights_[b];
            if (!((ha < 0 && hb > 0) || (ha > 0 && hb < 0))) continue;
            const double u = ha / (ha - hb);
            cut_vertex_[e] = static_cast<Index>(points_.size());
            points_.push_back(Vec3(DVec3(points_[a]) * (1 - u) + DVec3(points_[b]) * u));
            on_edge_.push_back(e);
            append_between(mesh_.attributes, Domain::vertex, a, b, static_cast<float>(u), vertex_columns_);
        }
    }

    void clip_face(std::size_t f) {
        const auto emit = [&](Index vertex, Index a, Index b, float u) {
            faces_.corner(vertex, u == 0 ? a : no_index);
            append_between(mesh_.attributes, Domain::corner, a, b, u, corner_columns_);
        };
        for (Index c = t_.face_offsets[f]; c < t_.face_offsets[f + 1]; ++c) {
            const Index next = t_.next_in(f, c), v = t_.corner_vertex[c];
            if (heights_[v] >= 0) emit(v, c, next, 0);
            if (const Index cut = cut_vertex_[t_.corner_edge[c]]; cut != no_index) {
                const double ha = heights_[v], hb = heights_[t_.corner_vertex[next]];
                emit(cut, c, next, static_cast<float>(ha / (ha - hb)));
            }
        }
        if (!faces_.close(static_cast<Index>(f)))
            for (auto& column : corner_columns_)
                std::visit([&](auto& values) { values.resize(faces_.corners.size()); }, column.second);
    }

    Mesh finished() {
        const Adjacency& near = t_.adjacency();
        for (Index e = 0; e < t_.edge_count(); ++e) {
            stop_point(e);
            if (near.faces_of_edge(e).empty() && heights_[t_.edges[e][0]] >= 0 && heights_[t_.edges[e][1]] >= 0)
                faces_.loose.push_back(t_.edges[e]);
        }
        std::vector<std::uint8_t> used(points_.size(), 0);
        for (std::size_t c = 0; c < faces_.corners.size(); ++c) {
            stop_point(c);
            used[faces_.corners[c]] = 1;
        }
        for (const auto& edge : faces_.loose) used[edge[0]] = used[edge[1]] = 1;
        stop_point();
        for (Index v = 0; v < mesh_.vertex_count(); ++v)
            if (near.edges_of_vertex(v).empty() && heights_[v] >= 0) used[v] = 1;
        Array<Index> renumbered(points_.size(), no_index), source, old_vertex, on_edge;
        Array<Vec3> kept;
        for (Index v = 0; v < points_.size(); ++v) {
            stop_point(v);
            if (used[v]) {
                renumbered[v] = static_cast<Index>(kept.size());
                kept.push_back(points_[v]);
                source.push_back(v);
                old_vertex.push_back(v < mesh_.vertex_count() ? v : no_index);
                on_edge.push_back(on_edge_[v]);
            }
        }
        for (Index& v : faces_.corners) v = renumbered[v];
        for (auto& edge : faces_.loose) edge = {renumbered[edge[0]], renumbered[edge[1]]};
        Mesh widened = mesh_;  // the old mesh with columns that know the new vertices, as source for the rebuild
        for (auto& [name, column] : vertex_columns_) widened.attributes.set(Domain::vertex, name, std::move(column));
        Mesh out = rebuilt(widened, std::move(kept), source, std::move(faces_));
        for (auto& [name, column] : corner_columns_) out.attributes.set(Domain::corner, name, std::move(column));
        carry_edge_pieces(out, mesh_, old_vertex, on_edge);
        return out;
    }

    const Mesh& mesh_;
    const Topology& t_;
    const std::vector<double> heights_;
    Array<Vec3> points_;
    std::vector<std::pair<std::string, Column>> vertex_columns_, corner_columns_;
    Array<Index> cut_vertex_;  ///< of every edge: the vertex on it, no_index for none
    Array<Index> on_edge_;     ///< of every vertex: the edge it was put on, no_index for an old one
    FaceList faces_;
};

}  // namespace

Mesh clipped(const Mesh& mesh, int axis, double at, bool keep_high) {
    DVec3 normal(0);
    normal[axis] = keep_high ? 1 : -1;
    Mesh out = clipped_by_plane(mesh, normal, keep_high ? at : -at);
    // Exactly onto the plane, whatever rounding did.
    bool near = false;
    Array<Vec3> points = *out.positions;
    for (Vec3& p : points)
        if (std::abs(p[axis] - at) < 1e-6 * std::max(1.0, std::abs(at)) && p[axis] != static_cast<float>(at))
            p[axis] = static_cast<float>(at), near = true;
    if (near) out.positions = std::make_shared<const Array<Vec3>>(std::move(points));
    return out;
}

Mesh clipped_by_plane(const Mesh& given, const DVec3& normal, double at) {
    const std::vector<double> heights = heights_over(given, normal, at);
    const Mesh mesh = with_crossed_triangles(given, heights);
    return PlaneClip(mesh, heights).run();
}

}  // namespace bricol
