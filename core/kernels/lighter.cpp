// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/lighter.h"

#include <algorithm>
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
        // A collapsed triangle stands for a face at its first corner.
        std::map<unsigned, Index> face_at;
        for (const std::size_t i : members)
            for (std::size_t k = 0; k < 3; ++k) face_at.emplace(split.triangles[3 * i + k], split.triangle_face[i]);
        for (std::size_t i = 0; i + 2 < fewer.size(); i += 3)
            out.push_back({{fewer[i], fewer[i + 1], fewer[i + 2]}, face_at.at(fewer[i])});
    }
    return out;
}

/// A split vertex that a corner could take: how well it looks the triangle's way, and a face that has it.
struct Candidate {
    float fits = -3.4e38f;
    unsigned vertex = 0;
    Index face = no_index;
};
using ThreeCandidates = std::array<Candidate, 3>;

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
        // The best vertex of every chart at each corner, and the best of all charts.
        std::map<Index, ThreeCandidates> charts_here;
        ThreeCandidates best;
        for (std::size_t k = 0; k < 3; ++k)
            for (const auto& [vertex, face] : at[v[k]]) {
                const Candidate one{glm::dot(split.normals[vertex], way), vertex, face};
                for (Candidate* place : {&charts_here[charts.root(vertex)][k], &best[k]})
                    if (one.fits > place->fits) *place = one;
            }
        const auto sum = [](const ThreeCandidates& three) { return three[0].fits + three[1].fits + three[2].fits; };
        const ThreeCandidates* common = nullptr;
        for (const auto& [chart, three] : charts_here)
            if (std::ranges::all_of(three, [](const Candidate& one) { return one.face != no_index; }) &&
                (!common || sum(three) > sum(*common)))
                common = &three;
        const ThreeCandidates& chosen = common && sum(*common) > 0 ? *common : best;
        out.push_back({{chosen[0].vertex, chosen[1].vertex, chosen[2].vertex}, chosen[0].face});
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
    Array<Vec3> normals;
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
            normals.push_back(split.normals[triangle.corners[k]]);
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
    out.attributes.set(Domain::corner, attribute_name::normal, std::move(normals));
    out.materials = mesh.materials;
    out.skeleton = mesh.skeleton;
    return out;
}

}  // namespace bricol
