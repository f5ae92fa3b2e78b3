// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/polygon_faults.h"

#include <algorithm>

#include "core/ground/numbers.h"

namespace bricol {

std::optional<DVec3> square_to(const std::vector<DVec3>& polygon) {
    DVec3 sum(0);
    double size = 0;
    for (std::size_t i = 0; i < polygon.size(); ++i) {
        const DVec3 a = polygon[i] - polygon[0], b = polygon[(i + 1) % polygon.size()] - polygon[0];
        sum += glm::cross(a, b);
        size = std::max(size, glm::length(a));
    }
    const double least = 1e-9 * size * size;
    if (glm::length(sum) > least) return unit(sum);
    for (std::size_t i = 1; i + 1 < polygon.size(); ++i)
        if (const DVec3 n = glm::cross(polygon[i] - polygon[0], polygon[i + 1] - polygon[0]); glm::length(n) > least)
            return unit(n);
    return std::nullopt;
}

// Sides are looked at by where they begin across, so that only those beside one another are compared.
bool sides_cross(const std::vector<DVec3>& polygon, const DVec3& normal) {
    const std::size_t n = polygon.size();
    const DVec3 helper = std::abs(normal.z) < 0.9 ? DVec3(0, 0, 1) : DVec3(1, 0, 0);
    const DVec3 across = unit(glm::cross(helper, normal)), over = glm::cross(normal, across);
    std::vector<DVec2> flat;
    for (const DVec3& p : polygon) flat.emplace_back(glm::dot(p, across), glm::dot(p, over));
    std::vector<std::size_t> sides(n);
    for (std::size_t i = 0; i < n; ++i) sides[i] = i;
    const auto low = [&](std::size_t i) { return std::min(flat[i].x, flat[(i + 1) % n].x); };
    const auto high = [&](std::size_t i) { return std::max(flat[i].x, flat[(i + 1) % n].x); };
    std::ranges::sort(sides, {}, low);
    const auto parted = [&](std::size_t side, std::size_t by) {
        const DVec2 from = flat[by], along = flat[(by + 1) % n] - from;
        return cross2(along, flat[side] - from) * cross2(along, flat[(side + 1) % n] - from) < 0;
    };
    for (std::size_t i = 0; i < n; ++i)
        for (std::size_t k = i + 1; k < n && low(sides[k]) < high(sides[i]); ++k)
            if (parted(sides[i], sides[k]) && parted(sides[k], sides[i])) return true;
    return false;
}

}  // namespace bricol
