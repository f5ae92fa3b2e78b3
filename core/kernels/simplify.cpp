// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/simplify.h"

#include <algorithm>
#include <meshoptimizer.h>

#include "core/ground/stop.h"
#include "core/kernels/surface_finder.h"
#include "core/kernels/triangulate.h"

namespace bricol {

namespace {

/// Surfaces of which some edges have more than two faces, which have no inside to keep closed.
std::vector<unsigned> simplify_any(const Array<Vec3>& points, const std::vector<unsigned>& corners, std::size_t wanted,
                                   const SimplifyOptions& options, bool beside_held) {
    std::vector<unsigned> fewer(corners.size());
    const unsigned how = options.hold_borders || beside_held ? meshopt_SimplifyLockBorder : 0;
    fewer.resize(meshopt_simplify(fewer.data(), corners.data(), corners.size(), &points[0].x, points.size(),
                                  sizeof(Vec3), wanted * 3, static_cast<float>(options.error), how, nullptr));
    return fewer;
}

}  // namespace

Mesh simplified(const Mesh& mesh, const SimplifyOptions& options, const Selection& held) {
    const Triangles cut = triangulated(mesh);
    const Topology& t = *mesh.topology;
    std::vector<unsigned> loose, kept;
    for (std::size_t i = 0; i < cut.count(); ++i) {
        stop_point(i);
        auto& list = held[cut.face[i]] ? kept : loose;
        for (int k = 0; k < 3; ++k) list.push_back(t.corner_vertex[cut.corners[3 * i + static_cast<std::size_t>(k)]]);
    }
    const std::size_t wanted = options.triangles > kept.size() / 3 ? options.triangles - kept.size() / 3 : 0;
    std::vector<unsigned> fewer = loose;
    if (!loose.empty() && wanted * 3 < loose.size()) {
        // Where held faces begin the others have a border: it must stay, or a gap would open.
        std::vector<std::uint8_t> stays(t.vertex_count, 0);
        for (const unsigned v : kept) stays[v] = 1;
        if (!simplify_closed(*mesh.positions, fewer, wanted, options, stays))
            fewer = simplify_any(*mesh.positions, loose, wanted, options, !kept.empty());
    }
    fewer.insert(fewer.end(), kept.begin(), kept.end());
    // Vertices in the order they had.
    std::vector<Index> number(t.vertex_count, no_index);
    for (const unsigned v : fewer) number[v] = 0;
    Array<Index> source;
    for (Index v = 0; v < t.vertex_count; ++v)
        if (number[v] == 0) {
            number[v] = static_cast<Index>(source.size());
            source.push_back(v);
        }
    Array<Vec3> points(source.size());
    for (std::size_t i = 0; i < points.size(); ++i) points[i] = (*mesh.positions)[source[i]];
    Array<Index> offsets{0}, corners;
    for (std::size_t i = 0; i + 2 < fewer.size(); i += 3) {
        stop_point(i / 3);
        const Index a = number[fewer[i]], b = number[fewer[i + 1]], c = number[fewer[i + 2]];
        if (a == b || b == c || c == a) continue;
        corners.insert(corners.end(), {a, b, c});
        offsets.push_back(static_cast<Index>(corners.size()));
    }
    Mesh out(std::move(points),
             make_topology(static_cast<Index>(source.size()), std::move(offsets), std::move(corners)));
    Mesh bare = mesh;  // points keep their own values; only faces ask what was nearest
    bare.attributes.remove_all(Domain::vertex);
    Mesh faces = with_attributes_from(out, bare);
    mesh.attributes.gather_into(faces.attributes, Domain::vertex, source);
    faces.attributes.remove(Domain::vertex, attribute_name::normal);
    return faces;
}

}  // namespace bricol
