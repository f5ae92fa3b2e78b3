// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/triangles_apart.h"

#include <algorithm>
#include <cmath>

namespace bricol {

namespace {

double sum_of(const DVec3& v) { return std::abs(v.x) + std::abs(v.y) + std::abs(v.z); }

/// All of a, but for a shared corner, to one side of b's plane, whose normal is given. `coarse` is what rounding does
/// to a coordinate.
bool beside_plane(const std::array<DVec3, 3>& a, int shared_a, const std::array<DVec3, 3>& b, const DVec3& normal,
                  double coarse) {
    const double across = sum_of(b[1] - b[0]) + sum_of(b[2] - b[0]), length = sum_of(normal);
    double least = 1e300, most = -1e300, far = 0;
    for (int k = 0; k < 3; ++k) {
        if (k == shared_a) continue;
        const DVec3 from = a[static_cast<std::size_t>(k)] - b[0];
        const double height = glm::dot(from, normal);
        least = std::min(least, height);
        most = std::max(most, height);
        far = std::max(far, sum_of(from));
    }
    const double unsure = length * (1e-9 * far + coarse) + coarse * across * far;
    return least > unsure || most < -unsure;
}

/// A side of x, seen along an axis, with x to one side of it and y clearly to the other.
bool beside_side(const std::array<DVec3, 3>& x, int shared_x, const std::array<DVec3, 3>& y, int shared_y, int axis,
                 double coarse) {
    const int u = (axis + 1) % 3, v = (axis + 2) % 3;
    for (int k = 0; k < 3; ++k) {
        const DVec3 &p = x[static_cast<std::size_t>(k)], &q = x[static_cast<std::size_t>((k + 1) % 3)],
                    &r = x[static_cast<std::size_t>((k + 2) % 3)];
        const bool through_shared = shared_x == k || shared_x == (k + 1) % 3;
        if (shared_x >= 0 && !through_shared) continue;  // y has a corner on x's own side of it
        const double along_u = q[u] - p[u], along_v = q[v] - p[v], length = std::abs(along_u) + std::abs(along_v);
        const auto off = [&](const DVec3& at) { return along_u * (at[v] - p[v]) - along_v * (at[u] - p[u]); };
        const auto unsure = [&](const DVec3& at) {
            const double far = std::abs(at[u] - p[u]) + std::abs(at[v] - p[v]);
            return length * (1e-9 * far + coarse) + coarse * far;
        };
        const double own = off(r);
        if (std::abs(own) <= unsure(r)) continue;
        bool beyond = true;
        for (int j = 0; j < 3 && beyond; ++j) {
            if (j == shared_y) continue;
            const DVec3& at = y[static_cast<std::size_t>(j)];
            beyond = (own > 0 ? -off(at) : off(at)) > unsure(at);
        }
        if (beyond) return true;
    }
    return false;
}

}  // namespace

bool clearly_apart(const std::array<DVec3, 3>& a, const std::array<DVec3, 3>& b, int shared_a, int shared_b) {
    // Several times what double precision leaves of a coordinate.
    const double coarse = 1e-15 * (sum_of(a[0]) + sum_of(b[0]) + sum_of(a[1] - a[0]) + sum_of(a[2] - a[0]));
    const DVec3 normal_b = glm::cross(b[1] - b[0], b[2] - b[0]);
    if (beside_plane(a, shared_a, b, normal_b, coarse)) return true;
    const DVec3 normal_a = glm::cross(a[1] - a[0], a[2] - a[0]);
    if (beside_plane(b, shared_b, a, normal_a, coarse)) return true;
    // Along the axis that sees most of b: one that sees it edge-on could hide that they meet beside the shared corner.
    const DVec3 size = glm::abs(normal_b);
    const int axis = size.x >= size.y && size.x >= size.z ? 0 : size.y >= size.z ? 1 : 2;
    if (!(size[axis] > 0)) return false;
    return beside_side(a, shared_a, b, shared_b, axis, coarse) || beside_side(b, shared_b, a, shared_a, axis, coarse);
}

}  // namespace bricol
