// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/place_copies.h"

#include <algorithm>
#include <cmath>
#include <unordered_map>

#include "core/ground/cells.h"
#include "core/ground/stop.h"

namespace bricol {

std::array<double, 4> shortest_turn(const DVec3& from, const DVec3& to) {
    const double a = glm::length(from), b = glm::length(to);
    if (!(a > 0) || !(b > 0)) return {1, 0, 0, 0};
    const DVec3 u = from / a, v = to / b;
    const double w = 1 + glm::dot(u, v);
    if (w < 1e-12) {  // opposite: half a turn about whatever is square to it
        const DVec3 other = std::abs(u.x) < 0.6 ? DVec3(1, 0, 0) : DVec3(0, 1, 0);
        const DVec3 axis = glm::normalize(glm::cross(u, other));
        return {0, axis.x, axis.y, axis.z};
    }
    const DVec3 c = glm::cross(u, v);
    const double length = std::sqrt(w * w + glm::dot(c, c));
    return {w / length, c.x / length, c.y / length, c.z / length};
}

glm::mat4 copy_matrix(const CopyPlace& place, int axis) {
    DVec3 own(0);
    own[axis] = 1;
    const auto [w, x, y, z] = shortest_turn(own, glm::length(place.facing) > 0 ? place.facing : own);
    // Columns of the rotation a unit quaternion stands for.
    const glm::dmat3 turn(1 - 2 * (y * y + z * z), 2 * (x * y + w * z), 2 * (x * z - w * y), 2 * (x * y - w * z),
                          1 - 2 * (x * x + z * z), 2 * (y * z + w * x), 2 * (x * z + w * y), 2 * (y * z - w * x),
                          1 - 2 * (x * x + y * y));
    const double angle = glm::radians(place.turn), c = std::cos(angle), s = std::sin(angle);
    glm::dmat3 spin(1);
    const int p = (axis + 1) % 3, q = (axis + 2) % 3;
    spin[p][p] = c, spin[p][q] = s, spin[q][p] = -s, spin[q][q] = c;
    const glm::dmat3 whole = turn * spin * place.size;
    glm::mat4 out(1);
    for (int i = 0; i < 3; ++i) out[i] = Vec4(Vec3(whole[i]), 0);
    out[3] = Vec4(Vec3(place.at), 1);
    return out;
}

std::vector<std::uint8_t> kept_apart(std::span<const DVec3> centres, std::span<const double> radii, double overlap) {
    std::vector<std::uint8_t> keep(centres.size(), 0);
    double largest = 0;
    for (const double r : radii) largest = std::max(largest, r);
    if (!(largest > 0)) return std::vector<std::uint8_t>(centres.size(), 1);
    const double width = 2 * largest;
    std::unordered_map<Cell, std::vector<std::size_t>, CellHash> cells;
    for (std::size_t i = 0; i < centres.size(); ++i) {
        stop_point(i);
        const Cell own = cell_of(centres[i], width);
        const bool taken = any_near(own, [&](const Cell& cell) {
            const auto found = cells.find(cell);
            return found != cells.end() && std::ranges::any_of(found->second, [&](std::size_t k) {
                       const double sunk = radii[i] + radii[k] - glm::distance(centres[i], centres[k]);
                       return sunk > overlap * 2 * std::min(radii[i], radii[k]) + 1e-12;
                   });
        });
        if (taken) continue;
        keep[i] = 1;
        cells[own].push_back(i);
    }
    return keep;
}

}  // namespace bricol
