// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/weld.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <tuple>
#include <vector>

#include "core/ground/cells.h"
#include "core/ground/stop.h"
#include "core/kernels/rebuild.h"
#include "core/ground/disjoint_sets.h"

namespace bricol {

namespace {

struct Placed {
    Cell cell;
    Index vertex;
    friend bool operator<(const Placed& a, const Placed& b) {
        return std::tie(a.cell, a.vertex) < std::tie(b.cell, b.vertex);
    }
};

}  // namespace

Array<std::uint8_t> border_vertices(const Mesh& mesh) {
    Array<std::uint8_t> border(mesh.vertex_count(), 0);
    const Adjacency& near = mesh.topology->adjacency();
    for (Index e = 0; e < mesh.edge_count(); ++e)
        if (near.faces_of_edge(e).size() == 1)
            for (Index v : mesh.topology->edges[e]) border[v] = 1;
    return border;
}

namespace {

/// The vertices by the cells they lie in, ascending.
std::vector<Placed> in_cells(const Mesh& mesh, const std::vector<Index>& vertices, double cell) {
    std::vector<Placed> placed;
    placed.reserve(vertices.size());
    for (const Index v : vertices) {
        stop_point(v);
        placed.push_back({cell_of(DVec3((*mesh.positions)[v]), cell), v});
    }
    std::size_t compared = 0;
    std::sort(placed.begin(), placed.end(), [&](const Placed& a, const Placed& b) {
        stop_point(++compared);
        return a < b;
    });
    return placed;
}

/// Calls `visit` with every two of the vertices that are no farther apart than the distance, once.
template <class Visit>
void near_pairs(const Mesh& mesh, double distance, const std::vector<Index>& vertices, const Visit& visit) {
    const Array<Vec3>& points = *mesh.positions;
    const double cell = std::max(distance, 1e-9);
    const std::vector<Placed> placed = in_cells(mesh, vertices, cell);
    std::size_t compared = 0;
    for (const Placed& here : placed) {
        stop_point(++compared);
        for (std::int64_t x = -1; x <= 1; ++x)
            for (std::int64_t y = -1; y <= 1; ++y) {
                // Cells that differ only in z follow one another in the sorted list: one search for three of them.
                const Cell low{here.cell[0] + x, here.cell[1] + y, here.cell[2] - 1};
                for (auto at = std::lower_bound(placed.begin(), placed.end(), Placed{low, 0});
                     at != placed.end() && at->cell[0] == low[0] && at->cell[1] == low[1] && at->cell[2] <= low[2] + 2;
                     ++at) {
                    if (at->vertex <= here.vertex) continue;
                    const double apart = glm::distance(DVec3(points[here.vertex]), DVec3(points[at->vertex]));
                    if (apart <= distance) visit(here.vertex, at->vertex, apart);
                }
            }
    }
}

/// Vertices that chains of steps no longer than the distance join, in sets. What shares a cell as wide as the distance
/// along its diagonal is joined without a look at its pairs, and of two cells that are joined nothing more is asked:
/// a distance that takes in the whole mesh costs no more than a small one.
DisjointSets near_together(const Mesh& mesh, double distance, bool only_borders) {
    const Array<Vec3>& points = *mesh.positions;
    const Array<std::uint8_t> border = only_borders ? border_vertices(mesh) : Array<std::uint8_t>{};
    std::vector<Index> vertices;
    for (Index v = 0; v < mesh.vertex_count(); ++v)
        if (!only_borders || border[v]) vertices.push_back(v);
    DisjointSets together(mesh.vertex_count());
    if (distance < 1e-9) {  // only what is in the same place; cells cannot be that small
        near_pairs(mesh, distance, vertices, [&](Index a, Index b, double) { together.join(a, b); });
        return together;
    }
    const double cell = distance / std::sqrt(3.0) * (1 - 1e-9);
    const std::vector<Placed> placed = in_cells(mesh, vertices, cell);
    std::size_t compared = 0;
    std::vector<std::size_t> begins;  // of each cell in use, and the end
    for (std::size_t i = 0; i < placed.size(); ++i) {
        stop_point(i);
        if (i == 0 || placed[i].cell != placed[i - 1].cell)
            begins.push_back(i);
        else
            together.join(placed[i - 1].vertex, placed[i].vertex);
    }
    begins.push_back(placed.size());
    const auto cell_at = [&](std::size_t c) -> const Cell& { return placed[begins[c]].cell; };
    const std::size_t cells = begins.size() - 1;
    const auto join_near = [&](std::size_t c, std::size_t d) {
        if (together.root(placed[begins[c]].vertex) == together.root(placed[begins[d]].vertex)) return;
        for (std::size_t i = begins[c]; i < begins[c + 1]; ++i)
            for (std::size_t j = begins[d]; j < begins[d + 1]; ++j) {
                stop_point(++compared);
                const Index a = placed[i].vertex, b = placed[j].vertex;
                if (glm::distance(DVec3(points[a]), DVec3(points[b])) > distance) continue;
                together.join(a, b);
                return;
            }
    };
    // Cells within reach stand up to two apart each way; those that differ only in z follow one another in the list.
    for (std::size_t c = 0; c < cells; ++c)
        for (std::int64_t x = 0; x <= 2; ++x)
            for (std::int64_t y = x == 0 ? 0 : -2; y <= 2; ++y) {
                stop_point(++compared);
                const bool own = x == 0 && y == 0;
                const Cell low{cell_at(c)[0] + x, cell_at(c)[1] + y, own ? cell_at(c)[2] + 1 : cell_at(c)[2] - 2};
                std::size_t d = c + 1;
                if (!own) {
                    const auto at =
                        std::partition_point(begins.begin() + static_cast<std::ptrdiff_t>(c) + 1, begins.end() - 1,
                                             [&](std::size_t i) { return placed[i].cell < low; });
                    d = static_cast<std::size_t>(at - begins.begin());
                }
                for (; d < cells && cell_at(d)[0] == low[0] && cell_at(d)[1] == low[1] &&
                       cell_at(d)[2] <= cell_at(c)[2] + 2;
                     ++d)
                    join_near(c, d);
            }
    return together;
}

/// The mesh with each set of vertices as one.
WeldResult joined_together(const Mesh& mesh, DisjointSets& together) {
    WeldResult result;
    const Array<Vec3>& points = *mesh.positions;
    const auto count = static_cast<Index>(points.size());
    Array<Index> renumbered(count), source;
    std::vector<DVec3> sums;
    std::vector<int> members;
    for (Index v = 0; v < count; ++v) {
        stop_point(v);
        const Index root = together.root(v);
        if (root == v) {
            renumbered[v] = static_cast<Index>(source.size());
            source.push_back(v);
            sums.emplace_back(0);
            members.push_back(0);
        }
        renumbered[v] = renumbered[root];
        sums[renumbered[v]] += DVec3(points[v]);
        ++members[renumbered[v]];
    }
    result.welded = count - source.size();
    if (result.welded == 0) {
        result.mesh = mesh;
        return result;
    }
    Array<Vec3> moved(source.size());
    for (std::size_t i = 0; i < source.size(); ++i)
        moved[i] = members[i] == 1 ? points[source[i]] : Vec3(sums[i] / static_cast<double>(members[i]));

    const Topology& t = *mesh.topology;
    FaceList faces;
    for (std::size_t f = 0; f < t.face_count(); ++f) {
        stop_point(f);
        for (Index c = t.face_offsets[f]; c < t.face_offsets[f + 1]; ++c) {
            const Index here = renumbered[t.corner_vertex[c]], next = renumbered[t.corner_vertex[t.next_in(f, c)]];
            if (here != next) faces.corner(here, c);
        }
        result.collapsed_faces += !faces.close(static_cast<Index>(f));
    }
    const Adjacency& near = t.adjacency();
    for (Index e = 0; e < t.edge_count(); ++e)
        if (near.faces_of_edge(e).empty() && renumbered[t.edges[e][0]] != renumbered[t.edges[e][1]])
            faces.loose.push_back({renumbered[t.edges[e][0]], renumbered[t.edges[e][1]]});
    result.mesh = rebuilt(mesh, std::move(moved), source, std::move(faces));
    result.face_source = std::move(faces.face_source);
    return result;
}

}  // namespace

WeldResult weld(const Mesh& mesh, double distance, bool only_borders) {
    DisjointSets together = near_together(mesh, distance, only_borders);
    return joined_together(mesh, together);
}

WeldResult weld_between(const Mesh& mesh, double distance, std::span<const Index> piece) {
    std::vector<Index> vertices;
    std::size_t pieces = 0;
    for (Index v = 0; v < mesh.vertex_count(); ++v)
        if (piece[v] != no_index) vertices.push_back(v), pieces = std::max(pieces, std::size_t(piece[v]) + 1);
    struct Pair {
        double apart;
        Index a, b;
    };
    std::vector<Pair> pairs;
    near_pairs(mesh, distance, vertices, [&](Index a, Index b, double apart) {
        if (piece[a] != piece[b]) pairs.push_back({apart, a, b});
    });
    std::size_t compared = 0;
    std::ranges::sort(pairs, [&](const Pair& p, const Pair& q) {
        stop_point(++compared);
        return std::tie(p.apart, p.a, p.b) < std::tie(q.apart, q.a, q.b);
    });
    DisjointSets together(mesh.vertex_count());
    // The vertices of a set go round in a ring. No two are of one piece, so a ring is no longer than there are pieces.
    std::vector<Index> next(mesh.vertex_count()), seen(pieces, 0);
    std::iota(next.begin(), next.end(), Index(0));
    const auto each_of = [&](Index set, const auto& visit) {
        Index v = set;
        do visit(v), v = next[v];
        while (v != set);
    };
    Index round = 0;
    for (const Pair& pair : pairs) {
        stop_point(++compared);
        const Index a = together.root(pair.a), b = together.root(pair.b);
        if (a == b) continue;
        ++round;
        bool both = false;
        each_of(a, [&](Index v) { seen[piece[v]] = round; });
        each_of(b, [&](Index v) { both |= seen[piece[v]] == round; });
        if (both) continue;
        together.join(a, b);
        std::swap(next[a], next[b]);
    }
    return joined_together(mesh, together);
}

std::size_t edges_shorter(const Mesh& mesh, double distance) {
    const Array<Vec3>& p = *mesh.positions;
    return static_cast<std::size_t>(std::ranges::count_if(mesh.topology->edges, [&](const auto& edge) {
        return glm::distance(DVec3(p[edge[0]]), DVec3(p[edge[1]])) < distance;
    }));
}

}  // namespace bricol
