// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/quads.h"

#include <algorithm>
#include <cmath>

#include "core/ground/progress.h"
#include "core/ground/stop.h"
#include "core/kernels/quad_relax.h"
#include "core/kernels/remesh.h"
#include "core/kernels/surface_finder.h"

namespace bricol {

namespace {

constexpr int relax_rounds = 14;

double distance_to(const DVec3& p, const DVec3& a, const DVec3& b) {
    const DVec3 way = b - a;
    const double length2 = glm::dot(way, way);
    const double share = length2 > 0 ? std::clamp(glm::dot(p - a, way) / length2, 0.0, 1.0) : 0;
    return glm::distance(p, a + share * way);
}

/// The largest distance of a point of a held line from the edges that stand for it.
void measure_edges(const EvenTriangles& t, const QuadLines& lines, QuadResult& result) {
    std::vector<std::vector<Index>> on(lines.lines.size());
    for (Index v = 0; v < t.point.size(); ++v)
        if (t.leaving[v] != no_index && lines.place[v].line != no_index) on[lines.place[v].line].push_back(v);
    for (std::size_t l = 0; l < on.size(); ++l) {
        const QuadLine& line = lines.lines[l];
        std::vector<DVec3> kept;
        if (!line.ring) kept.push_back(line.point.front());
        std::ranges::sort(on[l], {}, [&](Index v) { return lines.place[v].along; });
        for (const Index v : on[l]) kept.push_back(t.point[v]);
        kept.push_back(line.ring && !kept.empty() ? kept.front() : line.point.back());
        for (const DVec3& p : line.point) {
            stop_point();
            double nearest = 1e300;
            for (std::size_t i = 0; i + 1 < kept.size(); ++i)
                nearest = std::min(nearest, distance_to(p, kept[i], kept[i + 1]));
            if (nearest < 1e300 && nearest > result.worst_edge) result.worst_edge = nearest, result.worst_at = p;
        }
    }
}

}  // namespace

QuadResult quad_remeshed(const Mesh& mesh, const QuadOptions& options) {
    QuadResult result;
    std::vector<Index> point_of;
    RemeshTriangles soup = remesh_soup(mesh, triangulated(mesh), point_of);
    const SurfaceFinder surface(mesh);
    RemeshOptions even;
    result.cell = std::sqrt(remesh_extent(mesh).area / std::max(options.faces, 1.0));
    even.edge = result.cell / quad_fineness;
    even.rounds = 2;
    even.hold_angle = options.hold_angle;
    even.held_edges = remesh_held_edges(*mesh.topology, options.held_edges, point_of);
    even.share_behind = 0.4;
    EvenTriangles work;
    if (!remesh_evenly(work, soup, even, surface)) {
        result.refused = true;
        result.mesh = mesh;
        return result;
    }
    progress_of_work(0.4);
    even.share_before = 0.4, even.share_behind = 0.5;
    std::vector<double> cell = remesh_sizes(work, options.sizes, result.cell, surface);
    if (options.sizes.by != RemeshSizes::By::even) {
        for (const double size : cell) even.lengths.push_back(size / quad_fineness);
        remesh_further(work, even, surface);
        cell = remesh_sizes(work, options.sizes, result.cell, surface);
    }
    const QuadMaps maps = quad_maps(work);
    const std::vector<double> turn = quad_directions(work, maps, quad_curving(work, maps), result.cell);
    progress_of_work(0.5);
    QuadLattice lattice = quad_lattice(work, maps, turn, cell);
    QuadLines lines = quad_lines(work);
    progress_of_work(0.6);
    join_by_lattice(work, maps, turn, cell, lattice, lines);
    const QuadFaces faces = quad_faces(work, quad_pairs(work, lattice.step));
    progress_of_work(0.75);
    relax_quads(work, faces, lines, surface, result.cell, relax_rounds);
    result.crossing = part_crossing_quads(work, faces);
    measure_edges(work, lines, result);
    for (const auto& face : faces.faces) ++(face[3] == no_index ? result.triangles : result.quads);
    result.mesh = with_attributes_from(quad_mesh(work, faces), surface);
    return result;
}

}  // namespace bricol
