// SPDX-License-Identifier: GPL-3.0-or-later
// The grid as coloured lines.
#pragma once

#include <optional>
#include <vector>

#include "app/viewport/camera.h"
#include "core/shape/curve.h"

namespace bricol {

/// Ends of lines, seven numbers each: place (metres), colour, strength. The grid lies in `plane`, else in the plane
/// that faces the artist: the ground, or the plane of a flat view. Fine lines are `fine_step` metres apart, strong ones
/// ten times that; lines fade with distance in the free view.
std::vector<float> grid_lines(const Camera& camera, const std::optional<DrawPlane>& plane, double fine_step);

}  // namespace bricol
