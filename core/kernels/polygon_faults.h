// SPDX-License-Identifier: GPL-3.0-or-later
// What can be wrong with a polygon in space.
#pragma once

#include <optional>
#include <vector>

#include "core/ground/types.h"

namespace bricol {

/// Some direction square to a polygon, of length 1: its own normal, or of the first three corners that are not in line;
/// nothing when all are.
std::optional<DVec3> square_to(const std::vector<DVec3>& polygon);

/// Whether two sides of a polygon cross, seen along a direction of length 1. O(n log n) while few sides lie over one
/// another, O(n^2) at worst.
bool sides_cross(const std::vector<DVec3>& polygon, const DVec3& normal);

}  // namespace bricol
