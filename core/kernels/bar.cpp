// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/bar.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/kernels/normals.h"

namespace bricol {

BarResult bar_along(const Polyline& line, const BarOptions& options) {
    BarResult result;
    std::vector<DVec3> at;
    for (const Vec3& p : line.points)
        if (at.empty() || glm::distance(at.back(), DVec3(p)) > 1e-9) at.emplace_back(p);
    bool closed = line.closed;
    if (closed && at.size() > 1 && glm::distance(at.front(), at.back()) <= 1e-9) at.pop_back();
    closed = closed && at.size() >= 3;
    const std::size_t n = at.size();
    if (n < 2) return result;
    const std::size_t runs = closed ? n : n - 1;
    std::vector<DVec3> run(runs);
    std::vector<double> length(runs);
    for (std::size_t i = 0; i < runs; ++i) {
        run[i] = at[(i + 1) % n] - at[i];
        length[i] = glm::length(run[i]);
        run[i] /= length[i];
    }
    // The frame of every run: `over` is carried from run to run by the smallest turn.
    std::vector<DVec3> over(runs);
    DVec3 start = options.up - run[0] * glm::dot(options.up, run[0]);
    if (glm::length(start) < 1e-3) start = DVec3(1, 0, 0) - run[0] * run[0].x;
    if (glm::length(start) < 1e-3) start = DVec3(0, 1, 0) - run[0] * run[0].y;
    over[0] = glm::normalize(start);
    const auto carried = [](const DVec3& v, const DVec3& from, const DVec3& to) {
        const DVec3 sum = from + to;
        const double square = glm::dot(sum, sum);
        if (square < 1e-12) return v;  // straight back
        // Two reflections: in the plane across `from`, then in the one across the mean direction.
        const DVec3 once = v - from * (2 * glm::dot(v, from));
        return once - sum * (2 * glm::dot(once, sum) / square);
    };
    for (std::size_t i = 1; i < runs; ++i) over[i] = glm::normalize(carried(over[i - 1], run[i - 1], run[i]));
    if (closed) {
        const DVec3 back = carried(over[runs - 1], run[runs - 1], run[0]);
        const double leftover = std::atan2(glm::dot(glm::cross(back, over[0]), run[0]), glm::dot(back, over[0]));
        double total = 0, so_far = 0;
        for (const double l : length) total += l;
        for (std::size_t i = 0; i < runs; ++i) {
            const double turn = leftover * so_far / total;
            over[i] = over[i] * std::cos(turn) + glm::cross(run[i], over[i]) * std::sin(turn);
            so_far += length[i];
        }
    }
    std::vector<DVec2> section;
    if (options.round) {
        const int sides = std::max(3, options.sides);
        for (int s = 0; s < sides; ++s) {
            const double a = 2 * std::numbers::pi * s / sides;
            section.push_back(DVec2(std::cos(a), std::sin(a)) * (options.width / 2));
        }
    } else {
        const double w = options.width / 2, h = options.height / 2;
        section = {{-w, -h}, {w, -h}, {w, h}, {-w, h}};
    }
    const std::size_t m = section.size();
    const double half = options.round ? options.width / 2 : std::hypot(options.width, options.height) / 2;
    Array<Vec3> points;
    std::vector<double> along(n + 1, 0);
    for (std::size_t i = 0; i < n; ++i) {
        const std::size_t before = i > 0 ? i - 1 : closed ? runs - 1 : 0, after = std::min(i, runs - 1);
        const DVec3 mean = run[before] + run[after];
        const double size = glm::length(mean);
        const DVec3 plane = size > 1e-6 ? mean / size : run[after];
        const DVec3 side = glm::cross(over[after], run[after]);
        const double cosine = std::max(glm::dot(plane, run[after]), 0.2);
        for (const DVec2& s : section) {
            const DVec3 flat = side * s.x + over[after] * s.y;
            // Slid along the run into the mitre plane.
            points.push_back(Vec3(at[i] + flat - run[after] * (glm::dot(flat, plane) / cosine)));
        }
        const bool inner = closed || (i > 0 && i + 1 < n);
        if (inner) {
            const double turn = std::acos(glm::clamp(glm::dot(run[before], run[after]), -1.0, 1.0));
            if (half * std::tan(turn / 2) > std::min(length[before], length[after]) * 0.999)
                result.too_tight.push_back(Vec3(at[i]));
        }
        if (i < runs) along[i + 1] = along[i] + length[i];
    }
    Array<Index> offsets{0}, corners;
    Array<Vec2> uvs;
    const auto end_face = [&] { offsets.push_back(static_cast<Index>(corners.size())); };
    const double total = std::max(along[runs], 1e-12);
    for (std::size_t i = 0; i < runs; ++i)
        for (std::size_t s = 0; s < m; ++s) {
            const std::size_t j = (i + 1) % n, u = (s + 1) % m;
            for (const auto& [ring, place] : {std::pair{i, s}, {i, u}, {j, u}, {j, s}})
                corners.push_back(static_cast<Index>(ring * m + place));
            const auto a = static_cast<float>(along[i] / total), b = static_cast<float>(along[i + 1] / total),
                       c = static_cast<float>(s) / static_cast<float>(m),
                       d = static_cast<float>(s + 1) / static_cast<float>(m);
            for (const Vec2& uv : {Vec2(c, a), Vec2(d, a), Vec2(d, b), Vec2(c, b)}) uvs.push_back(uv);
            end_face();
        }
    if (!closed && options.caps)
        for (const bool last : {false, true}) {
            for (std::size_t s = 0; s < m; ++s) {
                const std::size_t place = last ? s : m - 1 - s;
                corners.push_back(static_cast<Index>((last ? n - 1 : 0) * m + place));
                const double size = std::max({options.width, options.round ? 0.0 : options.height, 1e-12});
                uvs.push_back({static_cast<float>(0.5 + section[place].x / size),
                               static_cast<float>(0.5 + section[place].y / size)});
            }
            end_face();
        }
    const auto count = static_cast<Index>(points.size());
    result.mesh = Mesh(std::move(points), make_topology(count, std::move(offsets), std::move(corners)));
    result.mesh.attributes.set(Domain::corner, attribute_name::uv, std::move(uvs));
    result.mesh = with_normals_by_angle(result.mesh, options.round && options.sides >= 6 ? 65 : 40);
    return result;
}

}  // namespace bricol
