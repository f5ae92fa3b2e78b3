// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/slice.h"

#include <algorithm>
#include <cmath>

#include "core/kernels/fill_holes.h"
#include "core/kernels/mirror.h"
#include "core/kernels/rebuild.h"
#include "core/kernels/triangulate.h"
#include "core/kernels/weld.h"

namespace bricol {

namespace {

/// Edges with one face whose ends both lie on the plane.
Mask sliced_edges(const Mesh& mesh, const DVec3& normal, double at, double tolerance) {
    const Adjacency& near = mesh.topology->adjacency();
    Mask mask(mesh.edge_count(), 0);
    const auto on = [&](Index v) { return std::abs(glm::dot(DVec3((*mesh.positions)[v]), normal) - at) <= tolerance; };
    for (Index e = 0; e < mask.size(); ++e)
        mask[e] = near.faces_of_edge(e).size() == 1 && on(mesh.topology->edges[e][0]) && on(mesh.topology->edges[e][1]);
    return mask;
}

/// Closes the loops of the cut: one polygon each, or triangles between them where one lies inside another.
Mesh capped(const Mesh& mesh, const Mask& cut, const DVec3& facing) {
    std::vector<BorderLoop> loops = border_loops(mesh, cut);
    std::erase_if(loops, [](const BorderLoop& loop) { return !loop.closed || loop.vertices.size() < 3; });
    if (loops.empty()) return mesh;
    const DVec3 helper = std::abs(facing.z) < 0.9 ? DVec3(0, 0, 1) : DVec3(1, 0, 0);
    const DVec3 across = glm::normalize(glm::cross(helper, facing)), over = glm::cross(facing, across);
    std::vector<std::vector<DVec2>> flat;
    std::vector<Index> vertices;
    bool apart = true;
    std::vector<std::array<DVec2, 2>> boxes;
    for (const BorderLoop& loop : loops) {
        auto& places = flat.emplace_back();
        std::array<DVec2, 2> box = {DVec2(1e300), DVec2(-1e300)};
        for (const Index v : loop.vertices) {
            const DVec3 p((*mesh.positions)[v]);
            places.emplace_back(glm::dot(p, across), glm::dot(p, over));
            box = {glm::min(box[0], places.back()), glm::max(box[1], places.back())};
            vertices.push_back(v);
        }
        for (const auto& other : boxes)
            apart &= glm::any(glm::greaterThan(box[0], other[1])) || glm::any(glm::greaterThan(other[0], box[1]));
        boxes.push_back(box);
    }
    FaceList faces = faces_of(mesh);
    const auto triangles = apart ? std::vector<std::array<int, 3>>{} : triangulate_loops(flat);
    if (triangles.empty())
        for (const BorderLoop& loop : loops) faces.add(loop.vertices);
    for (const auto& [a, b, c] : triangles)
        faces.add(std::array<Index, 3>{vertices[static_cast<std::size_t>(a)], vertices[static_cast<std::size_t>(b)],
                                       vertices[static_cast<std::size_t>(c)]});
    return rebuilt(mesh, *mesh.positions, {}, std::move(faces));
}

}  // namespace

SliceResult sliced(const Mesh& mesh, const SliceOptions& options) {
    SliceResult result;
    const double length = glm::length(options.normal);
    const DVec3 normal = length > 0 ? options.normal / length : DVec3(0, 0, 1);
    const double at = glm::dot(normal, options.point);
    double low = 1e300, high = -1e300, size = 0;
    for (const Vec3& p : *mesh.positions) {
        const double h = glm::dot(DVec3(p), normal) - at;
        low = std::min(low, h);
        high = std::max(high, h);
        size = std::max(size, glm::length(DVec3(p)));
    }
    result.missed = low >= 0 || high <= 0;
    const double tolerance = 1e-6 * std::max(size, high - low);
    const auto half = [&](bool above) {
        Mesh part = clipped_by_plane(mesh, above ? normal : -normal, above ? at : -at);
        const std::size_t before = part.face_count();
        if (options.cap && options.keep != SliceKeep::edges_only && before > 0 && !result.missed)
            part = capped(part, sliced_edges(part, normal, at, tolerance), above ? -normal : normal);
        result.caps.resize(result.caps.size() + before, 0);
        result.caps.resize(result.caps.size() + part.face_count() - before, 1);
        return part;
    };
    if (options.keep == SliceKeep::above || options.keep == SliceKeep::below) {
        result.mesh = half(options.keep == SliceKeep::above);
        return result;
    }
    const Mesh above = half(true), below = half(false);
    result.mesh = appended(above, below);
    if (options.keep == SliceKeep::edges_only) result.mesh = weld(result.mesh, tolerance, true).mesh;
    return result;
}

}  // namespace bricol
