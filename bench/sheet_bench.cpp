// SPDX-License-Identifier: GPL-3.0-or-later
// Noise, nearest places, rays, scattering, remeshing, simplifying and attribute formulas beside their peers.
#include <benchmark/benchmark.h>
#include <cmath>
#include <embree3/rtcore.h>
#include <meshoptimizer.h>
#include <numbers>
#include <random>
#include <tbb/global_control.h>
#include <tbb/parallel_for.h>
#define STB_PERLIN_IMPLEMENTATION
#pragma GCC diagnostic push
#pragma GCC diagnostic ignored "-Wunused-function"
#include <stb/stb_perlin.h>
#pragma GCC diagnostic pop

#include "bench/cgal_peer.h"
#include "core/formula/elements.h"
#include "core/kernels/noise.h"
#include "core/kernels/primitives.h"
#include "core/kernels/project.h"
#include "core/kernels/quads.h"
#include "core/kernels/remesh.h"
#include "core/kernels/scatter.h"
#include "core/kernels/simplify.h"
#include "core/kernels/solids.h"
#include "core/kernels/triangulate.h"

using namespace bricol;

namespace {

std::vector<Vec3> places(std::size_t n, float reach) {
    std::mt19937 random(1);
    std::uniform_real_distribution<float> range(-reach, reach);
    std::vector<Vec3> out(n);
    for (Vec3& p : out) p = {range(random), range(random), range(random)};
    return out;
}

// ---- noise: a million places, five layers --------------------------------------------------------------------------

void noise_1m(benchmark::State& state) {
    const tbb::global_control threads(tbb::global_control::max_allowed_parallelism,
                                      static_cast<std::size_t>(state.range(0)));
    const std::vector<Vec3> p = places(1000000, 3);
    std::vector<float> out(p.size());
    for (auto _ : state) fractal_noise(p, {}, out);
    benchmark::DoNotOptimize(out.data());
}
BENCHMARK(noise_1m)->Arg(1)->Arg(2)->Unit(benchmark::kMillisecond)->UseRealTime();

void noise_1m_stb_bare(benchmark::State& state) {
    const std::vector<Vec3> p = places(1000000, 3);
    std::vector<float> out(p.size());
    for (auto _ : state)
        for (std::size_t i = 0; i < p.size(); ++i)
            out[i] = stb_perlin_fbm_noise3(p[i].x, p[i].y, p[i].z, 2.0f, 0.5f, 5);
    benchmark::DoNotOptimize(out.data());
}
BENCHMARK(noise_1m_stb_bare)->Unit(benchmark::kMillisecond)->UseRealTime();

// ---- nearest places and rays: 100 000 of each against 100 000 triangles --------------------------------------------

Mesh hundred_thousand() { return make_torus(1, 0.4, 250, 200); }

/// Points up to 0.05 off the surface.
std::vector<Vec3> near_points(const Mesh& mesh) {
    ScatterOptions options;
    options.count = 100000;
    std::vector<Vec3> out;
    std::mt19937 random(3);
    std::uniform_real_distribution<float> off(-0.05f, 0.05f);
    for (const ScatterPoint& p : scattered_on(scatter_surface(mesh, {}, {}), options))
        out.push_back(p.at + p.normal * off(random));
    return out;
}

void nearest_100k(benchmark::State& state) {
    const Mesh mesh = hundred_thousand();
    const SurfaceFinder finder(mesh);
    const std::vector<Vec3> points = near_points(mesh);
    std::vector<SurfaceHit> hits(points.size());
    for (auto _ : state) finder.nearest(points, hits, 0.1);
    benchmark::DoNotOptimize(hits.data());
}
BENCHMARK(nearest_100k)->Unit(benchmark::kMillisecond)->UseRealTime();

void rays_100k(benchmark::State& state) {
    const Mesh mesh = hundred_thousand();
    const SurfaceFinder finder(mesh);
    const std::vector<Vec3> from = places(100000, 1.5f), ways = places(100000, 1);
    std::vector<float> found(from.size());
    for (auto _ : state)
        tbb::parallel_for(tbb::blocked_range<std::size_t>(0, from.size(), 512), [&](const auto& range) {
            for (std::size_t i = range.begin(); i < range.end(); ++i)
                found[i] = finder.first(DVec3(from[i]), DVec3(glm::normalize(ways[i]))).distance;
        });
    benchmark::DoNotOptimize(found.data());
}
BENCHMARK(rays_100k)->Unit(benchmark::kMillisecond)->UseRealTime();

/// The same rays as projecting has them, with the place of every hit in double and the points led there.
void projected_100k(benchmark::State& state) {
    const Mesh mesh = hundred_thousand();
    const SurfaceFinder finder(mesh);
    const std::vector<Vec3> from = places(100000, 1.5f), ways = places(100000, 1);
    const ProjectOptions options{.by = ProjectBy::normals, .both_ways = false};
    for (auto _ : state) benchmark::DoNotOptimize(projected(from, ways, finder, options));
}
BENCHMARK(projected_100k)->Unit(benchmark::kMillisecond)->UseRealTime();

/// Embree on the same triangles with nothing of ours between, its searches on both threads as ours.
struct BareEmbree {
    RTCDevice device = rtcNewDevice("start_threads=0");
    RTCScene scene = rtcNewScene(device);
    std::vector<Vec4> points;
    std::vector<std::array<unsigned, 3>> triangles;
    explicit BareEmbree(const Mesh& mesh) {
        for (const Vec3& p : *mesh.positions) points.emplace_back(p, 0);
        const Triangles cut = triangulated(mesh);
        for (std::size_t i = 0; i < cut.count(); ++i)
            triangles.push_back({mesh.topology->corner_vertex[cut.corners[3 * i]],
                                 mesh.topology->corner_vertex[cut.corners[3 * i + 1]],
                                 mesh.topology->corner_vertex[cut.corners[3 * i + 2]]});
        RTCGeometry geometry = rtcNewGeometry(device, RTC_GEOMETRY_TYPE_TRIANGLE);
        rtcSetSharedGeometryBuffer(geometry, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3, points.data(), 0,
                                   sizeof(Vec4), points.size());
        rtcSetSharedGeometryBuffer(geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3, triangles.data(), 0, 12,
                                   triangles.size());
        rtcSetSceneFlags(scene, RTC_SCENE_FLAG_ROBUST);
        rtcCommitGeometry(geometry);
        rtcAttachGeometry(scene, geometry);
        rtcReleaseGeometry(geometry);
        rtcCommitScene(scene);
    }
    ~BareEmbree() { rtcReleaseScene(scene), rtcReleaseDevice(device); }
};

struct BareSearch {
    const BareEmbree* mesh;
    Vec3 at;
    float best;
    Vec3 place;
};

/// The usual closest point of a triangle, as Embree's own tutorial has it.
Vec3 closest(const Vec3& p, const Vec3& a, const Vec3& b, const Vec3& c) {
    const Vec3 ab = b - a, ac = c - a, ap = p - a;
    const float d1 = glm::dot(ab, ap), d2 = glm::dot(ac, ap);
    if (d1 <= 0 && d2 <= 0) return a;
    const Vec3 bp = p - b;
    const float d3 = glm::dot(ab, bp), d4 = glm::dot(ac, bp);
    if (d3 >= 0 && d4 <= d3) return b;
    const Vec3 cp = p - c;
    const float d5 = glm::dot(ab, cp), d6 = glm::dot(ac, cp);
    if (d6 >= 0 && d5 <= d6) return c;
    const float vc = d1 * d4 - d3 * d2;
    if (vc <= 0 && d1 >= 0 && d3 <= 0) return a + ab * (d1 / (d1 - d3));
    const float vb = d5 * d2 - d1 * d6;
    if (vb <= 0 && d2 >= 0 && d6 <= 0) return a + ac * (d2 / (d2 - d6));
    const float va = d3 * d6 - d5 * d4;
    if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) return b + (c - b) * ((d4 - d3) / ((d4 - d3) + (d5 - d6)));
    const float scale = 1 / (va + vb + vc);
    return a + ab * (vb * scale) + ac * (vc * scale);
}

void nearest_100k_embree_bare(benchmark::State& state) {
    const Mesh mesh = hundred_thousand();
    const BareEmbree bare(mesh);
    const std::vector<Vec3> points = near_points(mesh);
    std::vector<Vec3> found(points.size());
    for (auto _ : state)
        tbb::parallel_for(tbb::blocked_range<std::size_t>(0, points.size(), 512), [&](const auto& range) {
            for (std::size_t i = range.begin(); i < range.end(); ++i) {
                BareSearch search{&bare, points[i], 0.1f, {}};
                RTCPointQueryContext context;
                rtcInitPointQueryContext(&context);
                RTCPointQuery query{points[i].x, points[i].y, points[i].z, 0, 0.1f};
                rtcPointQuery(
                    bare.scene, &query, &context,
                    [](RTCPointQueryFunctionArguments* a) {
                        BareSearch& s = *static_cast<BareSearch*>(a->userPtr);
                        const auto& t = s.mesh->triangles[a->primID];
                        const Vec3 q = closest(s.at, Vec3(s.mesh->points[t[0]]), Vec3(s.mesh->points[t[1]]),
                                               Vec3(s.mesh->points[t[2]]));
                        const float d = glm::distance(s.at, q);
                        if (d >= s.best) return false;
                        s.best = d, s.place = q;
                        a->query->radius = d;
                        return true;
                    },
                    &search);
                found[i] = search.place;
            }
        });
    benchmark::DoNotOptimize(found.data());
}
BENCHMARK(nearest_100k_embree_bare)->Unit(benchmark::kMillisecond)->UseRealTime();

void rays_100k_embree_bare(benchmark::State& state) {
    const Mesh mesh = hundred_thousand();
    const BareEmbree bare(mesh);
    const std::vector<Vec3> from = places(100000, 1.5f), ways = places(100000, 1);
    std::vector<float> found(from.size());
    for (auto _ : state)
        tbb::parallel_for(tbb::blocked_range<std::size_t>(0, from.size(), 512), [&](const auto& range) {
            for (std::size_t i = range.begin(); i < range.end(); ++i) {
                RTCIntersectContext context;
                rtcInitIntersectContext(&context);
                RTCRayHit ray{};
                const Vec3 d = glm::normalize(ways[i]);
                ray.ray.org_x = from[i].x, ray.ray.org_y = from[i].y, ray.ray.org_z = from[i].z;
                ray.ray.dir_x = d.x, ray.ray.dir_y = d.y, ray.ray.dir_z = d.z;
                ray.ray.tfar = 1e30f, ray.ray.mask = ~0u, ray.hit.geomID = RTC_INVALID_GEOMETRY_ID;
                rtcIntersect1(bare.scene, &context, &ray);
                found[i] = ray.ray.tfar;
            }
        });
    benchmark::DoNotOptimize(found.data());
}
BENCHMARK(rays_100k_embree_bare)->Unit(benchmark::kMillisecond)->UseRealTime();

// ---- scattering ----------------------------------------------------------------------------------------------------

void scatter_100k(benchmark::State& state) {
    const Mesh mesh = hundred_thousand();
    ScatterOptions options;
    options.count = 100000;
    for (auto _ : state) benchmark::DoNotOptimize(scattered_on(scatter_surface(mesh, {}, {}), options));
}
BENCHMARK(scatter_100k)->Unit(benchmark::kMillisecond)->UseRealTime();

// ---- remesh and simplify -------------------------------------------------------------------------------------------

RemeshTriangles rough_torus() {
    const Mesh mesh = make_torus(1, 0.4, 100, 50);
    const Triangles cut = triangulated(mesh);
    RemeshTriangles out;
    for (const Vec3& p : *mesh.positions) out.points.emplace_back(p);
    for (std::size_t i = 0; i < cut.count(); ++i)
        out.triangles.push_back({mesh.topology->corner_vertex[cut.corners[3 * i]],
                                 mesh.topology->corner_vertex[cut.corners[3 * i + 1]],
                                 mesh.topology->corner_vertex[cut.corners[3 * i + 2]]});
    return out;
}

void remesh_ours(benchmark::State& state) {
    const Mesh mesh = make_torus(1, 0.4, 100, 50);
    RemeshOptions options;
    options.edge = 0.04;
    options.hold_angle = 180;
    std::size_t faces = 0;
    for (auto _ : state) faces = remeshed(mesh, options).mesh.face_count();
    state.counters["faces"] = static_cast<double>(faces);
}
BENCHMARK(remesh_ours)->Unit(benchmark::kMillisecond)->UseRealTime();

void remesh_cgal_bare(benchmark::State& state) {
    const RemeshTriangles soup = rough_torus();
    std::size_t faces = 0;
    for (auto _ : state) faces = cgal_remesh(soup.points, soup.triangles, 0.04, 3);
    state.counters["faces"] = static_cast<double>(faces);
}
BENCHMARK(remesh_cgal_bare)->Unit(benchmark::kMillisecond)->UseRealTime();

/// 50 000 triangles to 5 000 quads.
void quads_of_50k(benchmark::State& state) {
    const Mesh mesh = with_triangles(make_torus(1, 0.4, 250, 100));
    QuadOptions options;
    options.faces = 5000;
    QuadResult made;
    for (auto _ : state) made = quad_remeshed(mesh, options);
    state.counters["quads"] = static_cast<double>(made.quads);
    state.counters["triangles"] = static_cast<double>(made.triangles);
}
BENCHMARK(quads_of_50k)->Unit(benchmark::kMillisecond)->UseRealTime();

void simplify_100k_to_10(benchmark::State& state) {
    const Mesh mesh = hundred_thousand();
    SimplifyOptions options;
    options.triangles = 10000;
    options.error = 1;
    for (auto _ : state) benchmark::DoNotOptimize(simplified(mesh, options));
}
BENCHMARK(simplify_100k_to_10)->Unit(benchmark::kMillisecond)->UseRealTime();

void simplify_100k_meshoptimizer_bare(benchmark::State& state) {
    const Mesh mesh = hundred_thousand();
    const Triangles cut = triangulated(mesh);
    std::vector<unsigned> indices, fewer;
    for (const Index c : cut.corners) indices.push_back(mesh.topology->corner_vertex[c]);
    fewer.resize(indices.size());
    std::size_t n = 0;
    for (auto _ : state)
        n = meshopt_simplify(fewer.data(), indices.data(), indices.size(), &(*mesh.positions)[0].x,
                             mesh.positions->size(), sizeof(Vec3), 30000, 1.0f, 0, nullptr);
    state.counters["triangles"] = static_cast<double>(n / 3);
}
BENCHMARK(simplify_100k_meshoptimizer_bare)->Unit(benchmark::kMillisecond)->UseRealTime();

// ---- formulas: a million elements ----------------------------------------------------------------------------------

Mesh million() { return make_grid(2, 2, 999, 999); }

void formula_1m(benchmark::State& state) {
    const tbb::global_control one(tbb::global_control::max_allowed_parallelism,
                                  static_cast<std::size_t>(state.range(0)));
    Shape shape;
    shape.mesh = million();
    const std::vector<FormulaRow> rows = {{"z", "y + 0.1 * sin(8 * x)", {}}};
    for (auto _ : state) benchmark::DoNotOptimize(with_rows(shape, Domain::vertex, rows, {}));
}
BENCHMARK(formula_1m)->Arg(1)->Arg(2)->Unit(benchmark::kMillisecond)->UseRealTime();

void formula_1m_written_in_cpp(benchmark::State& state) {
    const Mesh mesh = million();
    for (auto _ : state) {
        Array<Vec3> points = *mesh.positions;
        for (Vec3& p : points)
            p.z = static_cast<float>(static_cast<double>(p.y) +
                                     0.1 * std::sin(8 * static_cast<double>(p.x) * (std::numbers::pi / 180)));
        benchmark::DoNotOptimize(points.data());
    }
}
BENCHMARK(formula_1m_written_in_cpp)->Unit(benchmark::kMillisecond)->UseRealTime();

}  // namespace
