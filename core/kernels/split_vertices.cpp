// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/split_vertices.h"

#include <algorithm>

#include "core/ground/stop.h"
#include "core/kernels/normals.h"
#include "core/kernels/triangulate.h"
#include "core/ground/parallel.h"

namespace bricol {

namespace {

bool alike(const Attribute& attribute, Index a, Index b) {
    return std::visit([&](const auto& values) { return values[a] == values[b]; }, *attribute.values);
}

}  // namespace

SplitMesh split_vertices(const Mesh& input, std::span<const Attribute* const> also) {
    SplitMesh split;
    const bool has_normals = input.attributes.find(Domain::vertex, attribute_name::normal) ||
                             input.attributes.find(Domain::corner, attribute_name::normal);
    const Mesh mesh = has_normals ? input : with_normals_by_angle(input, 40);
    const Topology& t = *mesh.topology;
    const auto* at_vertex = mesh.attributes.values<Vec3>(Domain::vertex, attribute_name::normal);
    const auto* at_corner = mesh.attributes.values<Vec3>(Domain::corner, attribute_name::normal);
    const auto* uvs = mesh.attributes.values<Vec2>(Domain::corner, attribute_name::uv);
    const auto* light = mesh.attributes.values<Vec2>(Domain::corner, attribute_name::light_uv);
    const auto* colour_at_corner = mesh.attributes.values<Vec4>(Domain::corner, attribute_name::colour);
    const auto* colour_at_vertex =
        colour_at_corner ? nullptr : mesh.attributes.values<Vec4>(Domain::vertex, attribute_name::colour);
    split.corner.resize(t.corner_count());

    // Variants of each vertex in a chain; most vertices have one, seam and edge vertices two or three.
    Array<Index> first(t.vertex_count, no_index), following;
    Array<Index>& source_corner = split.source;
    following.reserve(t.vertex_count + t.vertex_count / 4);
    source_corner.reserve(following.capacity());
    for (Index c = 0; c < t.corner_count(); ++c) {
        stop_point(c);
        const Index v = t.corner_vertex[c];
        Index found = first[v];
        for (; found != no_index; found = following[found]) {
            const Index other = source_corner[found];
            if ((!at_corner || (*at_corner)[other] == (*at_corner)[c]) && (!uvs || (*uvs)[other] == (*uvs)[c]) &&
                (!light || (*light)[other] == (*light)[c]) &&
                (!colour_at_corner || (*colour_at_corner)[other] == (*colour_at_corner)[c]) &&
                std::ranges::all_of(also, [&](const Attribute* one) { return alike(*one, other, c); }))
                break;
        }
        if (found == no_index) {
            found = static_cast<Index>(source_corner.size());
            source_corner.push_back(c);
            following.push_back(first[v]);
            first[v] = found;
        }
        split.corner[c] = found;
    }
    const std::size_t count = source_corner.size();
    split.positions.resize(count);
    split.normals.resize(count);
    split.uvs.resize(uvs ? count : 0);
    split.light_uvs.resize(light ? count : 0);
    split.colours.resize(colour_at_corner || colour_at_vertex ? count : 0);
    parallel::each(parallel::Numbers<std::size_t>(0, count, 16384), [&](const auto& range) {
        stop_point();
        for (std::size_t i = range.begin(); i != range.end(); ++i) {
            const Index c = source_corner[i], v = t.corner_vertex[c];
            split.positions[i] = (*mesh.positions)[v];
            split.normals[i] = at_corner ? (*at_corner)[c] : (*at_vertex)[v];
            if (uvs) split.uvs[i] = (*uvs)[c];
            if (light) split.light_uvs[i] = (*light)[c];
            if (!split.colours.empty())
                split.colours[i] = colour_at_corner ? (*colour_at_corner)[c] : (*colour_at_vertex)[v];
        }
    });
    Triangles triangles = triangulated(mesh);
    split.triangle_face = std::move(triangles.face);
    split.triangles.resize(triangles.corners.size());
    for (std::size_t i = 0; i < split.triangles.size(); ++i) split.triangles[i] = split.corner[triangles.corners[i]];
    return split;
}

}  // namespace bricol
