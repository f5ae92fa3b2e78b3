// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/cut_loops.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <numeric>

#include "core/ground/stop.h"
#include "core/kernels/face_lists.h"
#include "core/shape/origin.h"

namespace bricol {

std::vector<Index> edge_ring(const Mesh& mesh, Index edge) {
    const Topology& t = *mesh.topology;
    const Adjacency& near = t.adjacency();
    std::vector<Index> ring{edge};
    Mask seen(t.edge_count(), 0);
    seen[edge] = 1;
    for (const Index start : near.faces_of_edge(edge)) {
        Index f = start, e = edge;
        while (t.face(f).size() == 4) {
            Index k = 0;
            while (t.corner_edge[t.face_offsets[f] + k] != e) ++k;
            e = t.corner_edge[t.face_offsets[f] + (k + 2) % 4];
            if (seen[e]) break;
            seen[e] = 1;
            ring.push_back(e);
            const auto beside = near.faces_of_edge(e);
            if (beside.size() != 2) break;
            f = beside[0] == f ? beside[1] : beside[0];
        }
    }
    return ring;
}

std::vector<Index> edge_loop(const Mesh& mesh, Index edge) {
    const Topology& t = *mesh.topology;
    const Adjacency& near = t.adjacency();
    std::vector<Index> loop{edge};
    Mask seen(t.edge_count(), 0);
    seen[edge] = 1;
    const bool border = near.faces_of_edge(edge).size() == 1;
    for (const Index start : t.edges[edge]) {
        Index v = start, e = edge;
        while (true) {
            Index next = no_index;
            const auto around = near.edges_of_vertex(v);
            if (border) {
                for (const Index other : around)
                    if (other != e && near.faces_of_edge(other).size() == 1) next = next == no_index ? other : e;
                if (next == e) next = no_index;  // several borders meet here
            } else if (around.size() == 4) {
                // Straight on: the edge that shares no face with this one.
                for (const Index other : around) {
                    if (other == e) continue;
                    bool shares = false;
                    for (const Index f : near.faces_of_edge(other))
                        for (const Index g : near.faces_of_edge(e)) shares |= f == g;
                    if (!shares) next = other;
                }
            }
            if (next == no_index || seen[next]) break;
            seen[next] = 1;
            loop.push_back(next);
            v = t.edges[next][0] == v ? t.edges[next][1] : t.edges[next][0];
            e = next;
        }
    }
    return loop;
}

CutLoopResult with_cut_loops(const Mesh& mesh, std::span<const Index> seeds, int cuts, double slide) {
    CutLoopResult result;
    const Topology& t = *mesh.topology;
    const Adjacency& near = t.adjacency();
    const Array<Vec3>& p = *mesh.positions;
    // A cut edge has a direction, so that every cut is at the same share of all edges of its ring.
    Array<std::int8_t> way(t.edge_count(), 0);  // 0 not cut, 1 from edges[e][0], -1 from edges[e][1]
    for (const Index seed : seeds) {
        if (way[seed] != 0) continue;
        ++result.rings;
        way[seed] = 1;
        for (const Index start : near.faces_of_edge(seed)) {
            Index f = start, e = seed;
            while (t.face(f).size() == 4) {
                const Index first = t.face_offsets[f];
                Index k = 0;
                while (t.corner_edge[first + k] != e) ++k;
                const Index other = t.corner_edge[first + (k + 2) % 4];
                if (way[other] != 0) break;
                // Along edge e the face runs from corner k to k+1; along the opposite one from k+2 to k+3, the other
                // way.
                const bool forward = (t.edges[e][0] == t.corner_vertex[first + k]) == (way[e] == 1);
                const bool other_forward = t.edges[other][0] == t.corner_vertex[first + (k + 2) % 4];
                way[other] = forward == other_forward ? -1 : 1;
                e = other;
                const auto beside = near.faces_of_edge(e);
                if (beside.size() != 2) break;
                f = beside[0] == f ? beside[1] : beside[0];
            }
        }
    }
    Array<Vec3> extra;
    Array<Index> extra_source, first_cut(t.edge_count(), no_index), owner;
    std::vector<Origin> origins;  // of the new points
    const auto share_of = [&](int k) {
        const double even = (k + 1.0) / (cuts + 1);
        return static_cast<float>(slide >= 0 ? even + (1 - even) * slide : even * (1 + slide));
    };
    for (Index e = 0; e < t.edge_count(); ++e) {
        stop_point(e);
        if (way[e] == 0) continue;
        first_cut[e] = static_cast<Index>(t.vertex_count + extra.size());
        const Index a = t.edges[e][way[e] == 1 ? 0 : 1], b = t.edges[e][way[e] == 1 ? 1 : 0];
        for (int k = 0; k < cuts; ++k) {
            extra.push_back(p[a] + (p[b] - p[a]) * share_of(k));
            origins.push_back(Origin::between(a, b, share_of(k)));
            extra_source.push_back(origins.back().nearest());
            owner.push_back(e);
        }
    }
    const auto* uvs = mesh.attributes.values<Vec2>(Domain::corner, attribute_name::uv);
    Array<Vec2> new_uvs;
    FaceList faces;
    const auto put = [&](Index v, Index corner, Index toward, float share) {
        faces.corner(v, share == 0 ? corner : no_index);
        if (uvs) new_uvs.push_back((*uvs)[corner] + ((*uvs)[toward] - (*uvs)[corner]) * share);
    };
    for (std::size_t f = 0; f < t.face_count(); ++f) {
        stop_point(f);
        const Index first = t.face_offsets[f];
        const auto n = static_cast<Index>(t.face(f).size());
        const auto next = [&](Index k) { return first + (k + 1) % n; };
        // Point j (0..cuts+1) along the side k of this face, counted in the side's own direction.
        const auto side = [&](Index k, int j) {
            const Index c = first + k, e = t.corner_edge[c];
            const bool along = (t.edges[e][0] == t.corner_vertex[c]) == (way[e] == 1);
            if (j == 0) return put(t.corner_vertex[c], c, c, 0);
            if (j == cuts + 1) return put(t.corner_vertex[next(k)], next(k), next(k), 0);
            const int number = along ? j - 1 : cuts - j;
            const float share = along ? share_of(number) : 1 - share_of(number);
            put(first_cut[e] + static_cast<Index>(number), c, next(k), share);
        };
        Index cut_side = no_index;
        int cut_sides = 0;
        for (Index k = 0; k < n; ++k)
            if (way[t.corner_edge[first + k]] != 0) ++cut_sides, cut_side = cut_side == no_index ? k : cut_side;
        if (n == 4 && cut_sides == 2 && way[t.corner_edge[first + (cut_side + 2) % 4]] != 0) {
            for (int j = 0; j <= cuts; ++j) {
                side(cut_side, j);
                side(cut_side, j + 1);
                side((cut_side + 2) % 4, cuts - j);
                side((cut_side + 2) % 4, cuts - j + 1);
                faces.close(static_cast<Index>(f));
            }
            continue;
        }
        if (n == 4 && cut_sides == 4) {  // two rings cross: a grid, places blended from the four sides
            std::vector<std::vector<Index>> grid(static_cast<std::size_t>(cuts) + 2,
                                                 std::vector<Index>(static_cast<std::size_t>(cuts) + 2));
            const auto vertex_on = [&](Index k, int j) {
                const Index c = first + k, e = t.corner_edge[c];
                if (j == 0) return t.corner_vertex[c];
                if (j == cuts + 1) return t.corner_vertex[next(k)];
                const bool along = (t.edges[e][0] == t.corner_vertex[c]) == (way[e] == 1);
                return first_cut[e] + static_cast<Index>(along ? j - 1 : cuts - j);
            };
            // How far along side k its point j lies: the cuts may be slid.
            const auto share_on = [&](Index k, int j) {
                if (j == 0 || j == cuts + 1) return j == 0 ? 0.0f : 1.0f;
                const Index c = first + k, e = t.corner_edge[c];
                const bool along = (t.edges[e][0] == t.corner_vertex[c]) == (way[e] == 1);
                return along ? share_of(j - 1) : 1 - share_of(cuts - j);
            };
            const auto place = [&](Index v) { return v < t.vertex_count ? p[v] : extra[v - t.vertex_count]; };
            const int last = cuts + 1;
            for (int j = 0; j <= last; ++j) {
                grid[static_cast<std::size_t>(j)][0] = vertex_on(0, j);
                grid[static_cast<std::size_t>(j)][static_cast<std::size_t>(last)] = vertex_on(2, last - j);
            }
            for (int i = 1; i < last; ++i) {
                grid[static_cast<std::size_t>(last)][static_cast<std::size_t>(i)] = vertex_on(1, i);
                grid[0][static_cast<std::size_t>(i)] = vertex_on(3, last - i);
            }
            for (int j = 1; j < last; ++j)
                for (int i = 1; i < last; ++i) {
                    const auto u = static_cast<std::size_t>(j), w = static_cast<std::size_t>(i),
                               z = static_cast<std::size_t>(last);
                    const Vec3 low = place(grid[u][0]), high = place(grid[u][z]), left = place(grid[0][w]),
                               right = place(grid[z][w]);
                    const float x = static_cast<float>(j) / static_cast<float>(last),
                                y = static_cast<float>(i) / static_cast<float>(last);
                    const Vec3 flat = (place(grid[0][0]) * (1 - x) + place(grid[z][0]) * x) * (1 - y) +
                                      (place(grid[0][z]) * (1 - x) + place(grid[z][z]) * x) * y;
                    grid[u][w] = static_cast<Index>(t.vertex_count + extra.size());
                    extra.push_back(low * (1 - y) + high * y + left * (1 - x) + right * x - flat);
                    origins.push_back(
                        Origin::within(grid[0][0], grid[z][0], grid[z][z], grid[0][z], share_on(0, j), share_on(1, i)));
                    extra_source.push_back(origins.back().nearest());
                }
            for (std::size_t j = 0; j < static_cast<std::size_t>(last); ++j)
                for (std::size_t i = 0; i < static_cast<std::size_t>(last); ++i) {
                    for (const auto& [dj, di] : {std::pair{0, 0}, {1, 0}, {1, 1}, {0, 1}}) {
                        faces.corner(grid[j + static_cast<std::size_t>(dj)][i + static_cast<std::size_t>(di)],
                                     no_index);
                        if (uvs) {
                            const float x = share_on(0, static_cast<int>(j) + dj),
                                        y = share_on(1, static_cast<int>(i) + di);
                            new_uvs.push_back(((*uvs)[first] * (1 - x) + (*uvs)[first + 1] * x) * (1 - y) +
                                              ((*uvs)[first + 3] * (1 - x) + (*uvs)[first + 2] * x) * y);
                        }
                    }
                    faces.close(static_cast<Index>(f));
                }
            continue;
        }
        for (Index k = 0; k < n; ++k) {  // where a ring ends the face only takes the new points
            side(k, 0);
            if (way[t.corner_edge[first + k]] != 0)
                for (int j = 1; j <= cuts; ++j) side(k, j);
        }
        faces.close(static_cast<Index>(f));
    }
    add_loose(faces, t, [](Index) { return true; });
    Mesh old = mesh;
    for (const Domain domain : {Domain::vertex, Domain::corner}) old.attributes.remove(domain, attribute_name::normal);
    old.attributes.remove(Domain::corner, attribute_name::uv);
    const auto was = t.vertex_count;
    owner.resize(extra.size(), no_index);  // points inside crossings lie on no old edge
    result.mesh = compacted(old, std::move(faces), extra, extra_source, lone_vertices(mesh));
    // Every old vertex is still used, so new ones are those behind them.
    carry(result.mesh.attributes, old.attributes, Domain::vertex, was, origins);
    if (uvs) result.mesh.attributes.set(Domain::corner, attribute_name::uv, std::move(new_uvs));
    result.edges.resize(result.mesh.edge_count());
    for (Index e = 0; e < result.mesh.edge_count(); ++e) {
        stop_point(e);
        const auto& [a, b] = result.mesh.topology->edges[e];
        // Two points on the same old edge are not along a loop.
        result.edges[e] = a >= was && b >= was && (owner[a - was] == no_index || owner[a - was] != owner[b - was]);
    }
    return result;
}

}  // namespace bricol
