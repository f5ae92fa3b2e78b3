// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/lighter.h"

#include <map>
#include <meshoptimizer.h>

#include "core/ground/disjoint_sets.h"
#include "core/ground/stop.h"
#include "core/kernels/simplify.h"
#include "core/kernels/split_vertices.h"

namespace bricol {

namespace {

/// How far the surface may move, as a share of the mesh's size: a lighter shape keeps its form.
constexpr float most_error = 0.02f;

/// A triangle of the lighter mesh: three split vertices, and a face of the same material it stands for.
struct Kept {
    std::array<unsigned, 3> corners;
    Index face;
};

/// Edges of the split mesh collapsed: values stay exactly what they were, and every hard edge and seam with them.
std::vector<Kept> collapsed(const Mesh& mesh, const SplitMesh& split, std::size_t wanted) {
    const auto* numbers = mesh.attributes.values<std::int32_t>(Domain::face, attribute_name::material);
    std::map<std::int32_t, std::vector<std::size_t>> by_material;
    for (std::size_t i = 0; i < split.triangle_face.size(); ++i)
        by_material[numbers ? (*numbers)[split.triangle_face[i]] : 0].push_back(i);
    const double share = static_cast<double>(wanted) / static_cast<double>(split.triangle_face.size());
    std::vector<Kept> out;
    for (const auto& [material, members] : by_material) {
        stop_point();
        std::vector<unsigned> corners;
        for (const std::size_t i : members)
            for (std::size_t k = 0; k < 3; ++k) corners.push_back(split.triangles[3 * i + k]);
        std::vector<unsigned> fewer(corners.size());
        const auto goal = static_cast<std::size_t>(share * static_cast<double>(members.size()) + 0.5);
        fewer.resize(meshopt_simplify(fewer.data(), corners.data(), corners.size(), &split.positions[0].x,
                                      split.positions.size(), sizeof(Vec3), 3 * std::max<std::size_t>(goal, 1),
                                      most_error, by_material.size() > 1 ? meshopt_SimplifyLockBorder : 0, nullptr));
        // A collapsed triangle stands for the face at its first corner; values of faces other than the material follow.
        for (std::size_t i = 0; i + 2 < fewer.size(); i += 3)
            out.push_back({{fewer[i], fewer[i + 1], fewer[i + 2]}, split.triangle_face[members.front()]});
        std::map<unsigned, Index> face_at;
        for (const std::size_t i : members)
            for (std::size_t k = 0; k < 3; ++k) face_at.emplace(split.triangles[3 * i + k], split.triangle_face[i]);
        for (std::size_t i = out.size() - fewer.size() / 3; i < out.size(); ++i)
            out[i].face = face_at.at(out[i].corners[0]);
    }
    return out;
}

/// Edges of the bare form collapsed, for shapes of hard edges alone. Each corner then takes one of the split vertices
/// that stood at its point: of a chart that all three corners know, the one that looks most as the triangle does.
std::vector<Kept> collapsed_bare(const Mesh& mesh, const SplitMesh& split, std::size_t wanted) {
    std::vector<unsigned> corners;
    std::vector<std::vector<std::pair<unsigned, Index>>> at(mesh.vertex_count());  // split vertices and faces there
    for (std::size_t i = 0; i < split.triangles.size(); ++i) {
        const Index v = mesh.topology->corner_vertex[split.source[split.triangles[i]]];
        corners.push_back(v);
        at[v].emplace_back(split.triangles[i], split.triangle_face[i / 3]);
    }
    const SimplifyOptions options{.triangles = wanted, .error = static_cast<double>(most_error)};
    if (!simplify_closed(*mesh.positions, corners, wanted, options, std::vector<std::uint8_t>(mesh.vertex_count(), 0)))
        return {};
    // Charts: split vertices that faces hold together.
    DisjointSets charts(split.positions.size());
    for (std::size_t i = 0; i + 2 < split.triangles.size(); i += 3)
        for (std::size_t k = 1; k < 3; ++k) charts.join(split.triangles[i], split.triangles[i + k]);
    std::vector<Kept> out;
    for (std::size_t i = 0; i + 2 < corners.size(); i += 3) {
        stop_point(i);
        const std::array<unsigned, 3> v = {corners[i], corners[i + 1], corners[i + 2]};
        if (v[0] == v[1] || v[1] == v[2] || v[2] == v[0]) continue;
        const Array<Vec3>& p = *mesh.positions;
        const Vec3 way = glm::cross(p[v[1]] - p[v[0]], p[v[2]] - p[v[0]]);
        // The best vertex of every chart at each corner, and how well the chart does in all three.
        std::map<std::size_t, std::array<std::pair<float, std::pair<unsigned, Index>>, 3>> best;
        for (std::size_t k = 0; k < 3; ++k)
            for (const auto& [vertex, face] : at[v[k]]) {
                const float fits = glm::dot(split.normals[vertex], way);
                auto [found, fresh] = best.try_emplace(charts.root(vertex));
                if (fresh) found->second.fill({-3.4e38f, {0, no_index}});
                if (fits > found->second[k].first) found->second[k] = {fits, {vertex, face}};
            }
        const auto sum = [](const auto& three) { return three[0].first + three[1].first + three[2].first; };
        const std::array<std::pair<float, std::pair<unsigned, Index>>, 3>* common = nullptr;
        std::array<std::pair<float, std::pair<unsigned, Index>>, 3> each;
        each.fill({-3.4e38f, {0, no_index}});
        for (const auto& [chart, three] : best) {
            bool whole = true;
            for (std::size_t k = 0; k < 3; ++k) {
                whole &= three[k].second.second != no_index;
                if (three[k].first > each[k].first) each[k] = three[k];
            }
            if (whole && (!common || sum(three) > sum(*common))) common = &three;
        }
        const auto& chosen = common && sum(*common) > 0 ? *common : each;
        out.push_back(
            {{chosen[0].second.first, chosen[1].second.first, chosen[2].second.first}, chosen[0].second.second});
    }
    return out;
}

}  // namespace

Mesh lighter(const Mesh& mesh, std::size_t wanted) {
    const SplitMesh split = split_vertices(mesh);
    if (split.triangle_face.empty() || wanted >= split.triangle_face.size()) return mesh;
    std::vector<Kept> kept = collapsed(mesh, split, wanted);
    if (static_cast<double>(kept.size()) > 1.1 * static_cast<double>(wanted))
        if (auto bare = collapsed_bare(mesh, split, wanted); !bare.empty() && bare.size() < kept.size())
            kept = std::move(bare);
    const Array<Index>& old_vertex = mesh.topology->corner_vertex;
    std::vector<Index> number(mesh.vertex_count(), no_index);
    Array<Index> vertices, corner_source, face_source, offsets{0}, corners;
    for (const Kept& triangle : kept) {
        std::array<Index, 3> at{};
        for (std::size_t k = 0; k < 3; ++k) at[k] = old_vertex[split.source[triangle.corners[k]]];
        if (at[0] == at[1] || at[1] == at[2] || at[2] == at[0]) continue;
        for (std::size_t k = 0; k < 3; ++k) {
            if (number[at[k]] == no_index) {
                number[at[k]] = static_cast<Index>(vertices.size());
                vertices.push_back(at[k]);
            }
            corners.push_back(number[at[k]]);
            corner_source.push_back(split.source[triangle.corners[k]]);
        }
        face_source.push_back(triangle.face);
        offsets.push_back(static_cast<Index>(corners.size()));
    }
    Array<Vec3> points(vertices.size());
    for (std::size_t i = 0; i < points.size(); ++i) points[i] = (*mesh.positions)[vertices[i]];
    const auto count = static_cast<Index>(points.size());
    Mesh out(std::move(points), make_topology(count, std::move(offsets), std::move(corners)));
    mesh.attributes.gather_into(out.attributes, Domain::vertex, vertices);
    mesh.attributes.gather_into(out.attributes, Domain::corner, corner_source);
    mesh.attributes.gather_into(out.attributes, Domain::face, face_source);
    out.attributes.remove(Domain::vertex, attribute_name::normal);
    Array<Vec3> normals(corner_source.size());
    for (std::size_t c = 0, i = 0; i < kept.size(); ++i) {
        const auto at = [&](std::size_t k) { return old_vertex[split.source[kept[i].corners[k]]]; };
        if (at(0) == at(1) || at(1) == at(2) || at(2) == at(0)) continue;
        for (std::size_t k = 0; k < 3; ++k) normals[c++] = split.normals[kept[i].corners[k]];
    }
    out.attributes.set(Domain::corner, attribute_name::normal, std::move(normals));
    out.materials = mesh.materials;
    out.skeleton = mesh.skeleton;
    return out;
}

}  // namespace bricol
