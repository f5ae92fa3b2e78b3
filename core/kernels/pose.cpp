// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/pose.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cctype>
#include <cmath>
#include <glm/gtc/matrix_transform.hpp>
#include <optional>

#include "core/ground/parallel.h"
#include "core/ground/stop.h"

namespace bricol {

namespace {

std::string small_letters(std::string_view text) {
    std::string out(text);
    for (char& c : out) c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    return out;
}

/// The upper three rows of a matrix in floats, column by column.
using Rows = std::array<float, 12>;

Rows rows_of(const glm::dmat4& m) {
    Rows out;
    for (int c = 0; c < 4; ++c)
        for (int r = 0; r < 3; ++r) out[static_cast<std::size_t>(3 * c + r)] = static_cast<float>(m[c][r]);
    return out;
}

/// A joint that a column of weights is there for, and how it moves apart from staying.
struct Mover {
    const float* weights;
    std::optional<Rows> move;  ///< less the identity; nothing for one that stays
};

/// Adds weights to their sums; whether one of them is not 0. Without a branch, so that several are looked at in one go.
bool added(const float* weights, std::size_t count, float* sums) {
    std::uint32_t bits = 0;
    for (std::size_t i = 0; i < count; ++i) {
        bits |= std::bit_cast<std::uint32_t>(weights[i]);
        sums[i] += weights[i];
    }
    return bits << 1 != 0;
}

}  // namespace

glm::dmat3 room_turn(const DVec3& degrees) {
    glm::dmat4 m = glm::rotate(glm::dmat4(1), glm::radians(degrees.z), DVec3(0, 0, 1));
    m = glm::rotate(m, glm::radians(degrees.y), DVec3(0, 1, 0));
    return glm::dmat3(glm::rotate(m, glm::radians(degrees.x), DVec3(1, 0, 0)));
}

glm::dmat3 own_turn(const Joint& joint, const DVec3& degrees) {
    const DVec3 across = glm::normalize(joint.across - joint.along * glm::dot(joint.across, joint.along));
    const glm::dmat3 frame(across, glm::cross(joint.along, across), joint.along);
    return frame * room_turn(degrees) * glm::transpose(frame);
}

glm::dmat3 mirrored_turn(const glm::dmat3& turn, int axis) {
    glm::dmat3 mirror(1);
    mirror[axis][axis] = -1;
    return mirror * turn * mirror;
}

std::vector<glm::dmat4> joint_moves(const Skeleton& skeleton, std::span<const JointTurn> turns) {
    std::vector<glm::dmat3> own(skeleton.joints.size(), glm::dmat3(1));
    for (const JointTurn& turn : turns) own[turn.joint] = turn.turn * own[turn.joint];
    std::vector<glm::dmat4> out(skeleton.joints.size(), glm::dmat4(1));
    for (std::size_t j = 0; j < out.size(); ++j) {
        const Joint& joint = skeleton.joints[j];
        if (joint.parent != no_index) out[j] = out[joint.parent];
        if (own[j] == glm::dmat3(1)) continue;
        out[j] = glm::translate(out[j], joint.at) * glm::dmat4(own[j]);
        out[j] = glm::translate(out[j], -joint.at);
    }
    return out;
}

std::optional<Index> joint_called(const Skeleton& skeleton, std::string_view name) {
    const std::string wanted = small_letters(name);
    for (std::size_t j = 0; j < skeleton.joints.size(); ++j)
        if (small_letters(skeleton.joints[j].name) == wanted) return static_cast<Index>(j);
    for (std::size_t j = 0; j < skeleton.joints.size(); ++j)
        if (skeleton.joints[j].id >= 0 && std::to_string(skeleton.joints[j].id) == wanted) return static_cast<Index>(j);
    return std::nullopt;
}

std::optional<Index> joint_of_other_side(const Skeleton& skeleton, Index joint) {
    const std::int32_t id = -1 - skeleton.joints[joint].id;
    for (std::size_t j = 0; j < skeleton.joints.size(); ++j)
        if (skeleton.joints[j].id == id && j != joint) return static_cast<Index>(j);
    return std::nullopt;
}

Posed posed(const Mesh& mesh, std::span<const glm::dmat4> moves) {
    Posed out{mesh, 0, 0};
    const Skeleton& skeleton = *mesh.skeleton;
    std::vector<Mover> movers;
    for (std::size_t j = 0; j < skeleton.joints.size(); ++j) {
        const auto* column = mesh.attributes.values<float>(Domain::vertex, skeleton.joints[j].name);
        if (!column) {
            ++out.lost_joints;
            continue;
        }
        movers.push_back({column->data(), {}});
        if (moves[j] != glm::dmat4(1)) movers.back().move = rows_of(moves[j] - glm::dmat4(1));
    }
    constexpr std::size_t block = 256;
    const std::size_t n = mesh.vertex_count(), blocks = (n + block - 1) / block;
    Array<Vec3> points(n);
    std::vector<std::size_t> without(blocks, 0);
    parallel::each(std::size_t(0), blocks, [&](std::size_t b) {
        stop_point();
        const std::size_t first = b * block, count = std::min(block, n - first);
        std::array<float, block> sum{};
        std::array<Rows, block> blend{};
        for (const Mover& mover : movers) {
            const float* column = mover.weights + first;
            // Most joints hold nothing of a stretch of a body.
            if (!added(column, count, sum.data()) || !mover.move) continue;
            for (std::size_t i = 0; i < count; ++i)
                if (const float w = column[i]; w != 0)
                    for (std::size_t e = 0; e < 12; ++e) blend[i][e] += w * (*mover.move)[e];
        }
        for (std::size_t i = 0; i < count; ++i) {
            const Vec3 p = (*mesh.positions)[first + i];
            const Rows& r = blend[i];
            if (!(sum[i] > 1e-6f)) {
                ++without[b];
                points[first + i] = p;
                continue;
            }
            const Vec3 by(r[0] * p.x + r[3] * p.y + r[6] * p.z + r[9], r[1] * p.x + r[4] * p.y + r[7] * p.z + r[10],
                          r[2] * p.x + r[5] * p.y + r[8] * p.z + r[11]);
            points[first + i] = p + by / sum[i];
        }
    });
    for (const std::size_t w : without) out.without_joint += w;
    out.mesh.positions = std::make_shared<const Array<Vec3>>(std::move(points));
    for (const Domain domain : {Domain::vertex, Domain::corner})
        out.mesh.attributes.remove(domain, attribute_name::normal);
    Skeleton moved = skeleton;
    for (std::size_t j = 0; j < moved.joints.size(); ++j) {
        Joint& joint = moved.joints[j];
        joint.at = DVec3(moves[j] * glm::dvec4(joint.at, 1));
        joint.along = glm::normalize(glm::dmat3(moves[j]) * joint.along);
        joint.across = glm::normalize(glm::dmat3(moves[j]) * joint.across);
    }
    out.mesh.skeleton = std::make_shared<const Skeleton>(std::move(moved));
    return out;
}

SkinWeights skin_weights(const Mesh& mesh) {
    SkinWeights out;
    const std::size_t n = mesh.vertex_count();
    out.joints.assign(n, {0, 0, 0, 0});
    out.weights.assign(n, Vec4(0));
    const auto& joints = mesh.skeleton->joints;
    for (std::size_t j = 0; j < joints.size(); ++j) {
        const auto* column = mesh.attributes.values<float>(Domain::vertex, joints[j].name);
        for (std::size_t v = 0; column && v < n; ++v) {
            const float w = (*column)[v];
            if (!(w > out.weights[v][3])) continue;
            int at = 3;  // the least of the four gives way, and the new one moves up
            for (; at > 0 && w > out.weights[v][at - 1]; --at) {
                out.weights[v][at] = out.weights[v][at - 1];
                out.joints[v][static_cast<std::size_t>(at)] = out.joints[v][static_cast<std::size_t>(at - 1)];
            }
            out.weights[v][at] = w;
            out.joints[v][static_cast<std::size_t>(at)] = static_cast<std::uint16_t>(j);
        }
    }
    for (std::size_t v = 0; v < n; ++v) {
        Vec4& w = out.weights[v];
        const float sum = w.x + w.y + w.z + w.w;
        w = sum > 0 ? w / sum : Vec4(1, 0, 0, 0);
        for (int i = 0; i < 4; ++i)  // the specification wants no joint where there is no weight
            if (w[i] == 0) out.joints[v][static_cast<std::size_t>(i)] = 0;
    }
    return out;
}

}  // namespace bricol
