// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/smooth.h"

#include "core/ground/stop.h"
#include "core/kernels/weld.h"
#include "core/ground/parallel.h"

namespace bricol {

Mesh smoothed(const Mesh& mesh, const SmoothOptions& options, const Selection& vertices) {
    const Topology& t = *mesh.topology;
    const Adjacency& near = t.adjacency();
    Mask moves = vertices.mask(t.vertex_count);
    if (options.hold_borders) {
        const Array<std::uint8_t> border = border_vertices(mesh);
        for (std::size_t v = 0; v < moves.size(); ++v) moves[v] = moves[v] && !border[v];
    }
    Array<Vec3> points = *mesh.positions, next = points;
    const auto pass = [&](double by) {
        parallel::each(parallel::Numbers<Index>(0, t.vertex_count, 2048), [&](const auto& range) {
            stop_point();
            for (Index v = range.begin(); v != range.end(); ++v) {
                const auto edges = near.edges_of_vertex(v);
                next[v] = points[v];
                if (!moves[v] || edges.empty()) continue;
                DVec3 mean(0);
                for (const Index e : edges) mean += DVec3(points[t.edges[e][0] == v ? t.edges[e][1] : t.edges[e][0]]);
                mean /= static_cast<double>(edges.size());
                next[v] = Vec3(DVec3(points[v]) + (mean - DVec3(points[v])) * by);
            }
        });
        std::swap(points, next);
    };
    // 1/inward + 1/outward = pass band.
    const double outward = options.strength > 0 ? 1 / (0.1 - 1 / options.strength) : 0;
    for (int r = 0; r < options.rounds; ++r) {
        stop_point();
        pass(options.strength);
        if (options.keep_volume) pass(outward);
    }
    Mesh out = mesh;
    out.positions = std::make_shared<const Array<Vec3>>(std::move(points));
    for (const Domain domain : {Domain::vertex, Domain::corner}) out.attributes.remove(domain, attribute_name::normal);
    return out;
}

}  // namespace bricol
