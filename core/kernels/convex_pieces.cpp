// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <map>
#include <set>

#include "core/ground/stop.h"
#include "core/kernels/hull.h"
#include "core/kernels/measure.h"
#include "core/kernels/pieces.h"
#include "core/kernels/simplify.h"
#include "core/kernels/triangulate.h"

namespace bricol {

namespace {

/// Triangles of a mesh by its vertices, without those that have no area.
std::vector<Index> vertex_triangles(const Mesh& mesh) {
    const Triangles cut = triangulated(mesh);
    std::vector<Index> out;
    for (std::size_t i = 0; i < cut.count(); ++i) {
        std::array<Index, 3> v{};
        for (std::size_t k = 0; k < 3; ++k) v[k] = mesh.topology->corner_vertex[cut.corners[3 * i + k]];
        const Vec3 &a = (*mesh.positions)[v[0]], &b = (*mesh.positions)[v[1]], &c = (*mesh.positions)[v[2]];
        if (glm::length(glm::cross(b - a, c - a)) > 0) out.insert(out.end(), v.begin(), v.end());
    }
    return out;
}

}  // namespace

std::vector<Mesh> convex_pieces(const Mesh& mesh, std::size_t most, std::size_t most_triangles) {
    std::vector<MeshPiece> pieces = pieces_of(mesh);
    std::ranges::stable_sort(pieces, std::greater(), &MeshPiece::size);
    // Each loose piece gets one hull; what is left of `most` goes to the largest ones, which are parted further.
    if (pieces.size() > most) pieces.resize(most);
    double all = 0;
    for (const MeshPiece& piece : pieces) all += piece.size();
    std::size_t spare = most - pieces.size();
    std::vector<std::pair<double, Mesh>> hulls;
    for (const MeshPiece& piece : pieces) {
        stop_point();
        Mesh one = only_faces(mesh, piece.faces);
        const auto share = static_cast<std::size_t>(all > 0 ? static_cast<double>(most) * piece.size() / all
                                                            : static_cast<double>(most));
        const std::size_t here = 1 + std::min(spare, std::max<std::size_t>(share, 1) - 1);
        if (here > 1 && triangulated(one).count() > most_triangles)
            one = simplified(one, {.triangles = most_triangles, .error = 1});
        const std::vector<Index> corners = vertex_triangles(one);
        std::vector<Index> groups(corners.size() / 3, 0);
        if (here > 1) groups = convex_groups(*one.positions, corners, here);
        std::map<Index, std::set<Index>> members;
        for (std::size_t i = 0; i < corners.size(); ++i) members[groups[i / 3]].insert(corners[i]);
        spare -= std::min(spare, members.size() - std::min<std::size_t>(members.size(), 1));
        for (const auto& [group, vertices] : members) {
            Array<Vec3> points;
            for (const Index v : vertices) points.push_back((*one.positions)[v]);
            Mesh hull = convex_hull(points);
            if (hull.face_count() > 0) {
                const double volume = signed_volume(hull);
                hulls.emplace_back(volume, std::move(hull));
            }
        }
    }
    std::ranges::stable_sort(hulls, std::greater(), [](const auto& one) { return one.first; });
    std::vector<Mesh> out;
    for (auto& [volume, hull] : hulls) out.push_back(std::move(hull));
    return out;
}

}  // namespace bricol
