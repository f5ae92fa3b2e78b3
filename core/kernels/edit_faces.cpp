// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/edit_faces.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>

#include "core/kernels/normals.h"
#include "core/kernels/rebuild.h"
#include "core/kernels/triangulate.h"

namespace bricol {

namespace {

/// Rebuilds with only the vertices that something uses. `extra` are points behind the old ones, each with a source
/// vertex.
Mesh compacted(const Mesh& old, FaceList faces, const Array<Vec3>& extra = {}, const Array<Index>& extra_source = {},
               const Mask& loose_vertices = {}) {
    const std::size_t count = old.vertex_count();
    Mask used(count + extra.size(), 0);
    for (Index v : faces.corners) used[v] = 1;
    for (const auto& edge : faces.loose) used[edge[0]] = used[edge[1]] = 1;
    for (std::size_t v = 0; v < loose_vertices.size(); ++v) used[v] |= loose_vertices[v];
    Array<Index> renumbered(used.size(), no_index), source;
    Array<Vec3> points;
    for (std::size_t v = 0; v < used.size(); ++v) {
        if (!used[v]) continue;
        renumbered[v] = static_cast<Index>(points.size());
        points.push_back(v < count ? (*old.positions)[v] : extra[v - count]);
        source.push_back(v < count ? static_cast<Index>(v) : extra_source[v - count]);
    }
    for (Index& v : faces.corners) v = renumbered[v];
    for (auto& edge : faces.loose) edge = {renumbered[edge[0]], renumbered[edge[1]]};
    return rebuilt(old, std::move(points), source, faces);
}

Mask lone_vertices(const Mesh& mesh) {
    Mask lone(mesh.vertex_count());
    const Adjacency& near = mesh.topology->adjacency();
    for (Index v = 0; v < lone.size(); ++v) lone[v] = near.edges_of_vertex(v).empty();
    return lone;
}

void add_face(FaceList& faces, const Topology& t, std::size_t f) {
    for (Index c = t.face_offsets[f]; c < t.face_offsets[f + 1]; ++c) faces.corner(t.corner_vertex[c], c);
    faces.close(static_cast<Index>(f));
}

void add_loose(FaceList& faces, const Topology& t, const auto& keep) {
    const Adjacency& near = t.adjacency();
    if (!t.has_loose_edges()) return;
    for (Index e = 0; e < t.edge_count(); ++e)
        if (near.faces_of_edge(e).empty() && keep(e)) faces.loose.push_back(t.edges[e]);
}

}  // namespace

Mesh without_faces(const Mesh& mesh, const Mask& chosen) {
    const Topology& t = *mesh.topology;
    FaceList faces;
    for (std::size_t f = 0; f < t.face_count(); ++f)
        if (!chosen[f]) add_face(faces, t, f);
    add_loose(faces, t, [](Index) { return true; });
    return compacted(mesh, std::move(faces), {}, {}, lone_vertices(mesh));
}

Mesh without_edges(const Mesh& mesh, const Mask& edges) {
    const Topology& t = *mesh.topology;
    FaceList faces;
    for (std::size_t f = 0; f < t.face_count(); ++f) {
        bool touched = false;
        for (Index c = t.face_offsets[f]; c < t.face_offsets[f + 1]; ++c) touched |= edges[t.corner_edge[c]] != 0;
        if (!touched) add_face(faces, t, f);
    }
    add_loose(faces, t, [&](Index e) { return !edges[e]; });
    return compacted(mesh, std::move(faces), {}, {}, lone_vertices(mesh));
}

Mesh without_vertices(const Mesh& mesh, const Mask& vertices) {
    const Topology& t = *mesh.topology;
    FaceList faces;
    for (std::size_t f = 0; f < t.face_count(); ++f)
        if (std::ranges::none_of(t.face(f), [&](Index v) { return vertices[v] != 0; })) add_face(faces, t, f);
    add_loose(faces, t, [&](Index e) { return !vertices[t.edges[e][0]] && !vertices[t.edges[e][1]]; });
    Mask lone = lone_vertices(mesh);
    for (std::size_t v = 0; v < lone.size(); ++v) lone[v] = lone[v] && !vertices[v];
    return compacted(mesh, std::move(faces), {}, {}, lone);
}

Mesh split_off(const Mesh& mesh, const Mask& chosen) {
    const Topology& t = *mesh.topology;
    Mask outside(t.vertex_count, 0);
    for (std::size_t f = 0; f < t.face_count(); ++f)
        if (!chosen[f])
            for (Index v : t.face(f)) outside[v] = 1;
    Array<Vec3> extra;
    Array<Index> extra_source, own(t.vertex_count, no_index);
    FaceList faces;
    for (std::size_t f = 0; f < t.face_count(); ++f) {
        if (!chosen[f]) {
            add_face(faces, t, f);
            continue;
        }
        for (Index c = t.face_offsets[f]; c < t.face_offsets[f + 1]; ++c) {
            const Index v = t.corner_vertex[c];
            if (outside[v] && own[v] == no_index) {
                own[v] = static_cast<Index>(t.vertex_count + extra.size());
                extra.push_back((*mesh.positions)[v]);
                extra_source.push_back(v);
            }
            faces.corner(outside[v] ? own[v] : v, c);
        }
        faces.close(static_cast<Index>(f));
    }
    add_loose(faces, t, [](Index) { return true; });
    return compacted(mesh, std::move(faces), extra, extra_source, lone_vertices(mesh));
}

Mesh merged_faces(const Mesh& mesh, std::span<const Index> group, const Mask& may_drop) {
    const Topology& t = *mesh.topology;
    const Adjacency& near = t.adjacency();
    const Array<Vec3>& p = *mesh.positions;
    // Pieces: faces of a group that hang together.
    Array<Index> piece(t.face_count(), no_index);
    std::vector<std::vector<Index>> pieces;
    std::vector<Index> stack;
    for (Index seed = 0; seed < t.face_count(); ++seed) {
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

Mesh dissolved_flat(const Mesh& mesh, double degrees, const Mask& chosen) {
    const Topology& t = *mesh.topology;
    const Array<Vec3> flat = face_normals(mesh);
    const Adjacency& near = t.adjacency();
    const auto* material = mesh.attributes.values<std::int32_t>(Domain::face, attribute_name::material);
    const double cosine = std::cos(glm::radians(degrees));
    // Grown from a seed, every face is compared with the seed too: a gentle curve does not become one polygon.
    Array<Index> group(t.face_count(), no_index);
    std::vector<Index> stack;
    for (Index seed = 0; seed < t.face_count(); ++seed) {
        if (group[seed] != no_index || (!chosen.empty() && !chosen[seed]) || flat[seed] == Vec3(0)) continue;
        group[seed] = seed;
        stack.assign(1, seed);
        while (!stack.empty()) {
            const Index f = stack.back();
            stack.pop_back();
            for (Index c = t.face_offsets[f]; c < t.face_offsets[f + 1]; ++c) {
                const auto beside = near.faces_of_edge(t.corner_edge[c]);
                if (beside.size() != 2) continue;
                for (const Index g : beside) {
                    if (group[g] != no_index || (!chosen.empty() && !chosen[g]) ||
                        (material && (*material)[g] != (*material)[seed]))
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

Mesh with_triangles(const Mesh& mesh, const Mask& chosen) {
    const Topology& t = *mesh.topology;
    const Triangles all = triangulated(mesh);
    FaceList faces;
    std::size_t k = 0;
    for (std::size_t f = 0; f < t.face_count(); ++f) {
        const bool split = chosen.empty() || chosen[f];
        if (!split) add_face(faces, t, f);
        for (; k < all.count() && all.face[k] == f; ++k) {
            if (!split) continue;
            for (int i = 0; i < 3; ++i) faces.corner(t.corner_vertex[all.corners[3 * k + i]], all.corners[3 * k + i]);
            faces.close(static_cast<Index>(f));
        }
    }
    add_loose(faces, t, [](Index) { return true; });
    return compacted(mesh, std::move(faces), {}, {}, lone_vertices(mesh));
}

std::vector<BorderLoop> border_loops(const Mesh& mesh, const Mask& edges) {
    const Topology& t = *mesh.topology;
    const Adjacency& near = t.adjacency();
    std::multimap<Index, Index> next;  // against the neighbour's direction
    std::map<Index, int> arriving;
    for (std::size_t f = 0; f < t.face_count(); ++f)
        for (Index c = t.face_offsets[f], end = t.face_offsets[f + 1]; c < end; ++c) {
            const Index e = t.corner_edge[c];
            if (near.faces_of_edge(e).size() != 1 || (!edges.empty() && !edges[e])) continue;
            const Index from = t.corner_vertex[c + 1 == end ? t.face_offsets[f] : c + 1];
            next.emplace(from, t.corner_vertex[c]);
            ++arriving[t.corner_vertex[c]];
        }
    std::vector<BorderLoop> loops;
    const auto follow = [&](Index start) {
        BorderLoop loop;
        loop.closed = false;
        Index at = start;
        for (auto step = next.find(at); step != next.end(); step = next.find(at)) {
            loop.vertices.push_back(at);
            at = step->second;
            next.erase(step);
            if (at == start) {
                loop.closed = true;
                break;
            }
        }
        if (!loop.closed) loop.vertices.push_back(at);
        loops.push_back(std::move(loop));
    };
    std::vector<Index> starts;
    for (const auto& [from, to] : next)
        if (!arriving.contains(from)) starts.push_back(from);
    for (const Index start : starts)
        if (next.contains(start)) follow(start);
    while (!next.empty()) follow(next.begin()->first);
    return loops;
}

Mesh with_holes_filled(const Mesh& mesh, HoleFill fill, int most_sides, const Mask& edges, std::size_t* made) {
    FaceList faces = faces_of(mesh);
    Array<Vec3> extra;
    Array<Index> extra_source;
    std::size_t count = 0;
    for (const BorderLoop& loop : border_loops(mesh, edges)) {
        const std::size_t n = loop.vertices.size();
        if (!loop.closed || n < 3 || (most_sides > 0 && n > static_cast<std::size_t>(most_sides))) continue;
        ++count;
        if (fill == HoleFill::face) {
            faces.add(loop.vertices);
        } else if (fill == HoleFill::fan) {
            DVec3 middle(0);
            for (const Index v : loop.vertices) middle += DVec3((*mesh.positions)[v]) / static_cast<double>(n);
            const auto centre = static_cast<Index>(mesh.vertex_count() + extra.size());
            extra.push_back(Vec3(middle));
            extra_source.push_back(loop.vertices[0]);
            for (std::size_t i = 0; i < n; ++i)
                faces.add(std::array<Index, 3>{loop.vertices[i], loop.vertices[(i + 1) % n], centre});
        } else {
            Array<Vec3> points;
            Array<Index> corners;
            for (const Index v : loop.vertices) {
                corners.push_back(static_cast<Index>(points.size()));
                points.push_back((*mesh.positions)[v]);
            }
            const Mesh one(std::move(points),
                           make_topology(static_cast<Index>(n), {0, static_cast<Index>(n)}, std::move(corners)));
            const Triangles all = triangulated(one);
            for (std::size_t k = 0; k < all.count(); ++k)
                faces.add(std::array<Index, 3>{loop.vertices[all.corners[3 * k]], loop.vertices[all.corners[3 * k + 1]],
                                               loop.vertices[all.corners[3 * k + 2]]});
        }
    }
    if (made) *made = count;
    if (count == 0) return mesh;
    return compacted(mesh, std::move(faces), extra, extra_source, lone_vertices(mesh));
}

BridgeResult bridged(const Mesh& mesh, const Mask& edges, int segments, int turn) {
    BridgeResult result;
    std::vector<BorderLoop> loops = border_loops(mesh, edges);
    if (loops.size() != 2 || loops[0].closed != loops[1].closed) {
        result.mesh = mesh;
        result.made.assign(mesh.face_count(), 0);
        result.refused = loops.size() == 2  ? "one border is closed and the other is not"
                         : loops.size() < 2 ? "there are fewer than two open borders"
                                            : "there are more than two open borders";
        return result;
    }
    const Array<Vec3>& p = *mesh.positions;
    const std::vector<Index>& a = loops[0].vertices;
    std::vector<Index> b(loops[1].vertices.rbegin(), loops[1].vertices.rend());  // the other border runs the other way
    const bool closed = loops[0].closed;
    if (closed) {
        // Start where the borders match best: least sum of squared distances over all turns.
        std::size_t best = 0;
        double least = 1e300;
        for (std::size_t shift = 0; shift < b.size(); ++shift) {
            double sum = 0;
            for (std::size_t i = 0; i < a.size(); ++i) {
                const DVec3 d = DVec3(p[a[i]]) - DVec3(p[b[(shift + i * b.size() / a.size()) % b.size()]]);
                sum += glm::dot(d, d);
            }
            if (sum < least * (1 - 1e-9)) least = sum, best = shift;
        }
        const auto size = static_cast<std::ptrdiff_t>(b.size());
        const std::ptrdiff_t shift = ((static_cast<std::ptrdiff_t>(best) + turn) % size + size) % size;
        std::rotate(b.begin(), b.begin() + shift, b.end());
    }
    FaceList faces = faces_of(mesh);
    Array<Vec3> extra;
    Array<Index> extra_source;
    const int rows = a.size() == b.size() ? std::max(1, segments) : 1;
    std::vector<Index> below = a;
    for (int r = 1; r <= rows; ++r) {
        std::vector<Index> above;
        if (r == rows) {
            above = b;
        } else {
            for (std::size_t i = 0; i < a.size(); ++i) {
                above.push_back(static_cast<Index>(mesh.vertex_count() + extra.size()));
                extra.push_back(p[a[i]] + (p[b[i]] - p[a[i]]) * (static_cast<float>(r) / static_cast<float>(rows)));
                extra_source.push_back(a[i]);
            }
        }
        const std::size_t n = below.size() - (closed ? 0 : 1), m = above.size() - (closed ? 0 : 1);
        // Both borders are walked together; the one that lags behind takes the next step, both when they are level.
        for (std::size_t i = 0, j = 0; i < n || j < m;) {
            const Index a0 = below[i % below.size()], a1 = below[(i + 1) % below.size()], b0 = above[j % above.size()],
                        b1 = above[(j + 1) % above.size()];
            const std::size_t lead_a = (i + 1) * m, lead_b = (j + 1) * n;
            if (i < n && j < m && lead_a == lead_b) {
                faces.add(std::array<Index, 4>{a0, a1, b1, b0});
                ++i, ++j;
            } else if (j >= m || (i < n && lead_a < lead_b)) {
                faces.add(std::array<Index, 3>{a0, a1, b0});
                ++i;
            } else {
                faces.add(std::array<Index, 3>{a0, b1, b0});
                ++j;
            }
        }
        below = above;
    }
    result.made.assign(mesh.face_count(), 0);
    result.made.resize(faces.face_source.size(), 1);
    result.mesh = compacted(mesh, std::move(faces), extra, extra_source, lone_vertices(mesh));
    return result;
}

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
    const auto share_of = [&](int k) {
        const double even = (k + 1.0) / (cuts + 1);
        return static_cast<float>(slide >= 0 ? even + (1 - even) * slide : even * (1 + slide));
    };
    for (Index e = 0; e < t.edge_count(); ++e) {
        if (way[e] == 0) continue;
        first_cut[e] = static_cast<Index>(t.vertex_count + extra.size());
        const Index a = t.edges[e][way[e] == 1 ? 0 : 1], b = t.edges[e][way[e] == 1 ? 1 : 0];
        for (int k = 0; k < cuts; ++k) {
            extra.push_back(p[a] + (p[b] - p[a]) * share_of(k));
            extra_source.push_back(share_of(k) < 0.5f ? a : b);
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
                    extra_source.push_back(t.corner_vertex[first]);
                }
            for (std::size_t j = 0; j < static_cast<std::size_t>(last); ++j)
                for (std::size_t i = 0; i < static_cast<std::size_t>(last); ++i) {
                    for (const auto& [dj, di] : {std::pair{0, 0}, {1, 0}, {1, 1}, {0, 1}}) {
                        faces.corner(grid[j + static_cast<std::size_t>(dj)][i + static_cast<std::size_t>(di)],
                                     no_index);
                        if (uvs) {
                            const float x = static_cast<float>(j + static_cast<std::size_t>(dj)) /
                                            static_cast<float>(last),
                                        y = static_cast<float>(i + static_cast<std::size_t>(di)) /
                                            static_cast<float>(last);
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
    if (uvs) result.mesh.attributes.set(Domain::corner, attribute_name::uv, std::move(new_uvs));
    // Every old vertex is still used, so new ones are those behind them.
    result.edges.resize(result.mesh.edge_count());
    for (Index e = 0; e < result.mesh.edge_count(); ++e) {
        const auto& [a, b] = result.mesh.topology->edges[e];
        // Two points on the same old edge are not along a loop.
        result.edges[e] = a >= was && b >= was && (owner[a - was] == no_index || owner[a - was] != owner[b - was]);
    }
    return result;
}

}  // namespace bricol
