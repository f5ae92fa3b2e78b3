// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/bar.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/kernels/normals.h"

namespace bricol {

namespace {

/// The points of a bar's middle line and the frame of every run between them.
struct BarPath {
    std::vector<DVec3> at;
    bool closed = false;
    std::vector<DVec3> run, over;  ///< unit: along a run, and square to it
    std::vector<double> length;

    std::size_t runs() const { return run.size(); }
    /// The runs before and after a point; at an open end both are the same.
    std::pair<std::size_t, std::size_t> beside(std::size_t i) const {
        return {i > 0 ? i - 1 : closed ? runs() - 1 : 0, std::min(i, runs() - 1)};
    }
};

/// A direction carried from one run to the next by the smallest turn.
DVec3 carried(const DVec3& v, const DVec3& from, const DVec3& to) {
    const DVec3 sum = from + to;
    const double square = glm::dot(sum, sum);
    if (square < 1e-12) return v;  // straight back
    // Two reflections: in the plane across `from`, then in the one across the mean direction.
    const DVec3 once = v - from * (2 * glm::dot(v, from));
    return once - sum * (2 * glm::dot(once, sum) / square);
}

void set_frames(BarPath& path, const DVec3& up) {
    const auto& run = path.run;
    auto& over = path.over;
    over.resize(path.runs());
    DVec3 start = up - run[0] * glm::dot(up, run[0]);
    if (glm::length(start) < 1e-3) start = DVec3(1, 0, 0) - run[0] * run[0].x;
    if (glm::length(start) < 1e-3) start = DVec3(0, 1, 0) - run[0] * run[0].y;
    over[0] = glm::normalize(start);
    for (std::size_t i = 1; i < path.runs(); ++i) over[i] = glm::normalize(carried(over[i - 1], run[i - 1], run[i]));
    if (!path.closed) return;
    // What is left over after one round is spread over the whole length.
    const DVec3 back = carried(over.back(), run.back(), run[0]);
    const double leftover = std::atan2(glm::dot(glm::cross(back, over[0]), run[0]), glm::dot(back, over[0]));
    double total = 0, so_far = 0;
    for (const double l : path.length) total += l;
    for (std::size_t i = 0; i < path.runs(); ++i) {
        const double turn = leftover * so_far / total;
        over[i] = over[i] * std::cos(turn) + glm::cross(run[i], over[i]) * std::sin(turn);
        so_far += path.length[i];
    }
}

BarPath path_of(const Polyline& line, const DVec3& up) {
    BarPath path;
    for (const Vec3& p : line.points)
        if (path.at.empty() || glm::distance(path.at.back(), DVec3(p)) > 1e-9) path.at.emplace_back(p);
    path.closed = line.closed;
    if (path.closed && path.at.size() > 1 && glm::distance(path.at.front(), path.at.back()) <= 1e-9) path.at.pop_back();
    const std::size_t n = path.at.size();
    path.closed = path.closed && n >= 3;
    if (n < 2) return path;
    for (std::size_t i = 0; i < (path.closed ? n : n - 1); ++i) {
        const DVec3 run = path.at[(i + 1) % n] - path.at[i];
        path.length.push_back(glm::length(run));
        path.run.push_back(run / path.length.back());
    }
    set_frames(path, up);
    return path;
}

std::vector<DVec2> section_of(const BarOptions& options) {
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
    return section;
}

/// The section at every point of the path, slid along the run into the mitre plane.
Array<Vec3> rings_of(const BarPath& path, std::span<const DVec2> section) {
    Array<Vec3> points;
    for (std::size_t i = 0; i < path.at.size(); ++i) {
        const auto [before, after] = path.beside(i);
        const DVec3 &run = path.run[after], &over = path.over[after], mean = path.run[before] + run;
        const double size = glm::length(mean);
        const DVec3 plane = size > 1e-6 ? mean / size : run, side = glm::cross(over, run);
        const double cosine = std::max(glm::dot(plane, run), 0.2);
        for (const DVec2& s : section) {
            const DVec3 flat = side * s.x + over * s.y;
            points.push_back(Vec3(path.at[i] + flat - run * (glm::dot(flat, plane) / cosine)));
        }
    }
    return points;
}

/// Where a bar of that half width takes up a whole run at a turn.
std::vector<Vec3> too_tight(const BarPath& path, double half) {
    std::vector<Vec3> out;
    const std::size_t n = path.at.size();
    for (std::size_t i = path.closed ? 0 : 1; i < (path.closed ? n : n - 1); ++i) {
        const auto [before, after] = path.beside(i);
        const double turn = std::acos(glm::clamp(glm::dot(path.run[before], path.run[after]), -1.0, 1.0));
        if (half * std::tan(turn / 2) > std::min(path.length[before], path.length[after]) * 0.999)
            out.push_back(Vec3(path.at[i]));
    }
    return out;
}

}  // namespace

BarResult bar_along(const Polyline& line, const BarOptions& options) {
    BarResult result;
    const BarPath path = path_of(line, options.up);
    const std::size_t n = path.at.size(), runs = path.runs();
    if (n < 2) return result;
    const std::vector<DVec2> section = section_of(options);
    const std::size_t m = section.size();
    Array<Vec3> points = rings_of(path, section);
    result.too_tight =
        too_tight(path, options.round ? options.width / 2 : std::hypot(options.width, options.height) / 2);
    std::vector<double> along{0};
    for (const double length : path.length) along.push_back(along.back() + length);
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
    if (!path.closed && options.caps)
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
