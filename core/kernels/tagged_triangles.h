// SPDX-License-Identifier: GPL-3.0-or-later
// Triangles that remember where they came from.
#pragma once

#include <array>
#include <vector>

#include "core/ground/types.h"

namespace bricol {

/// Triangles with a number each, which their pieces inherit.
struct TaggedTriangles {
    std::vector<DVec3> points;
    std::vector<std::array<Index, 3>> triangles;
    std::vector<Index> tags;
};

}  // namespace bricol
