// SPDX-License-Identifier: GPL-3.0-or-later
// A picture of light from all around, asked for by directions.
#pragma once

#include <memory>
#include <vector>

#include "core/shape/stage.h"

namespace bricol {

/// Directions are sampled as bright as the picture is there: rows by their brightness and height, then pixels of a row
/// (M. Pharr and others, "Physically Based Rendering", 3rd edition, 14.2.4). Between pixels light is not blended, so
/// that density and light fit exactly.
class SkyMap {
public:
    /// `turn` about the vertical (degrees).
    SkyMap(std::shared_ptr<const SkyPicture> picture, double turn);

    Vec3 light(const Vec3& way) const;
    float density(const Vec3& way) const;  ///< per steradian
    Vec3 sampled(const Vec2& two, float& density) const;

private:
    std::size_t pixel_of(const Vec3& way) const;
    float pixel_density(std::size_t pixel) const;

    std::shared_ptr<const SkyPicture> picture_;
    float turn_;                        // radians
    std::vector<float> rows_, pixels_;  // sums up to each row, and within each row
    double whole_ = 0;
};

}  // namespace bricol
