// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/still/relief.h"

#include <algorithm>
#include <cmath>

#include "core/ground/stop.h"
#include "core/kernels/noise.h"
#include "core/kernels/normals.h"
#include "core/kernels/ray_tree.h"

namespace bricol {

namespace {

constexpr float hard_cosine = 0.93969262f;  // 20 degrees
constexpr float own_face = 0.98f;           // cosine between a triangle's normal and its face's

float layers(const Vec3& p) {
    return gradient_noise(p.x, p.y, p.z, 3) + 0.5f * gradient_noise(2 * p.x, 2 * p.y, 2 * p.z, 5) +
           0.25f * gradient_noise(4 * p.x, 4 * p.y, 4 * p.z, 7);
}

Vec3 nearest_on(const Vec3& a, const Vec3& b, const Vec3& p) {
    const Vec3 way = b - a;
    return a + way * std::clamp(glm::dot(p - a, way) / std::max(glm::dot(way, way), 1e-20f), 0.0f, 1.0f);
}

}  // namespace

Vec3 with_relief(const Material& material, const Vec3& at, const Vec3& normal) {
    const Vec3 size = glm::max(material.bump_size, Vec3(1e-5f)), p = at / size;
    constexpr float step = 0.05f;
    const float here = layers(p);
    Vec3 slope;
    for (int i = 0; i < 3; ++i) {
        Vec3 beside = p;
        beside[i] += step;
        slope[i] = (layers(beside) - here) / step / size[i];
    }
    const Vec3 n = glm::normalize(normal);
    return glm::normalize(n - material.bump * (slope - n * glm::dot(slope, n)));
}

HardEdges::HardEdges(const Mesh& mesh, std::shared_ptr<RTCDeviceTy> device) : device_(std::move(device)) {
    const Topology& t = *mesh.topology;
    const Array<Vec3> normals = face_normals(mesh);
    const Adjacency& adjacency = t.adjacency();
    for (std::size_t e = 0; e < t.edges.size(); ++e) {
        const auto faces = adjacency.faces_of_edge(static_cast<Index>(e));
        if (faces.size() != 2) continue;
        const Vec3 one = normals[faces[0]], other = normals[faces[1]];
        if (glm::dot(one, other) < hard_cosine)
            edges_.push_back({(*mesh.positions)[t.edges[e][0]], (*mesh.positions)[t.edges[e][1]], {one, other}});
    }
    if (edges_.empty()) return;
    scene_ = rtcNewScene(device_.get());
    const RTCGeometry geometry = rtcNewGeometry(device_.get(), RTC_GEOMETRY_TYPE_USER);
    rtcSetGeometryUserPrimitiveCount(geometry, static_cast<unsigned>(edges_.size()));
    rtcSetGeometryUserData(geometry, edges_.data());
    rtcSetGeometryBoundsFunction(
        geometry,
        [](const RTCBoundsFunctionArguments* args) {
            const Edge& edge = static_cast<const Edge*>(args->geometryUserPtr)[args->primID];
            const Vec3 low = glm::min(edge.a, edge.b), high = glm::max(edge.a, edge.b);
            *args->bounds_o = {low.x, low.y, low.z, 0, high.x, high.y, high.z, 0};
        },
        nullptr);
    rtcCommitGeometry(geometry);
    rtcAttachGeometry(scene_, geometry);
    rtcReleaseGeometry(geometry);
    try {
        build_tree(scene_);
    } catch (...) {
        rtcReleaseScene(scene_);
        throw;
    }
}

HardEdges::~HardEdges() {
    if (scene_) rtcReleaseScene(scene_);
}

Vec3 HardEdges::rounded(const Vec3& at, const Vec3& flat, const Vec3& normal, float radius) const {
    if (!scene_) return normal;
    struct Question {
        const std::vector<Edge>* edges;
        Vec3 at, flat, normal, sum;
        float radius;
    } question{&edges_, at, glm::normalize(flat), glm::normalize(normal), Vec3(0), radius};
    RTCPointQuery query{at.x, at.y, at.z, 0, radius};
    RTCPointQueryContext context;
    rtcInitPointQueryContext(&context);
    rtcPointQuery(
        scene_, &query, &context,
        [](RTCPointQueryFunctionArguments* args) {
            auto& q = *static_cast<Question*>(args->userPtr);
            const Edge& edge = (*q.edges)[args->primID];
            const float distance = glm::distance(q.at, nearest_on(edge.a, edge.b, q.at));
            if (distance >= q.radius) return false;
            // Only edges of the face the place lies on: those of others are round another corner.
            const bool one = glm::dot(edge.normals[0], q.flat) > own_face,
                       other = glm::dot(edge.normals[1], q.flat) > own_face;
            if (!one && !other) return false;
            const Vec3 beyond = edge.normals[one ? 1 : 0];
            // Half of the turn between the faces on the edge, none a radius away.
            const float share = 1 - distance / q.radius,
                        angle = std::acos(std::clamp(glm::dot(q.normal, beyond), -1.0f, 1.0f)) / 2 * share;
            const Vec3 across = beyond - q.normal * glm::dot(beyond, q.normal);
            if (const float length = glm::length(across); length > 1e-6f) q.sum += across / length * std::tan(angle);
            return false;
        },
        &question);
    return glm::normalize(question.normal + question.sum);
}

}  // namespace bricol
