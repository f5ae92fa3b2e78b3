// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/bridge.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/kernels/face_lists.h"
#include "core/kernels/fill_holes.h"
#include "core/kernels/remove_elements.h"

namespace bricol {

BridgeResult bridged(const Mesh& mesh, const Selection& edges, int segments, int turn) {
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

}  // namespace bricol
