// SPDX-License-Identifier: GPL-3.0-or-later
// The soft shadow on the ground, of the recipe's own lamps: P. Heckbert and M. Herf, "Simulating soft shadows with
// graphics hardware", 1997. The shapes are thrown onto the ground from many places on the lamps, and the shadows add
// up. What comes from the sky, or from nowhere in particular, leaves a blurred outline as seen from above.
#pragma once

#include <functional>
#include <memory>
#include <vector>

#include "app/viewport/mesh_programs.h"
#include "app/viewport/renderer.h"

namespace bricol {

class GroundShadow {
public:
    /// Draws an item with the program in hand and gives the number of triangles that took.
    using Draw = std::function<std::size_t(const SceneItem& item)>;

    GroundShadow();
    ~GroundShadow();
    GroundShadow(const GroundShadow&) = delete;
    GroundShadow& operator=(const GroundShadow&) = delete;

    /// Brings the shadow up to what the scene shows; false when nothing throws one. Nothing is done for shapes and
    /// lamps it was made of before. `fine`: more places on the lamps, for when the hand rests.
    bool make(const Scene& scene, bool fine, MeshPrograms& programs, const Draw& draw);
    unsigned texture() const { return texture_; }
    const DVec3& corner() const { return corner_; }  ///< of the square it covers (metres)
    double side() const { return side_; }

private:
    struct Frame;
    /// How much of the light each pixel lacks, 0 to 1.
    std::vector<float> missing_light(const Scene& scene, const Box& box, bool fine, MeshPrograms& programs,
                                     const Draw& draw);
    /// The shapes thrown onto the ground, in raw_'s alpha. Gives the number of triangles drawn.
    std::size_t outline(const Scene& scene, const glm::dmat4& flatten, MeshPrograms& programs, const Draw& draw);

    std::unique_ptr<Frame> frame_;
    std::vector<std::uint8_t> raw_;
    unsigned texture_ = 0;
    std::vector<std::weak_ptr<const void>> shapes_;  ///< it was made of; an address alone may be used again
    std::vector<double> lamps_;
    bool fine_ = false;
    DVec3 corner_{0};
    double side_ = 1;
};

}  // namespace bricol
