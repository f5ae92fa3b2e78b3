// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/surface_finder.h"

#include <algorithm>
#include <cmath>
#include <embree3/rtcore.h>
#include <stdexcept>
#include <tbb/task_arena.h>

#include "core/ground/stop.h"
#include "core/kernels/ray_tree.h"
#include "core/kernels/triangulate.h"
#include "core/ground/parallel.h"

namespace bricol {

namespace {

/// One device for the whole program. It is not told how many threads to use: Embree would bind all of TBB to that.
RTCDevice device() {
    static const RTCDevice made = rtcNewDevice("start_threads=0,set_affinity=0");
    return made;
}

/// Nearest place on a triangle and its corner weights. C. Ericson, "Real-Time Collision Detection", 2005, 5.1.5.
DVec3 nearest_share(const DVec3& p, const DVec3& a, const DVec3& b, const DVec3& c) {
    const DVec3 ab = b - a, ac = c - a, ap = p - a;
    const double d1 = glm::dot(ab, ap), d2 = glm::dot(ac, ap);
    if (d1 <= 0 && d2 <= 0) return {1, 0, 0};
    const DVec3 bp = p - b;
    const double d3 = glm::dot(ab, bp), d4 = glm::dot(ac, bp);
    if (d3 >= 0 && d4 <= d3) return {0, 1, 0};
    const double vc = d1 * d4 - d3 * d2;
    if (vc <= 0 && d1 >= 0 && d3 <= 0) {
        const double v = d1 / (d1 - d3);
        return {1 - v, v, 0};
    }
    const DVec3 cp = p - c;
    const double d5 = glm::dot(ab, cp), d6 = glm::dot(ac, cp);
    if (d6 >= 0 && d5 <= d6) return {0, 0, 1};
    const double vb = d5 * d2 - d1 * d6;
    if (vb <= 0 && d2 >= 0 && d6 <= 0) {
        const double w = d2 / (d2 - d6);
        return {1 - w, 0, w};
    }
    const double va = d3 * d6 - d5 * d4;
    if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
        const double w = (d4 - d3) / ((d4 - d3) + (d5 - d6));
        return {0, 1 - w, w};
    }
    const double sum = va + vb + vc;
    return {va / sum, vb / sum, vc / sum};
}

/// The same in single precision, as the search needs only the distance.
float nearest_distance2(const Vec3& p, const Vec3& a, const Vec3& b, const Vec3& c) {
    const Vec3 ab = b - a, ac = c - a, ap = p - a;
    const float d1 = glm::dot(ab, ap), d2 = glm::dot(ac, ap);
    const auto away = [&](const Vec3& q) {
        const Vec3 d = p - q;
        return glm::dot(d, d);
    };
    if (d1 <= 0 && d2 <= 0) return glm::dot(ap, ap);
    const Vec3 bp = p - b;
    const float d3 = glm::dot(ab, bp), d4 = glm::dot(ac, bp);
    if (d3 >= 0 && d4 <= d3) return glm::dot(bp, bp);
    const float vc = d1 * d4 - d3 * d2;
    if (vc <= 0 && d1 >= 0 && d3 <= 0) return away(a + ab * (d1 / (d1 - d3)));
    const Vec3 cp = p - c;
    const float d5 = glm::dot(ab, cp), d6 = glm::dot(ac, cp);
    if (d6 >= 0 && d5 <= d6) return glm::dot(cp, cp);
    const float vb = d5 * d2 - d1 * d6;
    if (vb <= 0 && d2 >= 0 && d6 <= 0) return away(a + ac * (d2 / (d2 - d6)));
    const float va = d3 * d6 - d5 * d4;
    if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) return away(b + (c - b) * ((d4 - d3) / ((d4 - d3) + (d5 - d6))));
    const float scale = 1 / (va + vb + vc);
    return away(a + ab * (vb * scale) + ac * (vc * scale));
}

}  // namespace

struct SurfaceFinder::Scene {
    Mesh mesh;
    std::vector<std::array<Index, 3>> corners, vertices;
    std::vector<std::array<Vec3, 3>>
        places;  ///< of the corners, together: a search jumps about, and each jump costs a miss
    std::vector<Index> face;
    std::vector<Vec4> points;  // padded: Embree reads 16 bytes at a time
    RTCScene scene = nullptr;

    Scene() = default;
    Scene(const Scene&) = delete;
    Scene& operator=(const Scene&) = delete;
    ~Scene() {
        if (scene) rtcReleaseScene(scene);
    }
    std::array<DVec3, 3> at(Index t) const { return {DVec3(places[t][0]), DVec3(places[t][1]), DVec3(places[t][2])}; }
    SurfaceHit hit(Index t, const DVec3& point) const {
        const auto [a, b, c] = at(t);
        SurfaceHit out;
        out.triangle = t;
        out.share = nearest_share(point, a, b, c);
        out.at = a * out.share.x + b * out.share.y + c * out.share.z;
        out.distance = glm::distance(point, out.at);
        return out;
    }
};

namespace {

struct Search {
    const std::array<Vec3, 3>* places;
    Vec3 at;
    float best = 0;  // squared
    Index triangle = no_index;
};

bool look_at(RTCPointQueryFunctionArguments* arguments) {
    Search& search = *static_cast<Search*>(arguments->userPtr);
    const auto& [a, b, c] = search.places[arguments->primID];
    const float d = nearest_distance2(search.at, a, b, c);
    if (d > search.best || (d == search.best && arguments->primID >= search.triangle)) return false;
    const bool shorter = d < search.best;
    search.best = d;
    search.triangle = arguments->primID;
    if (!shorter) return false;
    // A hair more than the distance found, so that an equally near triangle of a lower number is still looked at.
    arguments->query->radius = std::sqrt(d) * 1.000001f;
    return true;
}

}  // namespace

SurfaceFinder::SurfaceFinder(const Mesh& mesh) : scene_(std::make_unique<Scene>()) {
    Scene& s = *scene_;
    s.mesh = mesh;
    const Triangles cut = triangulated(mesh);
    const Array<Vec3>& p = *mesh.positions;
    for (std::size_t t = 0; t < cut.face.size(); ++t) {
        stop_point(t);
        const std::array<Index, 3> corners = {cut.corners[3 * t], cut.corners[3 * t + 1], cut.corners[3 * t + 2]};
        std::array<Index, 3> v{};
        for (int i = 0; i < 3; ++i)
            v[static_cast<std::size_t>(i)] = mesh.topology->corner_vertex[corners[static_cast<std::size_t>(i)]];
        const DVec3 area = glm::cross(DVec3(p[v[1]]) - DVec3(p[v[0]]), DVec3(p[v[2]]) - DVec3(p[v[0]]));
        if (!(glm::dot(area, area) > 0)) continue;
        s.corners.push_back(corners);
        s.vertices.push_back(v);
        s.places.push_back({p[v[0]], p[v[1]], p[v[2]]});
        s.face.push_back(cut.face[t]);
    }
    if (s.vertices.empty()) return;
    s.points.resize(p.size());
    for (std::size_t i = 0; i < p.size(); ++i) s.points[i] = Vec4(p[i], 0);
    if (!device()) throw std::runtime_error("Embree could not be started");
    s.scene = rtcNewScene(device());
    rtcSetSceneBuildQuality(s.scene, RTC_BUILD_QUALITY_MEDIUM);
    rtcSetSceneFlags(s.scene, RTC_SCENE_FLAG_ROBUST);
    RTCGeometry geometry = rtcNewGeometry(device(), RTC_GEOMETRY_TYPE_TRIANGLE);
    rtcSetSharedGeometryBuffer(geometry, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3, s.points.data(), 0, sizeof(Vec4),
                               s.points.size());
    rtcSetSharedGeometryBuffer(geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3, s.vertices.data(), 0,
                               sizeof(s.vertices[0]), s.vertices.size());
    rtcSetGeometryPointQueryFunction(geometry, look_at);
    rtcCommitGeometry(geometry);
    rtcAttachGeometry(s.scene, geometry);
    rtcReleaseGeometry(geometry);
    // One thread builds the tree, so that it is the same on every run.
    tbb::task_arena alone(1);
    alone.execute([&] { build_tree(s.scene); });
}

SurfaceFinder::~SurfaceFinder() = default;

bool SurfaceFinder::empty() const { return scene_->vertices.empty(); }
const Mesh& SurfaceFinder::mesh() const { return scene_->mesh; }
std::span<const std::array<Index, 3>> SurfaceFinder::triangles() const { return scene_->corners; }
std::span<const Index> SurfaceFinder::face_of() const { return scene_->face; }

SurfaceHit SurfaceFinder::nearest(const DVec3& point, double radius) const {
    if (empty()) return {};
    Search search{scene_->places.data(), Vec3(point), 3.4e38f, no_index};
    const auto reach = static_cast<float>(std::min(radius, 1.8e19));
    search.best = reach * reach;
    RTCPointQueryContext context;
    rtcInitPointQueryContext(&context);
    RTCPointQuery query{search.at.x, search.at.y, search.at.z, 0, reach};
    rtcPointQuery(scene_->scene, &query, &context, nullptr, &search);
    return search.triangle == no_index ? SurfaceHit{} : scene_->hit(search.triangle, point);
}

SurfaceRay SurfaceFinder::first(const DVec3& from, const DVec3& unit, double reach) const {
    if (empty()) return {};
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    RTCRayHit ray;
    ray.ray.org_x = static_cast<float>(from.x), ray.ray.org_y = static_cast<float>(from.y);
    ray.ray.org_z = static_cast<float>(from.z), ray.ray.tnear = 0;
    ray.ray.dir_x = static_cast<float>(unit.x), ray.ray.dir_y = static_cast<float>(unit.y);
    ray.ray.dir_z = static_cast<float>(unit.z), ray.ray.time = 0;
    ray.ray.tfar = static_cast<float>(std::min(reach, 1e30));
    ray.ray.mask = 0xffffffffu, ray.ray.id = 0, ray.ray.flags = 0;
    ray.hit.geomID = ray.hit.primID = ray.hit.instID[0] = RTC_INVALID_GEOMETRY_ID;
    rtcIntersect1(scene_->scene, &context, &ray);
    if (ray.hit.geomID == RTC_INVALID_GEOMETRY_ID) return {};
    __builtin_prefetch(&scene_->places[ray.hit.primID]);  // for its crossing, while further rays are followed
    return {ray.hit.primID, ray.ray.tfar};
}

/// Worked out again in double: T. Moller and B. Trumbore, 1997.
SurfaceHit SurfaceFinder::crossing(const SurfaceRay& ray, const DVec3& from, const DVec3& unit) const {
    SurfaceHit out;
    if (!ray) return out;
    const auto [a, b, c] = scene_->at(ray.triangle);
    const DVec3 ab = b - a, ac = c - a, cross = glm::cross(unit, ac);
    const double determinant = glm::dot(ab, cross);
    double u = 1.0 / 3, v = u;  // a ray in the plane of the triangle crosses it nowhere in particular
    if (std::abs(determinant) > 0) {
        const double share = 1 / determinant;
        const DVec3 s = from - a, q = glm::cross(s, ab);
        u = std::clamp(glm::dot(s, cross) * share, 0.0, 1.0);
        v = std::clamp(glm::dot(unit, q) * share, 0.0, 1.0 - u);
    }
    out.triangle = ray.triangle;
    out.share = {1 - u - v, u, v};
    out.at = a + ab * u + ac * v;
    out.distance = glm::distance(from, out.at);
    return out;
}

SurfaceHit SurfaceFinder::along(const DVec3& from, const DVec3& way, double reach) const {
    const double length = glm::length(way);
    if (!(length > 0)) return {};
    const DVec3 unit = way / length;
    return crossing(first(from, unit, reach * length), from, unit);
}

bool SurfaceFinder::inside(const DVec3& point) const {
    if (empty()) return false;
    // Directions without a pattern, so that no ray runs along a face of an ordinary shape.
    static constexpr std::array<std::array<double, 3>, 3> ways = {
        {{0.5773, 0.5521, 0.6016}, {-0.6211, 0.4327, -0.6534}, {0.1931, -0.8713, 0.4512}}};
    int votes = 0;
    for (const auto& w : ways) {
        const DVec3 way = glm::normalize(DVec3(w[0], w[1], w[2]));
        DVec3 from = point;
        int crossings = 0;
        for (; crossings < 10000; ++crossings) {
            const SurfaceHit hit = along(from, way);
            if (!hit) break;
            from = hit.at + way * (1e-6 + hit.distance * 1e-6);
        }
        votes += crossings % 2;
    }
    return votes >= 2;
}

void SurfaceFinder::nearest(std::span<const Vec3> points, std::span<SurfaceHit> hits, double start) const {
    parallel::each(parallel::Numbers<std::size_t>(0, points.size(), 512), [&](const auto& range) {
        stop_point();
        for (std::size_t i = range.begin(); i < range.end(); ++i) {
            hits[i] = start > 0 ? nearest(DVec3(points[i]), start) : SurfaceHit{};
            if (!hits[i]) hits[i] = nearest(DVec3(points[i]));
        }
    });
}

Mesh with_attributes_from(Mesh to, const SurfaceFinder& from) {
    const Mesh& old = from.mesh();
    if (from.empty()) return to;
    const Topology& t = *to.topology;
    const auto any_on = [&](Domain domain) {
        return std::ranges::any_of(old.attributes.all(), [&](const Attribute& a) {
            return a.domain == domain && a.name != attribute_name::normal;
        });
    };
    std::vector<SurfaceHit> at_vertices(any_on(Domain::vertex) ? t.vertex_count : 0),
        at_faces(any_on(Domain::face) ? t.face_count() : 0);
    if (!at_vertices.empty()) from.nearest(*to.positions, at_vertices);
    Array<Vec3> middles(at_faces.size());
    for (std::size_t f = 0; f < at_faces.size(); ++f) {
        stop_point(f);
        Vec3 sum(0);
        for (const Index v : t.face(f)) sum += (*to.positions)[v];
        middles[f] = sum / static_cast<float>(t.face(f).size());
    }
    if (!at_faces.empty()) from.nearest(middles, at_faces);
    for (const Attribute& a : old.attributes.all()) {
        if (a.name == attribute_name::normal ||
            (a.domain != Domain::vertex && a.domain != Domain::face && a.domain != Domain::whole))
            continue;
        if (a.domain == Domain::whole) {
            to.attributes.set(a);
            continue;
        }
        to.attributes.set(
            a.domain, a.name,
            std::visit(
                [&](const auto& values) -> Column {
                    using T = typename std::decay_t<decltype(values)>::value_type;
                    const auto& hits = a.domain == Domain::vertex ? at_vertices : at_faces;
                    Array<T> out(hits.size());
                    for (std::size_t i = 0; i < hits.size(); ++i) {
                        const SurfaceHit& hit = hits[i];
                        if (a.domain == Domain::face) {
                            out[i] = values[from.face_of()[hit.triangle]];
                            continue;
                        }
                        const auto& corners = from.triangles()[hit.triangle];
                        const auto value = [&](int c) {
                            return values[old.topology->corner_vertex[corners[static_cast<std::size_t>(c)]]];
                        };
                        if constexpr (std::is_integral_v<T>) {
                            out[i] = value(hit.share.x >= hit.share.y && hit.share.x >= hit.share.z ? 0
                                           : hit.share.y >= hit.share.z                             ? 1
                                                                                                    : 2);
                        } else {
                            out[i] = value(0) * static_cast<float>(hit.share.x) +
                                     value(1) * static_cast<float>(hit.share.y) +
                                     value(2) * static_cast<float>(hit.share.z);
                        }
                    }
                    return out;
                },
                *a.values));
    }
    to.materials = old.materials;
    to.skeleton = old.skeleton;
    return to;
}

Mesh with_attributes_from(Mesh to, const Mesh& from) {
    bool any = false;
    for (const Attribute& a : from.attributes.all()) {
        if (a.domain == Domain::whole) to.attributes.set(a);
        any |= (a.domain == Domain::vertex || a.domain == Domain::face) && a.name != attribute_name::normal;
    }
    to.materials = from.materials;
    to.skeleton = from.skeleton;
    return any ? with_attributes_from(std::move(to), SurfaceFinder(from)) : to;
}

}  // namespace bricol
