// SPDX-License-Identifier: GPL-3.0-or-later
// Light paths, and Embree bare beside them: as many rays from the same places on the same triangles.
#include <atomic>
#include <benchmark/benchmark.h>
#include <embree3/rtcore.h>

#include "core/ground/parallel.h"
#include "core/kernels/primitives.h"
#include "core/kernels/split_vertices.h"
#include "core/still/numbers.h"
#include "core/still/occlusion.h"
#include "core/still/ray_scene.h"
#include "core/still/still.h"

using namespace bricol;

namespace {

/// Half a million triangles.
Mesh half_a_million() { return make_torus(0.4, 0.15, 700, 358); }

StillScene torus_on_sheet() {
    auto shape = std::make_shared<Shape>();
    shape->mesh = half_a_million();
    StillScene scene = framed_scene({shape}, framing_camera({shape}, 1.5));
    scene.shapes.push_back(bent_backdrop(scene.shapes, scene.camera, DVec3(0.7)));
    return scene;
}

void still_300x200(benchmark::State& state) {
    const StillScene scene = torus_on_sheet();
    StillOptions options;
    options.width = 300, options.height = 200, options.samples = 16;
    std::uint64_t rays = 0;
    const auto built = std::make_shared<const RayScene>(scene.shapes, scene.plain_colour, RayTrees::one);
    for (auto _ : state) {
        StillRun run(scene, options, built);
        while (run.samples() < options.samples) run.pass();
        rays += run.picture().rays;
    }
    state.counters["rays"] = benchmark::Counter(static_cast<double>(rays), benchmark::Counter::kIsRate);
}
BENCHMARK(still_300x200)->Unit(benchmark::kMillisecond)->UseRealTime();

/// A picture of the window's size full of bumps.
void occlusion_800x570(benchmark::State& state) {
    DepthView view;
    view.width = 800, view.height = 570;
    for (int y = 0; y < view.height; ++y)
        for (int x = 0; x < view.width; ++x)
            view.depth.push_back(4 + 0.3f * std::sin(0.05f * static_cast<float>(x)) *
                                         std::cos(0.06f * static_cast<float>(y)));
    for (auto _ : state) benchmark::DoNotOptimize(occlusion(view, 0.36f));
}
BENCHMARK(occlusion_800x570)->Unit(benchmark::kMillisecond)->UseRealTime();

void add_triangles(RTCDevice device, RTCScene scene, const Mesh& mesh) {
    const SplitMesh split = split_vertices(mesh);
    const RTCGeometry geometry = rtcNewGeometry(device, RTC_GEOMETRY_TYPE_TRIANGLE);
    std::copy_n(&split.positions[0].x, 3 * split.positions.size(),
                static_cast<float*>(rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3,
                                                            sizeof(Vec3), split.positions.size())));
    std::ranges::copy(split.triangles,
                      static_cast<Index*>(rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3,
                                                                  3 * sizeof(Index), split.triangles.size() / 3)));
    rtcCommitGeometry(geometry);
    rtcAttachGeometry(scene, geometry);
    rtcReleaseGeometry(geometry);
}

/// Embree's tree of the still's triangles, built as the still's own.
struct BareScene {
    RTCDevice device = rtcNewDevice(nullptr);
    RTCScene scene = rtcNewScene(device);
    explicit BareScene(const std::vector<ShapePtr>& shapes) {
        rtcSetSceneBuildQuality(scene, RTC_BUILD_QUALITY_HIGH);
        for (const ShapePtr& shape : shapes) add_triangles(device, scene, shape->mesh);
        rtcCommitScene(scene);
    }
    ~BareScene() { rtcReleaseScene(scene), rtcReleaseDevice(device); }
};

/// Into all directions from a place.
Vec3 any_way(PathNumbers& numbers) {
    const Vec2 a = numbers.two();
    const float z = 2 * a.x - 1, r = std::sqrt(std::max(0.0f, 1 - z * z)), phi = 2 * float_pi * a.y;
    return {r * std::cos(phi), r * std::sin(phi), z};
}

/// One path of rays as the still follows them, with no light reckoned: from the camera, at every hit a look toward a
/// lamp, on by chance. As many as the still has bounces; all surfaces there are as light as its own.
std::uint64_t bare_path(RTCScene scene, const StillScene& still, const DVec2& side, PathNumbers& numbers) {
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    const StillRay start = camera_ray(still.camera, 1.5, side, DVec2(0));
    Vec3 from(start.from), way(start.way);
    std::uint64_t rays = 0;
    for (int bounce = 0; bounce <= StillOptions{}.bounces; ++bounce) {
        RTCRayHit ray{};
        ray.ray = {from.x, from.y, from.z, 0, way.x, way.y, way.z, 0, 1e30f, ~0u, 0, 0};
        ray.hit.geomID = ray.hit.instID[0] = RTC_INVALID_GEOMETRY_ID;
        rtcIntersect1(scene, &context, &ray);
        ++rays;
        if (ray.hit.geomID == RTC_INVALID_GEOMETRY_ID) break;
        Vec3 flat = glm::normalize(Vec3(ray.hit.Ng_x, ray.hit.Ng_y, ray.hit.Ng_z));
        if (glm::dot(flat, way) > 0) flat = -flat;
        const Vec3 at = from + way * ray.ray.tfar + flat * 2e-5f;
        const Vec2 pick = numbers.two();
        const Vec3 lamp(
            still
                .lights[std::min(still.lights.size() - 1,
                                 static_cast<std::size_t>(pick.x * static_cast<float>(still.lights.size())))]
                .at);
        const Vec3 to = lamp + 0.3f * any_way(numbers) - at;
        const float far = glm::length(to);
        if (glm::dot(to, flat) > 0) {
            RTCRay shadow{at.x, at.y, at.z, 0, to.x / far, to.y / far, to.z / far, 0, far * 0.999f, ~0u, 0, 0};
            rtcOccluded1(scene, &context, &shadow);
            ++rays;
        }
        way = glm::normalize(flat + any_way(numbers));  // by the cosine
        from = at;
        if (bounce >= 3 && numbers.one() >= 0.7f) break;
    }
    return rays;
}

void embree_bare_paths(benchmark::State& state) {
    const StillScene still = torus_on_sheet();
    const BareScene bare(still.shapes);
    std::atomic<std::uint64_t> rays = 0;
    constexpr int width = 300, height = 200, samples = 16;
    for (auto _ : state)
        parallel::each(parallel::Numbers<int>(0, width * height, 256), [&](const auto& range) {
            std::uint64_t own = 0;
            for (int pixel = range.begin(); pixel != range.end(); ++pixel)
                for (std::uint32_t sample = 0; sample < samples; ++sample) {
                    PathNumbers numbers(static_cast<std::uint32_t>(pixel), sample, 1);
                    const Vec2 in_pixel = numbers.two();
                    own += bare_path(bare.scene, still,
                                     {(pixel % width + static_cast<double>(in_pixel.x)) / width,
                                      (pixel / width + static_cast<double>(in_pixel.y)) / height},
                                     numbers);
                }
            rays += own;
        });
    state.counters["rays"] = benchmark::Counter(static_cast<double>(rays), benchmark::Counter::kIsRate);
}
BENCHMARK(embree_bare_paths)->Unit(benchmark::kMillisecond)->UseRealTime();

/// From points round the torus into all directions, one ray in two asked only whether something is in its way; the same
/// triangles as in the still, in one tree.
void embree_bare_rays(benchmark::State& state) {
    const RTCDevice device = rtcNewDevice(nullptr);
    const RTCScene scene = rtcNewScene(device);
    for (const ShapePtr& shape : torus_on_sheet().shapes) add_triangles(device, scene, shape->mesh);
    rtcCommitScene(scene);
    constexpr std::size_t count = 3000000;
    for (auto _ : state) {
        std::atomic<std::uint64_t> hits = 0;
        parallel::each(parallel::Numbers<std::size_t>(0, count, 4096), [&](const auto& range) {
            std::uint64_t own = 0;
            RTCIntersectContext context;
            rtcInitIntersectContext(&context);
            for (std::size_t i = range.begin(); i != range.end(); ++i) {
                PathNumbers numbers(static_cast<std::uint32_t>(i), 0, 1);
                const Vec2 a = numbers.two(), b = numbers.two();
                const Vec3 from(2 * a.x - 1, 2 * a.y - 1, 0.6f * b.x - 0.3f);
                const float z = 2 * b.y - 1, r = std::sqrt(1 - z * z), phi = 2 * float_pi * a.x * 17;
                RTCRayHit ray{};
                ray.ray = {from.x, from.y, from.z, 0, r * std::cos(phi), r * std::sin(phi), z, 0, 1e30f, ~0u, 0, 0};
                ray.hit.geomID = RTC_INVALID_GEOMETRY_ID;
                if (i % 2)
                    rtcIntersect1(scene, &context, &ray);
                else
                    rtcOccluded1(scene, &context, &ray.ray);
                own += ray.hit.geomID != RTC_INVALID_GEOMETRY_ID || ray.ray.tfar < 0;
            }
            hits += own;
        });
        benchmark::DoNotOptimize(hits.load());
    }
    state.counters["rays"] = benchmark::Counter(static_cast<double>(count) * static_cast<double>(state.iterations()),
                                                benchmark::Counter::kIsRate);
    rtcReleaseScene(scene);
    rtcReleaseDevice(device);
}
BENCHMARK(embree_bare_rays)->Unit(benchmark::kMillisecond)->UseRealTime();

}  // namespace
