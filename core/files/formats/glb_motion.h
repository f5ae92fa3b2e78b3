// SPDX-License-Identifier: GPL-3.0-or-later
// Tracks of a binary glTF file: where nodes stand and how far morph targets pull, key by key.
#pragma once

#include "core/files/formats/glb_body.h"

namespace bricol {

/// A place taken apart as glTF animates it; a mirroring one has a negative size along x.
struct MovedTurnedSized {
    Vec3 move{0};
    Vec4 turn{0, 0, 0, 1};  ///< quaternion, x y z w
    Vec3 size{1};
};
MovedTurnedSized taken_apart(const glm::mat4& place);

/// All tracks of a file, in one animation.
class GlbMotion {
public:
    explicit GlbMotion(GlbBody& body) : body_(body) {}

    /// A node's places in the file's own directions and units, one a key. Nodes that are animated have no matrix: the
    /// first key goes into the node.
    void places(std::size_t node, const std::vector<float>& seconds, const std::vector<glm::mat4>& places);
    /// One morph target a key, each pulled wholly at its own.
    void targets(std::size_t node, const std::vector<float>& seconds, std::size_t count);
    void finish();

private:
    std::size_t times(const std::vector<float>& seconds);
    void track(std::size_t node, const char* path, std::size_t input, std::size_t output);

    GlbBody& body_;
    OrderedJson samplers_ = OrderedJson::array(), channels_ = OrderedJson::array();
    std::map<std::vector<float>, std::size_t> times_;
};

}  // namespace bricol
