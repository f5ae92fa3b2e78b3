// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/mirror.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/ground/stop.h"
#include "core/kernels/rebuild.h"
#include "core/kernels/transform.h"
#include "core/kernels/weld.h"

namespace bricol {

namespace {

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
    for (Index v = 0; v < count; ++v) {
        stop_point(v);
        if (const Index twin = out.twin[v]; twin >= count) {
            points[twin] = points[v];
            points[twin][options.axis] = static_cast<float>(2 * options.at - points[v][options.axis]);
            out.source.push_back(v);
        }
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
    for (Index e = 0; e < t.edge_count(); ++e) {
        stop_point(e);
        if (near.faces_of_edge(e).empty()) {
            const auto [a, b] = t.edges[e];
            faces.loose.push_back({a, b});
            if (twins.twin[a] != a || twins.twin[b] != b) faces.loose.push_back({twins.twin[a], twins.twin[b]});
        }
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
    FaceList faces = both_halves(*half.topology, twins);
    result.shape.mesh = rebuilt(half, std::move(twins.points), twins.source, std::move(faces));
    turn_normals(result.shape.mesh.attributes, *half.topology, twins, options.axis);
    return result;
}

}  // namespace bricol
