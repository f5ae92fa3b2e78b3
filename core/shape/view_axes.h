// SPDX-License-Identifier: GPL-3.0-or-later
// The right and the up of whoever looks along a way.
#pragma once

#include <cmath>

#include "core/shape/stage.h"

namespace bricol {

struct ViewAxes {
    DVec3 ahead, right, up;  ///< unit, square to one another

    /// `roll` (degrees) leans the up to the right. Any way will do, straight up too.
    explicit ViewAxes(const DVec3& way, const DVec3& above = {0, 0, 1}, double roll = 0) {
        ahead = glm::length(way) > 0 ? glm::normalize(way) : DVec3(0, 1, 0);
        DVec3 side = glm::cross(ahead, above);
        if (!(glm::length(side) > 1e-9)) side = glm::cross(ahead, DVec3(0, 1, 0));
        if (!(glm::length(side) > 1e-9)) side = DVec3(1, 0, 0);
        side = glm::normalize(side);
        const DVec3 over = glm::cross(side, ahead);
        const double angle = glm::radians(roll), c = std::cos(angle), s = std::sin(angle);
        right = side * c - over * s;
        up = over * c + side * s;
    }
    explicit ViewAxes(const StageCamera& camera) : ViewAxes(camera.aim - camera.eye, camera.up, camera.roll) {}
};

}  // namespace bricol
