// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/still/ray_scene.h"

#include <algorithm>
#include <embree3/rtcore.h>
#include <map>
#include <new>

#include "core/ground/stop.h"
#include "core/kernels/real_geometry.h"
#include "core/kernels/split_vertices.h"
#include "core/still/relief.h"

namespace bricol {

struct RayScene::Inside {
    /// A mesh as it is drawn: shared by all of its copies.
    struct DrawnMesh {
        SplitMesh split;
        std::vector<std::uint16_t> material;  // of every triangle: place in `materials`
        std::vector<Material> materials;
        std::vector<std::int32_t> numbers;
        bool closed = false;
        RTCScene scene = nullptr;
        ShapePtr shape;  // what it was made of
        std::shared_ptr<RTCDeviceTy> device;
        std::shared_ptr<const HardEdges> hard_edges;  // where a material rounds them
        DrawnMesh() = default;
        DrawnMesh(const DrawnMesh&) = delete;
        DrawnMesh& operator=(const DrawnMesh&) = delete;
        ~DrawnMesh() {
            if (scene) rtcReleaseScene(scene);
        }
    };

    struct Standing {
        std::size_t mesh;
        glm::mat4 place;
        glm::mat3 normals;
        Vec4 tint;
        std::int32_t part;
    };

    std::shared_ptr<RTCDeviceTy> device;
    RTCScene scene = nullptr;
    std::vector<std::shared_ptr<const DrawnMesh>> meshes;
    std::vector<Standing> standing;
    std::size_t built = 0;
    DVec3 plain_colour{0};

    ~Inside() {
        if (scene) rtcReleaseScene(scene);
    }

    std::size_t add_mesh(const ShapePtr& shape) {
        const Mesh& mesh = shape->mesh;
        auto drawn = std::make_shared<DrawnMesh>();
        drawn->shape = shape;
        drawn->device = device;
        drawn->split = split_vertices(mesh);
        const Ties& ties = mesh.topology->ties();
        drawn->closed = ties.border_edges == 0 && ties.non_manifold_edges == 0;
        Material plain;
        plain.colour = Vec3(plain_colour);
        drawn->materials.push_back(plain);
        drawn->numbers.push_back(0);
        std::map<std::int32_t, std::uint16_t> known;
        const auto* number = mesh.attributes.values<std::int32_t>(Domain::face, attribute_name::material);
        drawn->material.resize(drawn->split.triangle_face.size(), 0);
        for (std::size_t i = 0; i < drawn->material.size() && number; ++i) {
            const std::int32_t n = (*number)[drawn->split.triangle_face[i]];
            const auto [found, fresh] = known.try_emplace(n, 0);
            const Material* material = fresh ? find_material(mesh.materials.get(), n) : nullptr;
            if (material) {
                found->second = static_cast<std::uint16_t>(drawn->materials.size());
                drawn->materials.push_back(*material);
                drawn->numbers.push_back(n);
            }
            drawn->material[i] = found->second;
        }
        // White below colours of points, as everywhere they are shown.
        if (!drawn->split.colours.empty()) drawn->materials[0].colour = Vec3(1);
        drawn->scene = rtcNewScene(device.get());
        const RTCGeometry geometry = rtcNewGeometry(device.get(), RTC_GEOMETRY_TYPE_TRIANGLE);
        const SplitMesh& split = drawn->split;
        auto* points = static_cast<float*>(rtcSetNewGeometryBuffer(
            geometry, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3, sizeof(Vec3), split.positions.size()));
        auto* corners = static_cast<Index*>(rtcSetNewGeometryBuffer(
            geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3, 3 * sizeof(Index), split.triangles.size() / 3));
        if (!points || !corners) throw std::bad_alloc();
        std::copy_n(&split.positions[0].x, 3 * split.positions.size(), points);
        std::ranges::copy(split.triangles, corners);
        rtcCommitGeometry(geometry);
        rtcAttachGeometry(drawn->scene, geometry);
        rtcReleaseGeometry(geometry);
        rtcCommitScene(drawn->scene);
        if (std::ranges::any_of(drawn->materials, [](const Material& m) { return m.rounding > 0; }))
            drawn->hard_edges = std::make_shared<const HardEdges>(mesh, device);
        ++built;
        meshes.push_back(std::move(drawn));
        return meshes.size() - 1;
    }

    void add_place(std::size_t mesh, const glm::mat4& place, const Vec4& tint, std::int32_t part) {
        const glm::mat3 turn(place);
        if (glm::determinant(turn) == 0) return;
        standing.push_back({mesh, place, glm::transpose(glm::inverse(turn)), tint, part});
        const RTCGeometry geometry = rtcNewGeometry(device.get(), RTC_GEOMETRY_TYPE_INSTANCE);
        rtcSetGeometryInstancedScene(geometry, meshes[mesh]->scene);
        rtcSetGeometryTransform(geometry, 0, RTC_FORMAT_FLOAT4X4_COLUMN_MAJOR, &place[0][0]);
        rtcCommitGeometry(geometry);
        rtcAttachGeometryByID(scene, geometry, static_cast<unsigned>(standing.size() - 1));
        rtcReleaseGeometry(geometry);
    }
};

RayScene::RayScene(const std::vector<ShapePtr>& shapes, const DVec3& plain_colour, const RayScene* before)
    : inside_(std::make_unique<Inside>()) {
    const bool again = before && before->inside_->plain_colour == plain_colour;
    inside_->plain_colour = plain_colour;
    inside_->device =
        again ? before->inside_->device
              : std::shared_ptr<RTCDeviceTy>(rtcNewDevice(nullptr), [](RTCDevice d) { rtcReleaseDevice(d); });
    std::map<const Shape*, std::shared_ptr<const Inside::DrawnMesh>> known;
    if (again)
        for (const auto& mesh : before->inside_->meshes) known.emplace(mesh->shape.get(), mesh);
    inside_->scene = rtcNewScene(inside_->device.get());
    rtcSetSceneBuildQuality(inside_->scene, RTC_BUILD_QUALITY_HIGH);
    for (std::size_t p = 0; p < shapes.size(); ++p)
        for (const PlacedMesh& placed : placed_meshes(shapes[p])) {
            stop_point();
            if (placed.shape->mesh.face_count() == 0) continue;
            std::size_t mesh = inside_->meshes.size();
            if (const auto same = known.find(placed.shape.get()); same != known.end())
                inside_->meshes.push_back(same->second);
            else
                mesh = inside_->add_mesh(placed.shape);
            for (std::size_t i = 0; i < placed.places.size(); ++i)
                inside_->add_place(mesh, placed.places[i], placed.tints.empty() ? Vec4(1) : placed.tints[i],
                                   static_cast<std::int32_t>(p));
        }
    rtcCommitScene(inside_->scene);
}

std::size_t RayScene::built() const { return inside_->built; }

std::size_t RayScene::triangles() const {
    std::size_t sum = 0;
    for (const auto& mesh : inside_->meshes) sum += mesh->split.triangles.size() / 3;
    return sum;
}

std::vector<ShiningTriangle> RayScene::shining() const {
    std::vector<ShiningTriangle> list;
    for (const Inside::Standing& standing : inside_->standing) {
        const Inside::DrawnMesh& mesh = *inside_->meshes[standing.mesh];
        if (std::ranges::all_of(mesh.materials, [](const Material& m) { return m.emission == Vec3(0); })) continue;
        const auto at = [&](std::size_t corner) {
            return Vec3(standing.place * Vec4(mesh.split.positions[mesh.split.triangles[corner]], 1));
        };
        for (std::size_t t = 0; t < mesh.material.size(); ++t)
            if (const Vec3 light = mesh.materials[mesh.material[t]].emission; light != Vec3(0))
                list.push_back({at(3 * t), at(3 * t + 1) - at(3 * t), at(3 * t + 2) - at(3 * t), light});
    }
    return list;
}

RayScene::~RayScene() = default;

RayHit RayScene::along(const Vec3& from, const Vec3& way) const {
    RTCRayHit ray{};
    ray.ray = {from.x, from.y, from.z, 0, way.x, way.y, way.z, 0, 1e30f, ~0u, 0, 0};
    ray.hit.geomID = ray.hit.instID[0] = RTC_INVALID_GEOMETRY_ID;
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    rtcIntersect1(inside_->scene, &context, &ray);
    RayHit hit;
    if (ray.hit.geomID == RTC_INVALID_GEOMETRY_ID) return hit;
    const Inside::Standing& standing = inside_->standing[ray.hit.instID[0]];
    const Inside::DrawnMesh& mesh = *inside_->meshes[standing.mesh];
    const SplitMesh& split = mesh.split;
    const Index* corner = &split.triangles[3 * std::size_t(ray.hit.primID)];
    const RTCHit& on = ray.hit;
    const float u = on.u, v = on.v, w = 1 - u - v;
    hit.distance = ray.ray.tfar;
    const auto at = [&](std::size_t k) { return split.positions[corner[k]]; };
    const Vec3 own = w * at(0) + u * at(1) + v * at(2);
    hit.at = Vec3(standing.place * Vec4(own, 1));
    const auto turned = [&](const Vec3& n) {
        const Vec3 t = standing.normals * n;
        const float length = glm::length(t);
        return length > 0 ? t / length : Vec3(0, 0, 1);
    };
    const Vec3 flat = glm::cross(at(1) - at(0), at(2) - at(0));
    Vec3 smooth = w * split.normals[corner[0]] + u * split.normals[corner[1]] + v * split.normals[corner[2]];
    const std::uint16_t material = mesh.material[ray.hit.primID];
    hit.material = &mesh.materials[material];
    if (hit.material->rounding > 0 && mesh.hard_edges)
        smooth = mesh.hard_edges->rounded(own, flat, smooth, hit.material->rounding);
    if (hit.material->bump > 0) smooth = with_relief(*hit.material, own, smooth);
    hit.flat = turned(flat);
    hit.normal = turned(smooth);
    hit.material_number = mesh.numbers[material];
    hit.colour = hit.material->colour * Vec3(standing.tint);
    if (!split.colours.empty())
        hit.colour *= Vec3(w * split.colours[corner[0]] + u * split.colours[corner[1]] + v * split.colours[corner[2]]);
    hit.part = standing.part;
    hit.thin = !mesh.closed;
    const bool behind = glm::dot(hit.flat, way) > 0;
    hit.inside = behind && !hit.thin;
    if (behind) hit.flat = -hit.flat;
    if (glm::dot(hit.normal, hit.flat) < 0) hit.normal = -hit.normal;
    // Smooth normals near an outline may look away from the eye.
    if (glm::dot(hit.normal, way) > -1e-3f) hit.normal = hit.flat;
    return hit;
}

bool RayScene::blocked(const Vec3& from, const Vec3& way, float distance) const {
    RTCRay ray{from.x, from.y, from.z, 0, way.x, way.y, way.z, 0, distance, ~0u, 0, 0};
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    rtcOccluded1(inside_->scene, &context, &ray);
    return ray.tfar < 0;
}

}  // namespace bricol
