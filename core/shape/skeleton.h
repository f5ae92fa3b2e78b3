// SPDX-License-Identifier: GPL-3.0-or-later
// The joints that a mesh can be posed by, and the knots of stick figures as they are drawn.
#pragma once

#include <string_view>
#include <vector>

#include "core/ground/types.h"

namespace bricol {

/// What vertices of a stick figure carry. Its bones are loose edges.
namespace stick_name {
inline constexpr std::string_view girth = "girth";     ///< vec2, vertex: radius across and over, metres
inline constexpr std::string_view roll = "roll";       ///< float, vertex: degrees the girth is turned about the bone
inline constexpr std::string_view root = "root";       ///< set of vertices: where the figure is held
inline constexpr std::string_view cut = "flat_end";    ///< set of vertices: ends that are flat
inline constexpr std::string_view stiff = "no_joint";  ///< set of vertices: knots that cannot be turned
}  // namespace stick_name

/// A joint of a mesh. How much a vertex follows it is the vertex attribute (float, 0..1) of the joint's name.
struct Joint {
    std::string name;         ///< "joint elbow"
    std::int32_t id = -1;     ///< of the knot it stands on
    Index parent = no_index;  ///< the joint it hangs on
    DVec3 at{0};              ///< where it stands (metres)
    DVec3 along{0, 0, 1};     ///< the way of the limb it turns, unit length
    DVec3 across{1, 0, 0};    ///< across that, unit length
    friend bool operator==(const Joint&, const Joint&) = default;
};

/// Parents stand before their children.
struct Skeleton {
    std::vector<Joint> joints;
    friend bool operator==(const Skeleton&, const Skeleton&) = default;
};

/// A knot of a stick figure as it is written.
struct DrawnStick {
    std::int32_t id = 0;
    std::int32_t from = -1;  ///< the knot its bone comes from; -1 for none
    DVec3 at{0};             ///< metres
    DVec2 girth{-1};         ///< radius across and over the bone (metres); negative when not given
    double roll = 0;         ///< radians the girth is turned about the bone
    std::string name;        ///< of its joint; empty for its number
    bool root = false;
    bool cut = false;   ///< an end here is flat
    bool joint = true;  ///< can be turned when the figure is posed
};
using DrawnSticks = std::vector<DrawnStick>;

}  // namespace bricol
