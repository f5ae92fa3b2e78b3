// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/mirror.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/ground/stop.h"
#include "core/kernels/triangulate.h"
#include "core/kernels/rebuild.h"
#include "core/kernels/transform.h"
#include "core/kernels/weld.h"

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
                if constexpr (std::is_integral_v<Value>)
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

Knot mirrored_knot(Knot knot, int axis, double at) {
    knot.at[axis] = static_cast<float>(2 * at - knot.at[axis]);
    knot.in[axis] = -knot.in[axis];
    knot.out[axis] = -knot.out[axis];
    std::swap(knot.in, knot.out);  // the reflection is walked the other way
    knot.source = -1;
    return knot;
}

void mirror_curves(const Shape& shape, const MirrorOptions& options, MirrorResult& result) {
    const auto distance = [&](const Knot& knot) { return std::abs(knot.at[options.axis] - options.at); };
    for (const Curve& curve : shape.curves) {
        Curve joined = curve;
        if (joined.knots.empty()) continue;
        const bool first_on = !curve.closed && distance(curve.knots.front()) <= options.weld;
        const bool last_on = !curve.closed && curve.knots.size() > 1 && distance(curve.knots.back()) <= options.weld;
        if (options.hold) {
            if (first_on) joined.knots.front().at[options.axis] = static_cast<float>(options.at);
            if (last_on) joined.knots.back().at[options.axis] = static_cast<float>(options.at);
        }
        std::vector<Knot> other(joined.knots.rbegin(), joined.knots.rend());
        for (Knot& knot : other) knot = mirrored_knot(knot, options.axis, options.at);
        const auto soften = [&](Knot& seam) {  // a smooth end passes squarely through the plane
            if (seam.kind == KnotKind::smooth) seam.in = seam.out = Vec3(0);
        };
        if (!first_on && !last_on) {
            result.shape.curves.push_back(joined);
            joined.knots = std::move(other);
            result.shape.curves.push_back(std::move(joined));
            continue;
        }
        if (last_on) {
            soften(joined.knots.back());
            joined.knots.back().out = other.front().out;
            joined.knots.insert(joined.knots.end(), other.begin() + 1, other.end() - (first_on ? 1 : 0));
            if (first_on) {
                joined.knots.front().in = other.back().in;
                joined.closed = true;
            }
        } else {
            soften(joined.knots.front());
            other.back() = joined.knots.front();
            if (other.size() > 1 && joined.knots.front().kind != KnotKind::corner)
                other.back().in = mirrored_knot(joined.knots.front(), options.axis, options.at).in;
            other.insert(other.end(), joined.knots.begin() + 1, joined.knots.end());
            joined.knots = std::move(other);
        }
        ++result.welded;
        result.shape.curves.push_back(std::move(joined));
    }
}

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
    const auto side_of = [&](const Mesh& m, Index v) { return glm::dot(DVec3((*m.positions)[v]), normal) - at; };
    // A polygon that the plane crosses more than twice falls into several pieces: it goes through as triangles.
    Mask many(given.face_count(), 0);
    bool any = false;
    for (std::size_t f = 0; f < given.face_count(); ++f) {
        stop_point(f);
        const auto face = given.topology->face(f);
        int crossings = 0;
        for (std::size_t i = 0; i < face.size(); ++i)
            crossings += (side_of(given, face[i]) >= 0) != (side_of(given, face[(i + 1) % face.size()]) >= 0);
        if (crossings > 2) many[f] = 1, any = true;
    }
    const Mesh mesh = any ? with_triangles(given, many) : given;
    const Topology& t = *mesh.topology;
    const auto height = [&](Index v) { return side_of(mesh, v); };

    Array<Vec3> points = *mesh.positions;
    auto vertex_columns = empty_columns(mesh.attributes, Domain::vertex, true);
    Array<Index> cut_vertex(t.edge_count(), no_index);
    for (Index e = 0; e < t.edge_count(); ++e) {
        stop_point(e);
        const auto [a, b] = t.edges[e];
        const double ha = height(a), hb = height(b);
        if (!((ha < 0 && hb > 0) || (ha > 0 && hb < 0))) continue;
        const double u = ha / (ha - hb);
        Vec3 p = Vec3(DVec3(points[a]) * (1 - u) + DVec3(points[b]) * u);
        cut_vertex[e] = static_cast<Index>(points.size());
        points.push_back(p);
        append_between(mesh.attributes, Domain::vertex, a, b, static_cast<float>(u), vertex_columns);
    }
    FaceList faces;
    auto corner_columns = empty_columns(mesh.attributes, Domain::corner, false);
    const auto emit = [&](Index vertex, Index a, Index b, float u) {
        faces.corner(vertex, u == 0 ? a : no_index);
        append_between(mesh.attributes, Domain::corner, a, b, u, corner_columns);
    };
    for (std::size_t f = 0; f < t.face_count(); ++f) {
        stop_point(f);
        for (Index c = t.face_offsets[f]; c < t.face_offsets[f + 1]; ++c) {
            const Index next = t.next_in(f, c);
            const Index v = t.corner_vertex[c];
            if (height(v) >= 0) emit(v, c, next, 0);
            if (const Index cut = cut_vertex[t.corner_edge[c]]; cut != no_index) {
                const double ha = height(v), hb = height(t.corner_vertex[next]);
                emit(cut, c, next, static_cast<float>(ha / (ha - hb)));
            }
        }
        if (!faces.close(static_cast<Index>(f)))
            for (auto& column : corner_columns)
                std::visit([&](auto& values) { values.resize(faces.corners.size()); }, column.second);
    }
    const Adjacency& near = t.adjacency();
    for (Index e = 0; e < t.edge_count(); ++e)
        if (near.faces_of_edge(e).empty() && height(t.edges[e][0]) >= 0 && height(t.edges[e][1]) >= 0)
            faces.loose.push_back(t.edges[e]);

    // Drop what no face, edge or kept loose point uses.
    std::vector<std::uint8_t> used(points.size(), 0);
    for (Index v : faces.corners) used[v] = 1;
    for (const auto& edge : faces.loose) used[edge[0]] = used[edge[1]] = 1;
    for (Index v = 0; v < mesh.vertex_count(); ++v)
        if (near.edges_of_vertex(v).empty() && height(v) >= 0) used[v] = 1;
    Array<Index> renumbered(points.size(), no_index), source;
    Array<Vec3> kept;
    for (Index v = 0; v < points.size(); ++v)
        if (used[v]) {
            renumbered[v] = static_cast<Index>(kept.size());
            kept.push_back(points[v]);
            source.push_back(v);
        }
    for (Index& v : faces.corners) v = renumbered[v];
    for (auto& edge : faces.loose) edge = {renumbered[edge[0]], renumbered[edge[1]]};
    Mesh widened = mesh;  // the old mesh with columns that know the new vertices, as source for the rebuild
    for (auto& [name, column] : vertex_columns) widened.attributes.set(Domain::vertex, name, std::move(column));
    Mesh out = rebuilt(widened, std::move(kept), source, faces);
    for (auto& [name, column] : corner_columns) out.attributes.set(Domain::corner, name, std::move(column));
    return out;
}

namespace {

void mirror_copies(const Shape& shape, const MirrorOptions& options, MirrorResult& result) {
    glm::dmat4 reflection(1);
    reflection[options.axis][options.axis] = -1;
    reflection[3][options.axis] = 2 * options.at;
    for (const Instances& group : shape.instances) {
        result.shape.instances.push_back(group);
        Instances& both = result.shape.instances.back();
        for (const glm::mat4& place : group.places) both.places.push_back(glm::mat4(reflection * glm::dmat4(place)));
        const std::array<std::size_t, 8> sizes{0, 0, 0, 0, 0, 0, group.count(), 0};
        both.attributes = joined(group.attributes, sizes, group.attributes, sizes);
    }
}

/// For each vertex the one that mirrors it: itself where it lies in the plane.
struct Twins {
    Array<Vec3> points;  ///< of the half and then of its reflection
    Array<Index> twin, source;

    bool in_plane(std::span<const Index> face) const {
        return std::ranges::all_of(face, [&](Index v) { return twin[v] == v; });
    }
};

Twins twins_of(const Mesh& half, const MirrorOptions& options, MirrorResult& result) {
    const auto count = static_cast<Index>(half.vertex_count());
    const Array<std::uint8_t> border = border_vertices(half);
    // A closed half can miss its reflection as well: then every vertex is on the lookout.
    const bool any_border = std::ranges::find(border, 1) != border.end();
    Twins out{*half.positions, Array<Index>(count), Array<Index>(count)};
    std::iota(out.source.begin(), out.source.end(), 0);
    Array<Vec3>& points = out.points;
    Index twins = 0;
    for (Index v = 0; v < count; ++v) {
        stop_point(v);
        const double distance = std::abs(static_cast<double>(points[v][options.axis]) - options.at);
        if (distance <= options.weld) {
            if (options.hold) points[v][options.axis] = static_cast<float>(options.at);
            out.twin[v] = v;
            ++result.welded;
            result.far_welds += any_border && !border[v] && distance > options.weld * 0.25;
            continue;
        }
        out.twin[v] = count + twins++;
        if ((border[v] || !any_border) && distance <= 20 * options.weld) {
            ++result.near_misses;
            result.smallest_gap = result.smallest_gap == 0 ? 2 * distance : std::min(result.smallest_gap, 2 * distance);
            result.widest_miss = std::max(result.widest_miss, distance);
            result.places.push_back(points[v]);
        }
    }
    points.resize(count + twins);
    for (Index v = 0; v < count; ++v)
        if (const Index twin = out.twin[v]; twin >= count) {
            points[twin] = points[v];
            points[twin][options.axis] = static_cast<float>(2 * options.at - points[v][options.axis]);
            out.source.push_back(v);
        }
    return out;
}

/// Both halves' faces; those in the plane would lie inside and go.
FaceList both_halves(const Topology& t, const Twins& twins) {
    FaceList faces;
    for (const bool copy : {false, true})
        for (std::size_t f = 0; f < t.face_count(); ++f) {
            stop_point(f);
            if (twins.in_plane(t.face(f))) continue;
            const Index begin = t.face_offsets[f], size = t.face_offsets[f + 1] - begin;
            for (Index i = 0; i < size; ++i) {
                const Index c = copy ? begin + (size - i) % size : begin + i;
                faces.corner(copy ? twins.twin[t.corner_vertex[c]] : t.corner_vertex[c], c);
            }
            faces.close(static_cast<Index>(f));
        }
    const Adjacency& near = t.adjacency();
    for (Index e = 0; e < t.edge_count(); ++e)
        if (near.faces_of_edge(e).empty()) {
            const auto [a, b] = t.edges[e];
            faces.loose.push_back({a, b});
            if (twins.twin[a] != a || twins.twin[b] != b) faces.loose.push_back({twins.twin[a], twins.twin[b]});
        }
    return faces;
}

/// Carried normals of the copy still look the old way across the plane.
void turn_normals(Attributes& attributes, const Topology& half, const Twins& twins, int axis) {
    attributes.remove(Domain::vertex, attribute_name::normal);
    const auto* old = attributes.values<Vec3>(Domain::corner, attribute_name::normal);
    if (!old) return;
    Array<Vec3> turned = *old;
    std::size_t copies = 0;
    for (std::size_t f = 0; f < half.face_count(); ++f)
        if (!twins.in_plane(half.face(f))) copies += half.face(f).size();
    for (std::size_t c = copies; c < turned.size(); ++c) turned[c][axis] = -turned[c][axis];
    attributes.set(Domain::corner, attribute_name::normal, std::move(turned));
}

}  // namespace

MirrorResult mirrored(const Shape& shape, const MirrorOptions& options) {
    MirrorResult result;
    mirror_curves(shape, options, result);
    mirror_copies(shape, options, result);
    if (shape.mesh.empty()) return result;
    const Mesh half = options.cut ? clipped(shape.mesh, options.axis, options.at, options.keep_high) : shape.mesh;
    Twins twins = twins_of(half, options, result);
    const FaceList faces = both_halves(*half.topology, twins);
    result.shape.mesh = rebuilt(half, std::move(twins.points), twins.source, faces);
    turn_normals(result.shape.mesh.attributes, *half.topology, twins, options.axis);
    return result;
}

}  // namespace bricol
