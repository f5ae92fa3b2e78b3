// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/merge_faces.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>

#include "core/ground/stop.h"
#include "core/kernels/face_lists.h"
#include "core/kernels/normals.h"

namespace bricol {

Mesh merged_faces(const Mesh& mesh, std::span<const Index> group, const Mask& may_drop) {
    const Topology& t = *mesh.topology;
    const Adjacency& near = t.adjacency();
    const Array<Vec3>& p = *mesh.positions;
    // Pieces: faces of a group that hang together.
    Array<Index> piece(t.face_count(), no_index);
    std::vector<std::vector<Index>> pieces;
    std::vector<Index> stack;
    for (Index seed = 0; seed < t.face_count(); ++seed) {
        stop_point(seed);
        if (piece[seed] != no_index || group[seed] == no_index) continue;
        const auto number = static_cast<Index>(pieces.size());
        pieces.emplace_back();
        stack.assign(1, seed);
        piece[seed] = number;
        while (!stack.empty()) {
            const Index f = stack.back();
            stack.pop_back();
            pieces[number].push_back(f);
            for (Index c = t.face_offsets[f]; c < t.face_offsets[f + 1]; ++c) {
                const auto beside = near.faces_of_edge(t.corner_edge[c]);
                if (beside.size() != 2) continue;
                for (const Index g : beside)
                    if (piece[g] == no_index && group[g] == group[f]) {
                        piece[g] = number;
                        stack.push_back(g);
                    }
            }
        }
        std::ranges::sort(pieces[number]);
    }
    // Outlines first, so that straight vertices are dropped only where every face agrees.
    std::vector<std::vector<Index>> outline(pieces.size());  // corners
    std::map<Index, Index> following;                        // vertex → corner that leaves it along the outline
    for (std::size_t k = 0; k < pieces.size(); ++k) {
        if (pieces[k].size() < 2) continue;
        following.clear();
        bool simple = true;
        Index first = no_index;
        for (const Index f : pieces[k])
            for (Index c = t.face_offsets[f]; c < t.face_offsets[f + 1]; ++c) {
                const auto beside = near.faces_of_edge(t.corner_edge[c]);
                if (beside.size() == 2 && piece[beside[0]] == piece[beside[1]] && beside[0] != beside[1]) continue;
                simple &= following.emplace(t.corner_vertex[c], c).second;
                if (first == no_index) first = c;
            }
        std::vector<Index> loop;
        Index c = first;
        while (simple && c != no_index && loop.size() <= following.size()) {
            loop.push_back(c);
            const auto f = static_cast<std::size_t>(std::upper_bound(t.face_offsets.begin(), t.face_offsets.end(), c) -
                                                    t.face_offsets.begin() - 1);
            const Index to = t.corner_vertex[c + 1 == t.face_offsets[f + 1] ? t.face_offsets[f] : c + 1];
            const auto at = following.find(to);
            c = at == following.end() ? no_index : at->second;
            if (c == first) break;
        }
        if (simple && c == first && loop.size() == following.size() && loop.size() >= 3) outline[k] = std::move(loop);
    }
    Mask needed(t.vertex_count, 1);
    if (!may_drop.empty()) {
        for (Index v = 0; v < t.vertex_count; ++v) needed[v] = !may_drop[v];
        // A vertex may go when every face that is left and uses it runs straight through it.
        const auto straight = [&](Index a, Index v, Index b) {
            const DVec3 in = DVec3(p[v]) - DVec3(p[a]), out = DVec3(p[b]) - DVec3(p[v]);
            const double lengths = glm::length(in) * glm::length(out);
            return lengths > 0 && glm::dot(in, out) > 0 && glm::length(glm::cross(in, out)) < 1e-5 * lengths;
        };
        const auto look = [&](std::span<const Index> loop, bool grouped) {
            for (std::size_t i = 0; i < loop.size(); ++i) {
                const Index v = loop[i];
                if (!grouped || !straight(loop[(i + loop.size() - 1) % loop.size()], v, loop[(i + 1) % loop.size()]))
                    needed[v] = 1;
            }
        };
        std::vector<Index> loop;
        for (std::size_t f = 0; f < t.face_count(); ++f) {
            stop_point(f);
            const bool merged = piece[f] != no_index && !outline[piece[f]].empty();
            if (merged && pieces[piece[f]].front() != f) continue;
            if (merged) {
                loop.clear();
                for (const Index c : outline[piece[f]]) loop.push_back(t.corner_vertex[c]);
                look(loop, true);
            } else {
                look(t.face(f), group[f] != no_index);
            }
        }
        if (t.has_loose_edges())
            for (Index e = 0; e < t.edge_count(); ++e)
                if (near.faces_of_edge(e).empty())
                    for (Index v : t.edges[e]) needed[v] = 1;
    }
    FaceList faces;
    for (std::size_t f = 0; f < t.face_count(); ++f) {
        stop_point(f);
        const bool merged = piece[f] != no_index && !outline[piece[f]].empty();
        if (merged && pieces[piece[f]].front() != f) continue;
        const auto put = [&](Index c) {
            if (needed[t.corner_vertex[c]]) faces.corner(t.corner_vertex[c], c);
        };
        if (merged)
            for (const Index c : outline[piece[f]]) put(c);
        else
            for (Index c = t.face_offsets[f]; c < t.face_offsets[f + 1]; ++c) put(c);
        faces.close(static_cast<Index>(f));
    }
    add_loose(faces, t, [](Index) { return true; });
    return compacted(mesh, std::move(faces), {}, {}, lone_vertices(mesh));
}

Mesh dissolved_flat(const Mesh& mesh, double degrees, const Selection& chosen) {
    const Topology& t = *mesh.topology;
    const Array<Vec3> flat = face_normals(mesh);
    const Adjacency& near = t.adjacency();
    const auto* material = mesh.attributes.values<std::int32_t>(Domain::face, attribute_name::material);
    const double cosine = std::cos(glm::radians(degrees));
    // Grown from a seed, every face is compared with the seed too: a gentle curve does not become one polygon.
    Array<Index> group(t.face_count(), no_index);
    std::vector<Index> stack;
    for (Index seed = 0; seed < t.face_count(); ++seed) {
        stop_point(seed);
        if (group[seed] != no_index || !chosen[seed] || flat[seed] == Vec3(0)) continue;
        group[seed] = seed;
        stack.assign(1, seed);
        while (!stack.empty()) {
            const Index f = stack.back();
            stack.pop_back();
            for (Index c = t.face_offsets[f]; c < t.face_offsets[f + 1]; ++c) {
                const auto beside = near.faces_of_edge(t.corner_edge[c]);
                if (beside.size() != 2) continue;
                for (const Index g : beside) {
                    if (group[g] != no_index || !chosen[g] || (material && (*material)[g] != (*material)[seed]))
                        continue;
                    if (glm::dot(flat[g], flat[f]) < cosine || glm::dot(flat[g], flat[seed]) < cosine) continue;
                    group[g] = seed;
                    stack.push_back(g);
                }
            }
        }
    }
    return merged_faces(mesh, group, Mask(t.vertex_count, 1));
}

}  // namespace bricol
