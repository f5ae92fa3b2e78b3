// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/triangulate.h"
#include "core/ground/stop.h"
#include "core/kernels/face_lists.h"
#include "core/ground/parallel.h"

#include <algorithm>
#include <cmath>

namespace bricol {

namespace {

DVec3 polygon_normal(const Array<Vec3>& p, std::span<const Index> face) {
    DVec3 sum(0);
    const DVec3 origin(p[face[0]]);
    for (std::size_t i = 1; i + 1 < face.size(); ++i)
        sum += glm::cross(DVec3(p[face[i]]) - origin, DVec3(p[face[i + 1]]) - origin);
    return sum;
}

/// Turns left at every corner, by more than a hair: a fan over corners in one line would make slivers.
bool convex(const Array<Vec3>& p, std::span<const Index> face, const DVec3& normal) {
    const std::size_t n = face.size();
    const double length = glm::length(normal);
    for (std::size_t i = 0; i < n; ++i) {
        const DVec3 a(p[face[i]]), b(p[face[(i + 1) % n]]), c(p[face[(i + 2) % n]]);
        if (glm::dot(glm::cross(b - a, c - b), normal) < 1e-5 * length * glm::distance(a, b) * glm::distance(b, c))
            return false;
    }
    return true;
}

}  // namespace

Triangles triangulated(const Mesh& mesh, std::size_t begin, std::size_t end) {
    const Topology& t = *mesh.topology;
    const Array<Vec3>& p = *mesh.positions;
    Triangles out;
    const std::size_t most = t.face_offsets[end] - t.face_offsets[begin] - 2 * (end - begin);
    out.face.resize(most);
    out.corners.resize(3 * most);
    std::size_t made = 0;
    const auto add = [&](Index a, Index b, Index c, std::size_t f) {
        if (made == out.face.size())
            out.face.resize(made + 64), out.corners.resize(3 * made + 192);  // never met; a triangulation has n - 2
        out.face[made] = static_cast<Index>(f);
        Index* corner = out.corners.data() + 3 * made++;
        corner[0] = a, corner[1] = b, corner[2] = c;
    };
    for (std::size_t f = begin; f < end; ++f) {
        stop_point(f);
        const auto face = t.face(f);
        const Index first = t.face_offsets[f];
        if (face.size() == 3) {
            add(first, first + 1, first + 2, f);
            continue;
        }
        if (face.size() == 4) {
            // Of the two diagonals take 0-2 unless it folds the quad, which happens at a reflex corner 1 or 3, or
            // leaves a sliver at a straight one.
            const Vec3 a = p[face[0]], b = p[face[1]], c = p[face[2]], d = p[face[3]];
            const Vec3 first_half = glm::cross(b - a, c - a), second_half = glm::cross(c - a, d - a);
            const float all = glm::dot(first_half + second_half, first_half + second_half);
            if (glm::dot(first_half, second_half) >= 0 &&
                std::min(glm::dot(first_half, first_half), glm::dot(second_half, second_half)) >= 1e-10f * all) {
                add(first, first + 1, first + 2, f);
                add(first, first + 2, first + 3, f);
            } else {
                add(first + 1, first + 2, first + 3, f);
                add(first + 1, first + 3, first, f);
            }
            continue;
        }
        const DVec3 normal = polygon_normal(p, face);
        std::vector<std::array<int, 3>> pieces;
        if (!convex(p, face, normal) && glm::length(normal) > 0) {
            // Seen along its largest normal component the polygon keeps its order and loses no area sign.
            const DVec3 size = glm::abs(normal);
            const int drop = size.x >= size.y && size.x >= size.z ? 0 : size.y >= size.z ? 1 : 2;
            const int a = (drop + 1) % 3, b = (drop + 2) % 3;
            std::vector<DVec2> loop;
            for (Index v : face) loop.emplace_back(p[v][a], normal[drop] > 0 ? p[v][b] : -p[v][b]);
            pieces = triangulate_polygon(loop);
        }
        if (pieces.empty())
            for (int i = 1; i + 1 < static_cast<int>(face.size()); ++i) pieces.push_back({0, i, i + 1});
        for (const auto& piece : pieces)
            add(first + static_cast<Index>(piece[0]), first + static_cast<Index>(piece[1]),
                first + static_cast<Index>(piece[2]), f);
    }
    out.face.resize(made);
    out.corners.resize(3 * made);
    return out;
}

Triangles triangulated(const Mesh& mesh) {
    constexpr std::size_t block = 8192;
    const std::size_t faces = mesh.face_count(), blocks = (faces + block - 1) / block;
    if (blocks == 0) return {};
    if (blocks == 1) return triangulated(mesh, 0, faces);
    std::vector<Triangles> parts(blocks);
    parallel::each(std::size_t(0), blocks,
                   [&](std::size_t b) { parts[b] = triangulated(mesh, b * block, std::min(faces, (b + 1) * block)); });
    std::vector<std::size_t> start(blocks + 1, 0);
    for (std::size_t b = 0; b < blocks; ++b) start[b + 1] = start[b] + parts[b].count();
    Triangles out;
    out.face.resize(start[blocks]);
    out.corners.resize(3 * start[blocks]);
    parallel::each(std::size_t(0), blocks, [&](std::size_t b) {
        std::ranges::copy(parts[b].face, out.face.begin() + static_cast<std::ptrdiff_t>(start[b]));
        std::ranges::copy(parts[b].corners, out.corners.begin() + static_cast<std::ptrdiff_t>(3 * start[b]));
    });
    return out;
}

Mesh with_triangles(const Mesh& mesh, const Selection& chosen) {
    const Topology& t = *mesh.topology;
    const Triangles all = triangulated(mesh);
    FaceList faces;
    std::size_t k = 0;
    for (std::size_t f = 0; f < t.face_count(); ++f) {
        stop_point(f);
        const bool split = chosen[f];
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

}  // namespace bricol
