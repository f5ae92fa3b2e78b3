// SPDX-License-Identifier: GPL-3.0-or-later
// How far a point is from the flesh of bones: balls swept from knot to knot, tapered, flattened, and blended where
// limbs meet at an angle.
#pragma once

#include <array>
#include <span>

#include "core/kernels/sticks.h"

namespace bricol {

/// A distance (metres, negative inside) and the way it grows fastest (about unit length).
struct FieldValue {
    double distance = 1e30;
    DVec3 way{0, 0, 1};
};

/// The flesh of one bone: the hull of the balls at its ends, flattened across when the girths differ.
class BoneField {
public:
    BoneField() = default;
    BoneField(const StickBone& bone, const StickKnot& from, const StickKnot& to);

    /// Exact for round girths, otherwise never more than the distance. A round cone's distance by its profile: the side
    /// is straight between the points where it touches the two balls.
    FieldValue at(const DVec3& point) const;
    /// Mean radius where a point is nearest (metres).
    double girth_near(const DVec3& point) const;
    /// How far along the bone a point is, 0 to 1 between its knots, and beyond them below and above.
    double share(const DVec3& point) const { return glm::dot(point - from_, along_) / length_; }
    const DVec3& from() const { return from_; }
    DVec3 to() const { return from_ + along_ * length_; }
    double reach() const { return reach_; }  ///< the largest radius
    bool round() const { return round_; }    ///< whether the distance is exact

private:
    DVec3 from_{0}, along_{0, 0, 1}, across_{1, 0, 0}, over_{0, 1, 0};
    double length_ = 1, reach_ = 0;
    DVec2 girth_[2];
    double mean_[2]{}, roll_[2]{};
    double slope_ = 0, rise_ = 1;  ///< of the straight side: sine and cosine of its angle to the bone
    bool round_ = true;
};

/// What is known of the distances to several bones on a way past them, so that those too far to matter are not asked
/// again. For a dozen bones at most.
struct FieldBounds {
    static constexpr std::size_t most = 12;
    double moved = 0;  ///< metres since the last time, to be set by whoever asks
    double nearest = 1e30;
    std::array<double, most> least{};
    bool known = false;
};

/// The flesh of several bones as one: the nearest, or where two come near each other a rounded valley between them, as
/// wide as `blend` (a share of the thinner one's girth across) and the angle between their sides say: bones in one line
/// do not swell where they meet. Polynomial blend of two distances (common practice), its width scaled by the angle
/// between their gradients (after O. Gourmel and others, "A gradient-based implicit blend", 2013).
/// `bounds` makes later calls on one way quicker and changes nothing.
FieldValue flesh_field(std::span<const BoneField> all, std::span<const Index> these, const DVec3& point, double blend,
                       FieldBounds* bounds = nullptr);

/// How far out along `way` (unit length) the flesh of these bones reaches from `start` (metres, at least 0).
double flesh_reach(std::span<const BoneField> all, std::span<const Index> these, const DVec3& start, const DVec3& way);

}  // namespace bricol
