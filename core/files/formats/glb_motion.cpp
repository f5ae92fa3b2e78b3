// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/formats/glb_motion.h"

#include <glm/gtc/quaternion.hpp>

namespace bricol {

MovedTurnedSized taken_apart(const glm::mat4& place) {
    MovedTurnedSized out;
    glm::mat3 axes(place);
    out.move = Vec3(place[3]);
    out.size = Vec3(glm::length(axes[0]), glm::length(axes[1]), glm::length(axes[2]));
    if (glm::determinant(axes) < 0) out.size.x = -out.size.x;
    for (int i = 0; i < 3; ++i)
        if (out.size[i] != 0) axes[i] /= out.size[i];
    const glm::quat turn = glm::normalize(glm::quat_cast(axes));
    out.turn = Vec4(turn.x, turn.y, turn.z, turn.w);
    return out;
}

void GlbMotion::places(std::size_t node, const std::vector<float>& seconds, const std::vector<glm::mat4>& places) {
    Array<Vec3> moves, sizes;
    Array<Vec4> turns;
    for (const glm::mat4& place : places) {
        MovedTurnedSized one = taken_apart(place);
        if (!turns.empty() && glm::dot(turns.back(), one.turn) < 0) one.turn = -one.turn;  // the shorter way round
        moves.push_back(one.move);
        turns.push_back(one.turn);
        sizes.push_back(one.size);
    }
    OrderedJson& json = body_.json["nodes"][node];
    json.erase("matrix");
    json["translation"] = {moves[0].x, moves[0].y, moves[0].z};
    json["rotation"] = {turns[0].x, turns[0].y, turns[0].z, turns[0].w};
    json["scale"] = {sizes[0].x, sizes[0].y, sizes[0].z};
    const auto still = [](const auto& values) {
        return std::ranges::all_of(values, [&](const auto& v) { return v == values[0]; });
    };
    const std::size_t at = times(seconds);
    if (!still(moves)) track(node, "translation", at, body_.floats(std::move(moves), 0));
    if (!still(turns)) track(node, "rotation", at, body_.floats(std::move(turns), 0));
    if (!still(sizes)) track(node, "scale", at, body_.floats(std::move(sizes), 0));
}

void GlbMotion::targets(std::size_t node, const std::vector<float>& seconds, std::size_t count) {
    Array<float> shares(seconds.size() * count, 0.0f);
    for (std::size_t k = 0; k < seconds.size() && k < count; ++k) shares[k * count + k] = 1;
    track(node, "weights", times(seconds), body_.floats(std::move(shares), 0));
}

void GlbMotion::finish() {
    if (channels_.empty()) return;
    body_.json["animations"] =
        OrderedJson::array({{{"name", "frame"}, {"samplers", samplers_}, {"channels", channels_}}});
}

std::size_t GlbMotion::times(const std::vector<float>& seconds) {
    const auto [found, fresh] = times_.try_emplace(seconds);
    if (fresh) found->second = body_.bounded(Array<float>(seconds.begin(), seconds.end()));
    return found->second;
}

void GlbMotion::track(std::size_t node, const char* path, std::size_t input, std::size_t output) {
    channels_.push_back({{"sampler", samplers_.size()}, {"target", {{"node", node}, {"path", path}}}});
    samplers_.push_back({{"input", input}, {"interpolation", "LINEAR"}, {"output", output}});
}

}  // namespace bricol
