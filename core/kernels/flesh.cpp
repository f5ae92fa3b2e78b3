// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/flesh.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <set>

#include "core/ground/parallel.h"
#include "core/ground/stop.h"
#include "core/kernels/flesh_rounds.h"

namespace bricol {

namespace {

Mesh mesh_of_cage(const FleshCage& cage) {
    Array<Vec3> points(cage.points.size());
    for (std::size_t i = 0; i < points.size(); ++i) points[i] = Vec3(cage.points[i]);
    Array<Index> offsets(cage.quads.size() + 1), corners(4 * cage.quads.size());
    offsets[0] = 0;
    for (std::size_t q = 0; q < cage.quads.size(); ++q) {
        offsets[q + 1] = static_cast<Index>(4 * (q + 1));
        std::copy(cage.quads[q].begin(), cage.quads[q].end(), corners.begin() + static_cast<std::ptrdiff_t>(4 * q));
    }
    const auto count = static_cast<Index>(points.size());
    return Mesh(std::move(points), make_topology(count, std::move(offsets), std::move(corners)));
}

/// The joints that knots make: those that bones hang on, parents first.
struct JointList {
    std::shared_ptr<Skeleton> skeleton = std::make_shared<Skeleton>();
    std::vector<Index> of_knot;  ///< the joint that turns what hangs on a knot
};

JointList joints_of(const Sticks& sticks, const Skeleton* names) {
    JointList out;
    std::map<std::int32_t, std::string> named;
    if (names)
        for (const Joint& joint : names->joints) named[joint.id] = joint.name;
    out.of_knot.assign(sticks.knots.size(), no_index);
    std::set<std::string> taken;
    const auto visit = [&](Index k) {
        const Index in = sticks.parent[k];
        const Index above = in == no_index ? no_index : out.of_knot[sticks.bones[in].from];
        Index child = no_index;
        for (const Index b : sticks.bones_at[k])
            if (sticks.bones[b].from == k && child == no_index) child = b;
        const StickKnot& knot = sticks.knots[k];
        if ((child == no_index && in != no_index) || (!knot.joint && above != no_index)) {
            out.of_knot[k] = above;
            return;
        }
        Joint joint;
        joint.id = knot.id;
        const auto found = named.find(knot.id);
        std::string name = found != named.end() && !found->second.empty()
                               ? found->second
                               : fmt::format("joint {}", knot.id >= 0 ? knot.id : static_cast<std::int32_t>(k));
        for (int again = 2; !taken.insert(name).second; ++again) name = fmt::format("{} {}", name, again);
        joint.name = std::move(name);
        joint.parent = above;
        joint.at = knot.at;
        if (const Index b = child != no_index ? child : in; b != no_index)
            joint.along = sticks.bones[b].along, joint.across = sticks.bones[b].across;
        out.of_knot[k] = static_cast<Index>(out.skeleton->joints.size());
        out.skeleton->joints.push_back(std::move(joint));
    };
    for (const Index root : sticks.roots) visit(root);
    for (const StickBone& bone : sticks.bones)  // in order outward
        if (!bone.closes) visit(bone.to);
    return out;
}

/// How much each vertex follows each joint: all by the bone it lies on, and near others less with the distance.
void add_weights(const Sticks& sticks, const FleshCage& cage, JointList joints, Mesh& mesh) {
    const PointHomes homes(cage);
    const std::size_t n = mesh.vertex_count(), count = joints.skeleton->joints.size();
    std::vector<Array<float>> weights(count);
    for (Array<float>& column : weights) column.assign(n, 0.0f);
    parallel::each(parallel::Numbers<Index>(0, static_cast<Index>(n), 256), [&](const auto& range) {
        stop_point();
        std::vector<std::pair<Index, double>> share;
        for (Index v = range.begin(); v != range.end(); ++v) {
            const DVec3 p((*mesh.positions)[v]);
            double nearest = 1e30, sum = 0;
            share.clear();
            for (const Index b : homes.at(v)) {
                const double far = cage.fields[b].at(p).distance;
                nearest = std::min(nearest, far);
                share.emplace_back(b, far);
            }
            for (auto& [b, far] : share) {
                const double soft = std::max(1e-12, cage.fields[b].girth_near(p));
                const double w = std::max(0.0, 1 - (far - nearest) / soft);
                sum += far = w * w;
            }
            for (const auto& [b, w] : share)
                if (w > 0 && joints.of_knot[sticks.bones[b].from] != no_index)
                    weights[joints.of_knot[sticks.bones[b].from]][v] += static_cast<float>(w / sum);
        }
    });
    for (std::size_t q = 0; q < cage.quads.size(); ++q)
        if (const Index k = cage.quad_knot[q]; k != no_index)
            for (const Index v : cage.quads[q]) weights[joints.of_knot[k]][v] = 1;
    for (std::size_t j = 0; j < count; ++j)
        mesh.attributes.set(Domain::vertex, joints.skeleton->joints[j].name, std::move(weights[j]));
    mesh.skeleton = std::move(joints.skeleton);
}

/// The room between the flesh of two bones where they come nearest each other.
struct Room {
    double room = 0;
    DVec3 where{0};  ///< in the middle of it
};
Room room_between(const BoneField& a, const BoneField& b) {
    const DVec3 u = a.to() - a.from(), v = b.to() - b.from(), w = a.from() - b.from();
    const double uu = glm::dot(u, u), uv = glm::dot(u, v), vv = glm::dot(v, v), uw = glm::dot(u, w),
                 vw = glm::dot(v, w);
    const double d = uu * vv - uv * uv;
    double s = d > 1e-12 * uu * vv ? std::clamp((uv * vw - vv * uw) / d, 0.0, 1.0) : 0.0;
    const double t = std::clamp((uv * s + vw) / vv, 0.0, 1.0);
    s = std::clamp((uv * t - uw) / uu, 0.0, 1.0);
    const DVec3 p = a.from() + u * s, q = b.from() + v * t;
    const double girth_p = a.girth_near(p), girth_q = b.girth_near(q);
    return {glm::distance(p, q) - girth_p - girth_q, glm::mix(p, q, girth_p / (girth_p + girth_q))};
}

/// Whether two bones meet within the flesh of one that joins them, as limbs at one short bone do.
bool hidden_between(const Sticks& sticks, const FleshCage& cage, Index a, Index b, const DVec3& where) {
    for (const Index x : {sticks.bones[a].from, sticks.bones[a].to})
        for (const Index y : {sticks.bones[b].from, sticks.bones[b].to})
            for (const Index bone : sticks.bones_at[x]) {
                const StickBone& one = sticks.bones[bone];
                const bool joins = (one.from == x && one.to == y) || (one.from == y && one.to == x);
                if (joins && cage.fields[bone].at(where).distance < 0) return true;
            }
    return false;
}

std::vector<std::array<Index, 2>> crossing_bones(const Sticks& sticks, const FleshCage& cage) {
    struct Reach {
        double low, high;
        Index bone;
    };
    std::vector<Reach> order;
    for (Index b = 0; b < cage.fields.size(); ++b) {
        const BoneField& f = cage.fields[b];
        order.push_back({std::min(f.from().x, f.to().x) - f.reach(), std::max(f.from().x, f.to().x) + f.reach(), b});
    }
    std::sort(order.begin(), order.end(),
              [](const Reach& a, const Reach& b) { return std::tie(a.low, a.bone) < std::tie(b.low, b.bone); });
    std::vector<std::array<Index, 2>> out;
    for (std::size_t i = 0; i < order.size(); ++i) {
        stop_point();
        for (std::size_t j = i + 1; j < order.size() && order[j].low < order[i].high; ++j) {
            const Index a = std::min(order[i].bone, order[j].bone), b = std::max(order[i].bone, order[j].bone);
            if (std::binary_search(cage.near[a].begin(), cage.near[a].end(), b)) continue;
            const Room room = room_between(cage.fields[a], cage.fields[b]);
            if (room.room >= 0) continue;
            if (hidden_between(sticks, cage, a, b, room.where)) continue;
            out.push_back({a, b});
        }
    }
    std::sort(out.begin(), out.end());
    return out;
}

}  // namespace

Flesh flesh_of(const Sticks& sticks, const FleshOptions& options, const Skeleton* names) {
    Flesh out;
    FleshCage cage = flesh_cage(sticks, options.rings);
    out.swallowed = cage.swallowed;
    out.narrow = cage.narrow;
    out.too_many_at = cage.too_many_at;
    if (cage.too_many_at != no_index || cage.quads.empty()) return out;
    out.crossing = crossing_bones(sticks, cage);
    if (options.rings > 0) lead_out_rings(cage, sticks, options.blend);
    refine_cage(cage, sticks, options.rounds, options.blend);
    out.mesh = mesh_of_cage(cage);
    if (options.weights) add_weights(sticks, cage, joints_of(sticks, names), out.mesh);
    return out;
}

}  // namespace bricol
