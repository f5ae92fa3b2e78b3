// SPDX-License-Identifier: GPL-3.0-or-later
// The soft shadow on the ground, of the recipe's own lamps: P. Heckbert and M. Herf, "Simulating soft shadows with
// graphics hardware", 1997. The shapes are thrown onto the ground from many places on the lamps, and the shadows add
// up. What comes from the sky, or from nowhere in particular, leaves a blurred outline as seen from above.
#pragma once

#include <memory>
#include <vector>

#include "app/viewport/ground_cover.h"
#include "app/viewport/renderer.h"

namespace bricol {

class GroundShadow {
public:
    GroundShadow() = default;
    GroundShadow(const GroundShadow&) = delete;
    GroundShadow& operator=(const GroundShadow&) = delete;

    /// Brings the shadow up to what the scene shows; false when nothing throws one. Nothing is done for shapes and
    /// lamps it was made of before. `fine`: more places on the lamps, for when the hand rests.
    bool make(const Scene& scene, bool fine);
    unsigned texture() const { return texture_; }
    const DVec3& corner() const { return corner_; }  ///< of the square it covers (metres)
    double side() const { return side_; }

private:
    /// A mesh that was thrown before, for the next time.
    struct Known {
        std::weak_ptr<const void> points, topology, materials;
        std::shared_ptr<const Array<Index>> triangles;
    };

    std::vector<ShadowCaster> casters(const std::vector<const SceneItem*>& items);
    /// How much of the light each pixel lacks, 0 to 1.
    std::vector<float> missing_light(const Scene& scene, const std::vector<ShadowCaster>& shapes, const Box& box,
                                     bool fine);

    std::vector<Known> known_;
    unsigned texture_ = 0;
    std::vector<std::weak_ptr<const void>> shapes_;  ///< it was made of; an address alone may be used again
    std::vector<double> lamps_;
    bool fine_ = false;
    DVec3 corner_{0};
    double side_ = 1;
};

}  // namespace bricol
