// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/still/ray_scene.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <embree3/rtcore.h>
#include <map>
#include <new>

#include "core/ground/stop.h"
#include "core/kernels/ray_tree.h"
#include "core/kernels/real_geometry.h"
#include "core/kernels/split_vertices.h"
#include "core/still/relief.h"

namespace bricol {

struct RayScene::Inside {
    /// What a hit reads of a place, side by side: on a large mesh every place is far from the last one.
    struct Vertex {
        Vec3 at, normal;
    };
    struct Triangle {
        std::array<Index, 3> corner;
        std::uint32_t material;  // place in `materials`
    };

    /// A mesh as it is drawn: shared by all of its copies.
    struct DrawnMesh {
        std::vector<Vertex> vertices;
        std::vector<Triangle> triangles;
        Array<Vec4> colours;  // of the vertices; empty when it has none
        std::vector<Material> materials;
        std::vector<std::int32_t> numbers;
        bool closed = false;
        RTCGeometry geometry = nullptr;
        RTCScene scene = nullptr;  // where it stands as a copy
        ShapePtr shape;            // what it was made of
        std::shared_ptr<RTCDeviceTy> device;
        std::shared_ptr<const HardEdges> hard_edges;  // where a material rounds them
        DrawnMesh() = default;
        DrawnMesh(const DrawnMesh&) = delete;
        DrawnMesh& operator=(const DrawnMesh&) = delete;
        ~DrawnMesh() {
            if (scene) rtcReleaseScene(scene);
            if (geometry) rtcReleaseGeometry(geometry);
        }
    };

    struct Standing {
        std::size_t mesh;
        bool moved;  // otherwise it stands as it was made
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

    /// Materials of the drawn mesh, and which each triangle has.
    void add_materials(DrawnMesh& drawn, const Mesh& mesh, const Array<Index>& face_of_triangle) const {
        Material plain;
        // White below colours of points, as everywhere they are shown.
        plain.colour = drawn.colours.empty() ? Vec3(plain_colour) : Vec3(1);
        drawn.materials.push_back(plain);
        drawn.numbers.push_back(0);
        const auto* number = mesh.attributes.values<std::int32_t>(Domain::face, attribute_name::material);
        if (!number) return;
        std::map<std::int32_t, std::uint32_t> known;
        for (std::size_t i = 0; i < drawn.triangles.size(); ++i) {
            const std::int32_t n = (*number)[face_of_triangle[i]];
            const auto [found, fresh] = known.try_emplace(n, 0);
            if (const Material* const material = fresh ? find_material(mesh.materials.get(), n) : nullptr) {
                found->second = static_cast<std::uint32_t>(drawn.materials.size());
                drawn.materials.push_back(*material);
                drawn.numbers.push_back(n);
            }
            drawn.triangles[i].material = found->second;
        }
    }

    std::size_t add_mesh(const ShapePtr& shape, bool as_copies) {
        const Mesh& mesh = shape->mesh;
        auto drawn = std::make_shared<DrawnMesh>();
        drawn->shape = shape;
        drawn->device = device;
        const Ties& ties = mesh.topology->ties();
        drawn->closed = ties.border_edges == 0 && ties.non_manifold_edges == 0;
        SplitMesh split = split_vertices(mesh);
        drawn->vertices.resize(split.positions.size());
        for (std::size_t v = 0; v < drawn->vertices.size(); ++v)
            drawn->vertices[v] = {split.positions[v], split.normals[v]};
        drawn->triangles.resize(split.triangle_face.size());
        for (std::size_t t = 0; t < drawn->triangles.size(); ++t)
            drawn->triangles[t] = {{split.triangles[3 * t], split.triangles[3 * t + 1], split.triangles[3 * t + 2]}, 0};
        drawn->colours = std::move(split.colours);
        add_materials(*drawn, mesh, split.triangle_face);
        drawn->geometry = rtcNewGeometry(device.get(), RTC_GEOMETRY_TYPE_TRIANGLE);
        // Embree reads four numbers of a place: the normal behind it is room enough.
        rtcSetSharedGeometryBuffer(drawn->geometry, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3,
                                   drawn->vertices.data(), 0, sizeof(Vertex), drawn->vertices.size());
        rtcSetSharedGeometryBuffer(drawn->geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3, drawn->triangles.data(),
                                   0, sizeof(Triangle), drawn->triangles.size());
        rtcCommitGeometry(drawn->geometry);
        if (as_copies) {
            drawn->scene = rtcNewScene(device.get());
            rtcAttachGeometry(drawn->scene, drawn->geometry);
            build_tree(drawn->scene);
        }
        if (std::ranges::any_of(drawn->materials, [](const Material& m) { return m.rounding > 0; }))
            drawn->hard_edges = std::make_shared<const HardEdges>(mesh, device);
        ++built;
        meshes.push_back(std::move(drawn));
        return meshes.size() - 1;
    }

    void add_place(std::size_t mesh, const glm::mat4& place, const Vec4& tint, std::int32_t part) {
        const glm::mat3 turn(place);
        if (glm::determinant(turn) == 0) return;
        standing.push_back({mesh, place != glm::mat4(1), place, glm::transpose(glm::inverse(turn)), tint, part});
        const auto number = static_cast<unsigned>(standing.size() - 1);
        if (!meshes[mesh]->scene) {
            rtcAttachGeometryByID(scene, meshes[mesh]->geometry, number);
            return;
        }
        const RTCGeometry geometry = rtcNewGeometry(device.get(), RTC_GEOMETRY_TYPE_INSTANCE);
        rtcSetGeometryInstancedScene(geometry, meshes[mesh]->scene);
        rtcSetGeometryTransform(geometry, 0, RTC_FORMAT_FLOAT4X4_COLUMN_MAJOR, &place[0][0]);
        rtcCommitGeometry(geometry);
        rtcAttachGeometryByID(scene, geometry, number);
        rtcReleaseGeometry(geometry);
    }
};

RayScene::RayScene(const std::vector<ShapePtr>& shapes, const DVec3& plain_colour, RayTrees trees,
                   const RayScene* before)
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
            if (placed.shape->mesh.face_count() == 0 || placed.places.empty()) continue;
            const bool as_copies =
                trees == RayTrees::of_each || placed.places.size() > 1 || placed.places[0] != glm::mat4(1);
            std::size_t mesh = inside_->meshes.size();
            if (const auto same = known.find(placed.shape.get());
                same != known.end() && (same->second->scene != nullptr) == as_copies)
                inside_->meshes.push_back(same->second);
            else
                mesh = inside_->add_mesh(placed.shape, as_copies);
            for (std::size_t i = 0; i < placed.places.size(); ++i)
                inside_->add_place(mesh, placed.places[i], placed.tints.empty() ? Vec4(1) : placed.tints[i],
                                   static_cast<std::int32_t>(p));
        }
    build_tree(inside_->scene);
}

std::size_t RayScene::built() const { return inside_->built; }

std::size_t RayScene::triangles() const {
    std::size_t sum = 0;
    for (const auto& mesh : inside_->meshes) sum += mesh->triangles.size();
    return sum;
}

std::vector<ShiningTriangle> RayScene::shining() const {
    std::vector<ShiningTriangle> list;
    for (const Inside::Standing& standing : inside_->standing) {
        const Inside::DrawnMesh& mesh = *inside_->meshes[standing.mesh];
        if (std::ranges::all_of(mesh.materials, [](const Material& m) { return m.emission == Vec3(0); })) continue;
        for (const Inside::Triangle& t : mesh.triangles) {
            const Vec3 light = mesh.materials[t.material].emission;
            if (light == Vec3(0)) continue;
            const auto at = [&](std::size_t k) {
                return Vec3(standing.place * Vec4(mesh.vertices[t.corner[k]].at, 1));
            };
            list.push_back({at(0), at(1) - at(0), at(2) - at(0), light});
        }
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
    const RTCHit& on = ray.hit;
    const Inside::Standing& standing =
        inside_->standing[on.instID[0] == RTC_INVALID_GEOMETRY_ID ? on.geomID : on.instID[0]];
    const Inside::DrawnMesh& mesh = *inside_->meshes[standing.mesh];
    const Inside::Triangle& triangle = mesh.triangles[on.primID];
    const Inside::Vertex &a = mesh.vertices[triangle.corner[0]], &b = mesh.vertices[triangle.corner[1]],
                         &c = mesh.vertices[triangle.corner[2]];
    const float u = on.u, v = on.v, w = 1 - u - v;
    hit.distance = ray.ray.tfar;
    const Vec3 own = w * a.at + u * b.at + v * c.at, flat = glm::cross(b.at - a.at, c.at - a.at);
    hit.at = standing.moved ? Vec3(standing.place * Vec4(own, 1)) : own;
    const auto turned = [&](const Vec3& n) {
        const Vec3 t = standing.moved ? standing.normals * n : n;
        const float length2 = glm::dot(t, t);
        return length2 > 0 ? t * (1 / std::sqrt(length2)) : Vec3(0, 0, 1);
    };
    Vec3 smooth = w * a.normal + u * b.normal + v * c.normal;
    hit.material = &mesh.materials[triangle.material];
    if (hit.material->rounding > 0 && mesh.hard_edges)
        smooth = mesh.hard_edges->rounded(own, flat, smooth, hit.material->rounding);
    if (hit.material->bump > 0) smooth = with_relief(*hit.material, own, smooth);
    hit.flat = turned(flat);
    hit.normal = turned(smooth);
    hit.material_number = mesh.numbers[triangle.material];
    hit.colour = hit.material->colour * Vec3(standing.tint);
    if (!mesh.colours.empty())
        hit.colour *= Vec3(w * mesh.colours[triangle.corner[0]] + u * mesh.colours[triangle.corner[1]] +
                           v * mesh.colours[triangle.corner[2]]);
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
