// SPDX-License-Identifier: GPL-3.0-or-later
// Turning the joints of a mesh.
#pragma once

#include <array>
#include <optional>
#include <span>
#include <vector>

#include "core/shape/mesh.h"
#include "core/shape/skeleton.h"

namespace bricol {

/// A turn of one joint about its own place.
struct JointTurn {
    Index joint = 0;
    glm::dmat3 turn{1};
};

/// About the room's axes: degrees about x, then y, then z.
glm::dmat3 room_turn(const DVec3& degrees);
/// About a joint's own: across its limb, over it, and along it.
glm::dmat3 own_turn(const Joint& joint, const DVec3& degrees);
/// The same turn seen in a mirror across an axis (0 to 2).
glm::dmat3 mirrored_turn(const glm::dmat3& turn, int axis);

/// How every joint moves when some are turned, each about itself and all that hang on it along with it: its parent's
/// move, then its own turn about where it stands. As glTF 2.0 puts node transforms together (Khronos, section 3.5.3).
std::vector<glm::dmat4> joint_moves(const Skeleton& skeleton, std::span<const JointTurn> turns);

/// The joint called so, or whose knot has that number ("4"); nothing when there is none. Capitals do not matter.
std::optional<Index> joint_called(const Skeleton& skeleton, std::string_view name);
/// The joint of the mirrored knot.
std::optional<Index> joint_of_other_side(const Skeleton& skeleton, Index joint);

struct Posed {
    Mesh mesh;
    std::size_t without_joint = 0;  ///< points that follow no joint and stay
    std::size_t lost_joints = 0;    ///< joints that no point follows any more: their values are gone
};
/// Every vertex moved by the blend of its joints' moves (linear blend skinning, as glTF 2.0's skins do, section
/// 3.7.3.3); joints stand where they went. Weights that do not sum to 1 are taken as shares of their sum. NORMAL is
/// dropped, everything else carried. Runs on all threads, to the same bytes. O(vertices x joints that move).
Posed posed(const Mesh& mesh, std::span<const glm::dmat4> moves);

/// The four joints that each vertex follows most, as skins of files keep them; weights sum to 1. What follows no joint
/// follows the first. O(vertices x joints).
struct SkinWeights {
    Array<std::array<std::uint16_t, 4>> joints;
    Array<Vec4> weights;
};
SkinWeights skin_weights(const Mesh& mesh);

}  // namespace bricol
