// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/feather.h"

#include "core/ground/parallel.h"
#include "core/ground/stop.h"

namespace bricol {

Array<float> feathered(const Mesh& mesh, Array<float> values, int rounds, double strength) {
    const Topology& t = *mesh.topology;
    const Adjacency& near = t.adjacency();
    std::vector<double> now(values.begin(), values.end()), next(now.size());
    for (int r = 0; r < rounds; ++r) {
        stop_point();
        parallel::each(parallel::Numbers<Index>(0, t.vertex_count, 4096), [&](const auto& range) {
            stop_point();
            for (Index v = range.begin(); v != range.end(); ++v) {
                const auto edges = near.edges_of_vertex(v);
                double sum = 0;
                for (const Index e : edges) sum += now[t.edges[e][0] == v ? t.edges[e][1] : t.edges[e][0]];
                next[v] =
                    edges.empty() ? now[v] : now[v] + (sum / static_cast<double>(edges.size()) - now[v]) * strength;
            }
        });
        std::swap(now, next);
    }
    for (std::size_t i = 0; i < values.size(); ++i) values[i] = static_cast<float>(now[i]);
    return values;
}

}  // namespace bricol
