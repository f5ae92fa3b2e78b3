// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/stand_in.h"

#include <algorithm>
#include <cmath>
#include <meshoptimizer.h>

#include "core/kernels/normals.h"
#include "core/kernels/numbers_on.h"
#include "core/kernels/triangulate.h"

namespace bricol {

namespace {

/// Points swayed so that every run bends with a radius of about a sixth of the mesh's size, as a path laid anew may:
/// none is straight any more, so none is collapsed to its ends, and what is small beside that keeps its form.
Array<Vec3> swayed(const Array<Vec3>& points) {
    Vec3 low(points[0]), high(points[0]);
    for (const Vec3& p : points) low = glm::min(low, p), high = glm::max(high, p);
    const float size = glm::distance(low, high), wave = 12 / std::max(size, 1e-9f), height = size / 24;
    Array<Vec3> out(points.size());
    for (std::size_t i = 0; i < out.size(); ++i) {
        const Vec3 at = (points[i] - low) * wave;
        out[i] = points[i] + height * Vec3(std::sin(at.y) + std::sin(at.z), std::sin(at.x) + std::sin(at.z),
                                           std::sin(at.x) + std::sin(at.y));
    }
    return out;
}

template <typename T>
void gather(const Mesh& from, Mesh& to, Domain domain, std::string_view name, const Array<Index>& kept) {
    const auto* all = from.attributes.values<T>(domain, name);
    if (!all) return;
    Array<T> some(kept.size());
    for (std::size_t i = 0; i < some.size(); ++i) some[i] = (*all)[kept[i]];
    to.attributes.set(domain, name, std::move(some));
}

}  // namespace

StandIn stand_in(const Mesh& mesh, std::size_t wanted, bool for_bending) {
    StandIn out;
    if (mesh.empty()) return out;
    const Topology& t = *mesh.topology;
    const Triangles triangles = triangulated(mesh);
    const Array<Vec3> points = for_bending ? swayed(*mesh.positions) : *mesh.positions;
    std::vector<unsigned> indices(triangles.corners.size());
    for (std::size_t i = 0; i < indices.size(); ++i) indices[i] = t.corner_vertex[triangles.corners[i]];
    std::vector<unsigned> fewer(indices.size());
    const auto simplify = [&](auto run) {
        fewer.resize(indices.size());
        fewer.resize(run(fewer.data(), indices.data(), indices.size(), &points[0].x, points.size(), sizeof(Vec3),
                         3 * wanted, 1.0f));
    };
    simplify([](auto... a) { return meshopt_simplify(a..., 0u, nullptr); });
    if (fewer.size() > 6 * wanted || fewer.empty())
        simplify([](auto... a) { return meshopt_simplifySloppy(a..., nullptr); });
    if (fewer.empty() || fewer.size() >= indices.size()) return out;

    // Each triangle takes its looks from a face that one of its vertices had.
    Array<Index> face_at(points.size(), 0), number(points.size(), no_index), offsets, corners(fewer.size());
    for (std::size_t i = 0; i < indices.size(); ++i) face_at[indices[i]] = triangles.face[i / 3];
    for (std::size_t i = 0; i < fewer.size(); ++i) {
        Index& n = number[fewer[i]];
        if (n == no_index) {
            n = static_cast<Index>(out.vertex.size());
            out.vertex.push_back(fewer[i]);
        }
        corners[i] = n;
        if (i % 3 == 0) offsets.push_back(static_cast<Index>(i)), out.face.push_back(face_at[fewer[i]]);
    }
    offsets.push_back(static_cast<Index>(fewer.size()));
    out.topology = make_topology(static_cast<Index>(out.vertex.size()), std::move(offsets), std::move(corners));

    // Corners that share a normal now do so from here on: finding them anew by angles would cost more than drawing.
    Array<Vec3> kept(out.vertex.size());
    for (std::size_t v = 0; v < kept.size(); ++v) kept[v] = (*mesh.positions)[out.vertex[v]];
    const Array<Vec3> normals = corner_normals(Mesh(std::move(kept), out.topology));
    std::vector<std::vector<std::pair<Vec3, Index>>> at_vertex(out.vertex.size());
    out.smooth.resize(normals.size());
    for (std::size_t c = 0; c < normals.size(); ++c) {
        auto& known = at_vertex[out.topology->corner_vertex[c]];
        auto found = std::find_if(known.begin(), known.end(), [&](const auto& k) { return k.first == normals[c]; });
        if (found == known.end()) found = known.insert(known.end(), {normals[c], out.smooth_count++});
        out.smooth[c] = found->second;
    }
    return out;
}

Mesh StandIn::of(const Mesh& heavy) const {
    Array<Vec3> points(vertex.size());
    for (std::size_t i = 0; i < points.size(); ++i) points[i] = (*heavy.positions)[vertex[i]];
    Array<Vec3> sums(smooth_count, Vec3(0)), normals(smooth.size());
    for (std::size_t c = 0; c < smooth.size(); c += 3) {
        const auto at = [&](std::size_t k) { return points[topology->corner_vertex[c + k]]; };
        const Vec3 area = glm::cross(at(1) - at(0), at(2) - at(0));
        for (std::size_t k = 0; k < 3; ++k) sums[smooth[c + k]] += area;
    }
    for (Vec3& n : sums) {
        const float length = glm::length(n);
        n = length > 0 ? n / length : Vec3(0, 0, 1);
    }
    for (std::size_t c = 0; c < normals.size(); ++c) normals[c] = sums[smooth[c]];
    Mesh out(std::move(points), topology);
    out.attributes.set(Domain::corner, attribute_name::normal, std::move(normals));
    out.materials = heavy.materials;
    gather<std::int32_t>(heavy, out, Domain::face, attribute_name::material, face);
    gather<Vec4>(heavy, out, Domain::vertex, attribute_name::colour, vertex);
    if (const auto* colours = heavy.attributes.values<Vec4>(Domain::corner, attribute_name::colour)) {
        Array<Vec4> at_vertex(heavy.vertex_count(), Vec4(1)), some(vertex.size());
        for (std::size_t c = 0; c < colours->size(); ++c) at_vertex[heavy.topology->corner_vertex[c]] = (*colours)[c];
        for (std::size_t i = 0; i < some.size(); ++i) some[i] = at_vertex[vertex[i]];
        out.attributes.set(Domain::vertex, attribute_name::colour, std::move(some));
    }
    return out;
}

Array<DrawVertex> proxy_vertices(const Mesh& mesh, std::size_t triangles, const Paint& paint) {
    const StandIn light = stand_in(mesh, triangles, false);
    Array<DrawVertex> out;
    if (!light.topology) {
        out = draw_vertices(mesh, paint);
    } else {
        Mesh drawn = light.of(mesh);
        const Array<Vec3> smooth = vertex_normals(mesh);
        Array<Vec3> normals(light.vertex.size());
        for (std::size_t i = 0; i < normals.size(); ++i) normals[i] = smooth[light.vertex[i]];
        drawn.attributes.remove(Domain::corner, attribute_name::normal);
        drawn.attributes.set(Domain::vertex, attribute_name::normal, std::move(normals));
        Paint shown = paint;
        if (const auto values =
                paint.attribute.empty() ? std::nullopt : numbers_on(mesh, Domain::vertex, paint.attribute)) {
            Array<float> some(light.vertex.size());
            for (std::size_t i = 0; i < some.size(); ++i) some[i] = (*values)[light.vertex[i]];
            shown.attribute = "shown";
            drawn.attributes.set(Domain::vertex, shown.attribute, std::move(some));
        }
        out = draw_vertices(drawn, shown);
    }
    for (DrawVertex& v : out) v.mask &= ~63u;
    return out;
}

}  // namespace bricol
