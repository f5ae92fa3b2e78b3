// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/uv_check.h"

#include <algorithm>
#include <cmath>

#include "core/ground/stop.h"
#include "core/kernels/triangulate.h"

namespace bricol {

std::optional<std::array<double, 2>> triangle_stretch(const DVec2& a, const DVec2& b, const DVec3& p, const DVec3& q) {
    const double area = a.x * b.y - a.y * b.x;
    if (area == 0 || glm::length(glm::cross(p, q)) <= 0) return std::nullopt;
    // Columns of the 3 x 2 matrix of the map; its singular values from the matrix times its transpose.
    const DVec3 s = (p * b.y - q * a.y) / area, r = (q * a.x - p * b.x) / area;
    const double e = glm::dot(s, s), f = glm::dot(s, r), g = glm::dot(r, r),
                 root = std::sqrt((e - g) * (e - g) + 4 * f * f);
    return std::array{std::sqrt(std::max(0.0, (e + g - root) / 2)), std::sqrt((e + g + root) / 2)};
}

UvCheck checked_uvs(const Mesh& mesh, double limit) {
    UvCheck out;
    const auto* uv = mesh.attributes.values<Vec2>(Domain::corner, attribute_name::uv);
    if (!uv || mesh.face_count() == 0) return out;
    out.any = true;
    out.low = DVec2(1e300), out.high = DVec2(-1e300);
    const Topology& t = *mesh.topology;
    const Triangles cut = triangulated(mesh);
    struct Factors {
        double least, most;
        Index vertex;
    };
    std::vector<Factors> all;
    double area = 0, flat_area = 0;
    for (std::size_t i = 0; i < cut.count(); ++i) {
        stop_point(i);
        std::array<DVec2, 3> u;
        std::array<DVec3, 3> p;
        bool outside = false;
        for (std::size_t k = 0; k < 3; ++k) {
            const Index c = cut.corners[3 * i + k];
            u[k] = DVec2((*uv)[c]);
            p[k] = DVec3((*mesh.positions)[t.corner_vertex[c]]);
            out.low = glm::min(out.low, u[k]), out.high = glm::max(out.high, u[k]);
            outside |= u[k].x < -1e-6 || u[k].y < -1e-6 || u[k].x > 1 + 1e-6 || u[k].y > 1 + 1e-6;
        }
        out.outside += outside;
        const DVec2 a = u[1] - u[0], b = u[2] - u[0];
        const double real = glm::length(glm::cross(p[1] - p[0], p[2] - p[0])), flat = std::abs(a.x * b.y - a.y * b.x);
        if (real <= 0) continue;
        if (flat < 1e-12) {
            ++out.flat;
            continue;
        }
        area += real, flat_area += flat;
        if (const auto factors = triangle_stretch(a, b, p[1] - p[0], p[2] - p[0]))
            all.push_back({(*factors)[0], (*factors)[1], t.corner_vertex[cut.corners[3 * i]]});
    }
    const double scale = flat_area > 0 ? std::sqrt(area / flat_area) : 1;
    for (const Factors& f : all) {
        const double here = std::max(f.most / scale, f.least > 0 ? scale / f.least : 1e9);
        out.stretched += here > limit;
        if (here > out.stretch) out.stretch = here, out.worst_at = (*mesh.positions)[f.vertex];
    }
    return out;
}

}  // namespace bricol
