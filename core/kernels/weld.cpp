// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/weld.h"

#include <algorithm>
#include <cmath>
#include <numeric>

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

/// Vertices no farther apart than the distance, in sets.
DisjointSets near_together(const Mesh& mesh, double distance, bool only_borders) {
    const Array<Vec3>& points = *mesh.positions;
    const auto count = static_cast<Index>(points.size());
    const double cell = std::max(distance, 1e-9);
    std::vector<Placed> placed;
    const Array<std::uint8_t> border = only_borders ? border_vertices(mesh) : Array<std::uint8_t>{};
    for (Index v = 0; v < count; ++v) {
        stop_point(v);
        if (only_borders && !border[v]) continue;
        placed.push_back({cell_of(DVec3(points[v]), cell), v});
    }
    std::size_t compared = 0;
    std::sort(placed.begin(), placed.end(), [&](const Placed& a, const Placed& b) {
        stop_point(++compared);
        return a < b;
    });
    DisjointSets together(count);
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
                    if (glm::distance(DVec3(points[here.vertex]), DVec3(points[at->vertex])) > distance) continue;
                    together.join(here.vertex, at->vertex);
                }
            }
    }
    return together;
}

}  // namespace

WeldResult weld(const Mesh& mesh, double distance, bool only_borders) {
    WeldResult result;
    const Array<Vec3>& points = *mesh.positions;
    const auto count = static_cast<Index>(points.size());
    DisjointSets together = near_together(mesh, distance, only_borders);
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
    result.mesh = rebuilt(mesh, std::move(moved), source, faces);
    return result;
}

}  // namespace bricol
