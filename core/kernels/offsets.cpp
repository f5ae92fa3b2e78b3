// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/offsets.h"

#include <algorithm>
#include <cmath>

#include "core/ground/stop.h"
#include "core/kernels/normals.h"
#include "core/ground/parallel.h"

namespace bricol {

namespace {

/// m with m . n = 1 for each of the different normals, in the least-squares sense.
Vec3 even_offset(std::span<const Vec3> normals, float longest) {
    if (normals.empty()) return Vec3(0);
    if (normals.size() == 1) return normals[0];
    DVec3 sum(0);
    for (const Vec3& n : normals) sum += DVec3(n);
    DVec3 m(0);
    if (normals.size() == 2) {
        const double together = 1 + glm::dot(DVec3(normals[0]), DVec3(normals[1]));
        if (together < 1e-6) return normals[0];  // folded flat onto itself
        m = sum / together;
    } else {
        glm::dmat3 a(0);
        for (const Vec3& n : normals) a += glm::outerProduct(DVec3(n), DVec3(n));
        const double trace = a[0][0] + a[1][1] + a[2][2];
        const double determinant = glm::determinant(a);
        if (determinant > 1e-3 * trace * trace * trace / 27) {
            m = glm::inverse(a) * sum;
        } else {  // all in one plane, nearly: along their mean, as far as they need on average
            const double length = glm::length(sum);
            if (length < 1e-6) return normals[0];
            const DVec3 mean = sum / length;
            double reach = 0;
            for (const Vec3& n : normals) reach += glm::dot(DVec3(n), mean) / static_cast<double>(normals.size());
            m = mean / std::max(reach, 0.05);
        }
    }
    const double length = glm::length(m);
    return Vec3(length > longest ? m * (longest / length) : m);
}

}  // namespace

Array<Vec3> even_offsets(const Mesh& mesh, const Selection& faces, float longest) {
    const Topology& t = *mesh.topology;
    const Array<Vec3> flat = face_normals(mesh);
    Array<Index> offsets(t.vertex_count + 1, 0), faces_at;
    const auto taken = [&](std::size_t f) { return faces[f]; };
    for (std::size_t f = 0; f < t.face_count(); ++f)
        if (taken(f))
            for (Index v : t.face(f)) ++offsets[v + 1];
    for (std::size_t i = 1; i < offsets.size(); ++i) offsets[i] += offsets[i - 1];
    stop_point();
    faces_at.resize(offsets.back());
    Array<Index> cursor(offsets.begin(), offsets.end());
    for (std::size_t f = 0; f < t.face_count(); ++f)
        if (taken(f))
            for (Index v : t.face(f)) faces_at[cursor[v]++] = static_cast<Index>(f);
    Array<Vec3> result(t.vertex_count);
    parallel::each(parallel::Numbers<Index>(0, t.vertex_count, 2048), [&](const auto& range) {
        stop_point();
        std::vector<Vec3> different;
        for (Index v = range.begin(); v != range.end(); ++v) {
            different.clear();
            for (Index i = offsets[v]; i < offsets[v + 1]; ++i) {
                const Vec3& n = flat[faces_at[i]];
                if (n != Vec3(0) &&
                    std::ranges::none_of(different, [&](const Vec3& d) { return glm::dot(d, n) > 0.99995f; }))
                    different.push_back(n);
            }
            result[v] = even_offset(different, longest);
        }
    });
    return result;
}

void inset_polygon(std::span<const DVec3> polygon, const DVec3& normal, double distance, std::span<DVec3> result,
                   double* held) {
    const std::size_t n = polygon.size();
    struct Side {
        DVec3 along, velocity;
        double length;
    };
    thread_local std::vector<Side> sides;  // called for every face of a mesh
    sides.resize(n);
    const auto unit = [](const DVec3& v) {
        const double length = glm::length(v);
        return length > 0 ? v / length : DVec3(0);
    };
    for (std::size_t i = 0, j = 1; i < n; ++i, j = j + 1 == n ? 0 : j + 1) {
        const DVec3 along = polygon[j] - polygon[i];
        sides[i].length = glm::length(along);
        sides[i].along = sides[i].length > 0 ? along / sides[i].length : DVec3(0);
    }
    for (std::size_t i = 0, before = n - 1; i < n; before = i++) {
        const DVec3 next = sides[i].along, back = -sides[before].along;
        const double sine = glm::dot(normal, glm::cross(next, back));
        DVec3& velocity = sides[i].velocity;
        if (std::abs(sine) < 0.02) {
            velocity = unit(glm::cross(normal, next) - glm::cross(normal, back));
        } else {
            velocity = (next + back) / sine;
            const double square = glm::dot(velocity, velocity);
            if (square > 36) velocity *= 6 / std::sqrt(square);
        }
    }
    double share = 1;
    for (std::size_t i = 0, j = 1; i < n; ++i, j = j + 1 == n ? 0 : j + 1) {
        const double length = sides[i].length;
        if (length == 0) continue;
        const double closing = distance * glm::dot(sides[i].velocity - sides[j].velocity, sides[i].along);
        if (closing > 0.98 * length) share = std::min(share, 0.98 * length / closing);
    }
    if (held) *held = share;
    for (std::size_t i = 0; i < n; ++i) result[i] = polygon[i] + sides[i].velocity * (distance * share);
}

}  // namespace bricol
