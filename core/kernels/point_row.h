// SPDX-License-Identifier: GPL-3.0-or-later
// Rows of points that lofts and fills work on.
#pragma once

#include <vector>

#include "core/kernels/flatten.h"

namespace bricol {

using Row = std::vector<DVec3>;

/// Twice the area of a loop, as a vector square to it (Newell).
inline DVec3 area_vector(const Row& loop) {
    DVec3 sum(0);
    for (std::size_t i = 0; i < loop.size(); ++i) sum += glm::cross(loop[i], loop[(i + 1) % loop.size()]);
    return sum / 2.0;
}

inline DVec3 middle_of_row(const Row& row) {
    DVec3 sum(0);
    for (const DVec3& p : row) sum += p;
    return sum / static_cast<double>(row.size());
}

inline Row row_of(const Polyline& line) {
    Row row;
    for (const Vec3& p : line.points)
        if (row.empty() || glm::distance(row.back(), DVec3(p)) > 1e-9) row.emplace_back(p);
    while (line.closed && row.size() > 1 && glm::distance(row.front(), row.back()) < 1e-9) row.pop_back();
    return row;
}

}  // namespace bricol
