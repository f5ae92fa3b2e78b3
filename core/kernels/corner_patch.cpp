// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/corner_patch.h"

#include <array>
#include <cmath>
#include <optional>

namespace bricol {

Conic::Conic(const DVec3& a, const DVec3& b, const DVec3& pole, double profile)
    : a_(a), b_(b), pole_(pole), weight_(0), turn_(0) {
    if (profile < 0) pole_ = a + b - pole;
    const DVec3 u = a_ - pole_, v = b_ - pole_;
    const double lengths = glm::length(u) * glm::length(v);
    if (lengths == 0) return;
    const double inside = std::acos(glm::clamp(glm::dot(u, v) / lengths, -1.0, 1.0));
    turn_ = std::acos(-1.0) - inside;  // how far the direction turns from a to b
    weight_ = std::abs(profile) * std::sin(inside / 2);
}

DVec3 Conic::at(double t) const {
    double u = t;
    if (turn_ > 1e-4) {
        const double first = std::sin(turn_ * t / 2), second = std::sin(turn_ * (1 - t) / 2);
        u = first / (first + second);
    }
    const double p = (1 - u) * (1 - u), q = 2 * weight_ * u * (1 - u), r = u * u;
    return (a_ * p + pole_ * q + b_ * r) / (p + q + r);
}

namespace {

struct Ball {
    DVec3 centre;
};

/// The sphere through the points in the least-squares sense; nothing when they lie in a plane or fit badly.
std::optional<Ball> fitted(std::span<const DVec3> points, const DVec3& origin, double size) {
    // |q|^2 = 2 q.c + k, solved by normal equations in units of `size`.
    std::array<std::array<double, 5>, 4> m{};
    for (const DVec3& point : points) {
        const DVec3 q = (point - origin) / size;
        const std::array<double, 5> row = {2 * q.x, 2 * q.y, 2 * q.z, 1, glm::dot(q, q)};
        for (int i = 0; i < 4; ++i)
            for (int j = 0; j < 5; ++j) m[i][j] += row[i] * row[j];
    }
    for (int i = 0; i < 4; ++i) {
        int best = i;
        for (int r = i + 1; r < 4; ++r)
            if (std::abs(m[r][i]) > std::abs(m[best][i])) best = r;
        std::swap(m[i], m[best]);
        if (std::abs(m[i][i]) < 1e-7) return std::nullopt;
        for (int r = 0; r < 4; ++r) {
            if (r == i) continue;
            const double factor = m[r][i] / m[i][i];
            for (int j = i; j < 5; ++j) m[r][j] -= factor * m[i][j];
        }
    }
    const DVec3 centre = origin + DVec3(m[0][4] / m[0][0], m[1][4] / m[1][1], m[2][4] / m[2][2]) * size;
    double least = 1e300, most = 0;
    for (const DVec3& point : points) {
        const double r = glm::distance(point, centre);
        least = std::min(least, r);
        most = std::max(most, r);
    }
    if (most > 20 * size || least < 0.8 * most) return std::nullopt;
    return Ball{centre};
}

}  // namespace

void fill_corner(std::span<const std::span<const Index>> arcs, int segments, const Array<Vec3>& points,
                 const std::function<Index(const DVec3&)>& new_point,
                 const std::function<void(std::span<const Index>)>& new_face) {
    const std::size_t m = arcs.size();
    const auto n = static_cast<std::size_t>(segments), h = n / 2;
    const bool even = n % 2 == 0;
    const auto place = [&](Index i) { return DVec3(points[i]); };
    const auto next = [&](std::size_t i) { return (i + 1) % m; };
    std::vector<DVec3> middles(m), samples;
    DVec3 mean_corner(0), mean_middle(0);
    for (std::size_t i = 0; i < m; ++i) {
        middles[i] = even ? place(arcs[i][h]) : (place(arcs[i][h]) + place(arcs[i][h + 1])) * 0.5;
        mean_corner += place(arcs[i][n]) / static_cast<double>(m);
        mean_middle += middles[i] / static_cast<double>(m);
        samples.push_back(place(arcs[i][n]));
        samples.push_back(place(arcs[i][h]));
    }
    double size = 0;
    for (const DVec3& s : samples) size = std::max(size, glm::distance(s, mean_corner));
    const std::optional<Ball> ball = size > 0 ? fitted(samples, mean_corner, size) : std::nullopt;
    DVec3 centre = mean_middle + (mean_middle - mean_corner) * 0.5;
    // On a ball everything is blended as a direction and a radius, otherwise as places.
    const DVec3 origin = ball ? ball->centre : DVec3(0);
    double mean_radius = 0;
    for (const DVec3& s : samples) mean_radius += glm::distance(s, origin) / static_cast<double>(samples.size());
    if (ball) {
        if (!even)  // the middle of an odd arc lies on the ball, not on the chord
            for (DVec3& q : middles) {
                const DVec3 d = q - origin;
                q = origin + d * (mean_radius / std::max(glm::length(d), 1e-12));
            }
        DVec3 sum(0);
        for (const DVec3& q : middles) sum += q - origin;
        if (glm::length(sum) > 1e-9 * mean_radius) centre = origin + glm::normalize(sum) * mean_radius;
    }
    const auto blend = [&](std::span<const std::pair<DVec3, double>> parts) {
        if (!ball) {
            DVec3 sum(0);
            for (const auto& [p, w] : parts) sum += p * w;
            return sum;
        }
        DVec3 direction(0);
        double radius = 0;
        for (const auto& [p, w] : parts) {
            const double r = glm::distance(p, origin);
            direction += (p - origin) * (w / std::max(r, 1e-12));
            radius += r * w;
        }
        const double length = glm::length(direction);
        return length > 1e-12 ? origin + direction * (radius / length) : origin;
    };
    const double half = static_cast<double>(n) / 2;
    const auto spoke = [&](std::size_t i, double t) {
        const std::array<std::pair<DVec3, double>, 2> ends = {std::pair{middles[i], 1 - t}, {centre, t}};
        return blend(ends);
    };
    // grid[i]: (h+1) x (h+1) points of the corner between arc i and the next one.
    std::vector<std::vector<Index>> grid(m, std::vector<Index>((h + 1) * (h + 1), no_index));
    const auto cell = [&](std::size_t i, std::size_t a, std::size_t b) -> Index& { return grid[i][a * (h + 1) + b]; };
    for (std::size_t i = 0; i < m; ++i)
        for (std::size_t k = 0; k <= h; ++k) {
            cell(i, k, 0) = arcs[i][n - k];
            cell(i, 0, k) = arcs[next(i)][k];
        }
    if (even) {
        const Index middle = new_point(centre);
        for (std::size_t i = 0; i < m; ++i) cell(i, h, h) = middle;
        for (std::size_t i = 0; i < m; ++i)
            for (std::size_t k = 1; k < h; ++k) {
                const Index p = new_point(spoke(i, static_cast<double>(k) / half));
                cell(i, h, k) = p;
                cell((i + m - 1) % m, k, h) = p;
            }
    }
    const std::size_t last = even ? h : h + 1;
    for (std::size_t i = 0; i < m; ++i) {
        const std::size_t j = next(i);
        const DVec3 corner = place(arcs[i][n]);
        for (std::size_t a = 1; a < last; ++a)
            for (std::size_t b = 1; b < last; ++b) {
                const double x = static_cast<double>(a) / half, y = static_cast<double>(b) / half;
                const std::array<std::pair<DVec3, double>, 8> parts = {{{place(arcs[i][n - a]), 1 - y},
                                                                        {spoke(j, x), y},
                                                                        {place(arcs[j][b]), 1 - x},
                                                                        {spoke(i, y), x},
                                                                        {corner, -(1 - x) * (1 - y)},
                                                                        {middles[i], -x * (1 - y)},
                                                                        {middles[j], -(1 - x) * y},
                                                                        {centre, -x * y}}};
                cell(i, a, b) = new_point(blend(parts));
            }
    }
    for (std::size_t i = 0; i < m; ++i)
        for (std::size_t a = 0; a < h; ++a)
            for (std::size_t b = 0; b < h; ++b)
                new_face(
                    std::array<Index, 4>{cell(i, a, b), cell(i, a, b + 1), cell(i, a + 1, b + 1), cell(i, a + 1, b)});
    if (even) return;
    std::vector<Index> middle;
    for (std::size_t i = 0; i < m; ++i) {
        middle.push_back(cell(i, h, h));
        // The row across the middle of arc i lies between the grids on both sides of it.
        const std::size_t before = (i + m - 1) % m;
        for (std::size_t k = 0; k < h; ++k)
            new_face(
                std::array<Index, 4>{cell(before, k, h), cell(i, h, k), cell(i, h, k + 1), cell(before, k + 1, h)});
    }
    new_face(middle);
}

}  // namespace bricol
