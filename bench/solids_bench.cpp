// SPDX-License-Identifier: GPL-3.0-or-later
// Booleans, bevels, walls, bars and copies beside their peers. Runs in core_bench.
#include <benchmark/benchmark.h>
#include <chrono>
#include <cstdio>
#include <nlohmann/json.hpp>
#include <numbers>
#include <unistd.h>

#include "bench/cgal_peer.h"
#include "core/files/recipe_file.h"
#include "core/kernels/bevel.h"
#include "core/kernels/boolean.h"
#include "core/kernels/primitives.h"
#include "core/kernels/solids.h"
#include "core/kernels/struts.h"
#include "core/kernels/thicken.h"
#include "core/kernels/transform.h"
#include "core/make/make.h"

using namespace bricol;

namespace {

Mesh moved(const Mesh& mesh, const DVec3& by) {
    Shape shape;
    shape.mesh = mesh;
    return transformed(shape, placement(by, {7, 11, 13}, DVec3(1), DVec3(0))).mesh;
}

// ---- a body of 10 580 triangles minus 100 balls of 320, many of which overlap
// ----------------------------------------

struct Pitted {
    Mesh body = make_geodesic_sphere(1, 23);
    std::vector<Mesh> balls;
    Pitted() {
        const Mesh ball = make_geodesic_sphere(0.17, 4);
        for (int i = 0; i < 100; ++i) {  // spread over the body by the golden angle
            const double z = 1 - 2 * (i + 0.5) / 100, r = std::sqrt(1 - z * z),
                         a = i * std::numbers::pi * (3 - std::sqrt(5.0));
            balls.push_back(moved(ball, {r * std::cos(a), r * std::sin(a), z}));
        }
    }
};
const Pitted& pitted() {
    static const Pitted scene;
    return scene;
}

void boolean_100_balls_ours(benchmark::State& state) {
    std::size_t faces = 0;
    for (auto _ : state) {
        // Fresh points every time, as a turned dial would give: nothing known about the operands is left over.
        state.PauseTiming();
        static double nudge = 0;
        const Mesh body = moved(pitted().body, {nudge += 1e-5, 0, 0});
        state.ResumeTiming();
        const BooleanResult result = boolean_of(body, pitted().balls, BooleanKind::subtract);
        faces = result.mesh.face_count();
    }
    state.counters["faces"] = static_cast<double>(faces);
}
BENCHMARK(boolean_100_balls_ours)->Unit(benchmark::kMillisecond)->UseRealTime();

nlohmann::json soup(const Mesh& mesh) {
    nlohmann::json points = nlohmann::json::array();
    for (const Vec3& p : *mesh.positions)
        for (int i = 0; i < 3; ++i) points.push_back(p[i]);
    return {{"points", points}, {"triangles", mesh.topology->corner_vertex}};
}

/// manifold-3d in a Node process of its own, asked line by line and timed by itself.
class ManifoldPeer {
public:
    explicit ManifoldPeer(const nlohmann::json& job) {
        int down[2], up[2];
        if (pipe(down) || pipe(up)) return;
        if (fork() == 0) {
            dup2(down[0], 0), dup2(up[1], 1);
            for (const int end : {down[0], down[1], up[0], up[1]}) close(end);
            if (chdir(NODE_FOLDER) == 0) execlp("node", "node", "manifold.mjs", nullptr);
            _exit(1);
        }
        close(down[0]), close(up[1]);
        to_ = fdopen(down[1], "w"), from_ = fdopen(up[0], "r");
        first_ = job.dump();
    }
    ~ManifoldPeer() {
        if (to_) fclose(to_);
        if (from_) fclose(from_);
    }
    nlohmann::json ask() {
        std::fprintf(to_, "%s\n", first_.empty() ? "again" : first_.c_str());
        std::fflush(to_);
        first_.clear();
        char* line = nullptr;
        std::size_t size = 0;
        const auto length = getline(&line, &size, from_);
        const std::string text = length > 0 ? std::string(line, static_cast<std::size_t>(length)) : "{}";
        free(line);
        return nlohmann::json::parse(text);
    }

private:
    FILE *to_ = nullptr, *from_ = nullptr;
    std::string first_;
};

ManifoldPeer& manifold_peer() {
    static ManifoldPeer peer([] {
        nlohmann::json meshes = nlohmann::json::array({soup(pitted().body)});
        for (const Mesh& ball : pitted().balls) meshes.push_back(soup(ball));
        return nlohmann::json{{"kind", "difference"}, {"meshes", meshes}};
    }());
    return peer;
}

void boolean_100_balls_manifold(benchmark::State& state, const char* which) {
    manifold_peer().ask();  // the first call warms its just-in-time compiler
    double triangles = 0;
    for (auto _ : state) {
        const nlohmann::json answer = manifold_peer().ask();
        if (!answer.contains(which)) {
            state.SkipWithError("no answer; run npm ci in tests/node");
            break;
        }
        state.SetIterationTime(answer[which].get<double>() / 1000);
        triangles = answer["triangles"];
    }
    state.counters["faces"] = triangles;
}
BENCHMARK_CAPTURE(boolean_100_balls_manifold, whole, "whole")->Unit(benchmark::kMillisecond)->UseManualTime();
BENCHMARK_CAPTURE(boolean_100_balls_manifold, operation_only, "operation")
    ->Unit(benchmark::kMillisecond)
    ->UseManualTime();

// ---- Drums with both ends in one plane -----------------------------------------------------------------------------

/// Turned by so many millionths of a degree.
void boolean_drums_in_one_plane(benchmark::State& state) {
    const Mesh drum = make_cylinder({0.5, 1, 100, 1, CapStyle::face, 1});
    Shape other;
    other.mesh = drum;
    const std::array<Mesh, 1> turned = {
        transformed(other, placement(DVec3(0), {0, 0, static_cast<double>(state.range(0)) * 1e-6}, DVec3(1), DVec3(0)))
            .mesh};
    for (auto _ : state) benchmark::DoNotOptimize(boolean_of(drum, turned, BooleanKind::unite).mesh.face_count());
}
BENCHMARK(boolean_drums_in_one_plane)
    ->Arg(1)
    ->Arg(10000)
    ->Arg(1000000)
    ->Arg(17000000)
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();

void boolean_drums_side_by_side(benchmark::State& state) {
    const Mesh drum = make_cylinder({0.5, 1, 200, 1, CapStyle::face, 1});
    const std::array<Mesh, 1> beside = {moved(drum, {0.5, 0, 0})};
    for (auto _ : state) benchmark::DoNotOptimize(boolean_of(drum, beside, BooleanKind::unite).mesh.face_count());
}
BENCHMARK(boolean_drums_side_by_side)->Unit(benchmark::kMillisecond)->UseRealTime();

// ---- 100 820 with 100 820 triangles -------------------------------------------------------------------------------

void boolean_large_ours(benchmark::State& state) {
    const Mesh ball = make_geodesic_sphere(1, 71);
    std::size_t faces = 0;
    for (auto _ : state) {
        state.PauseTiming();
        static double nudge = 0;
        const std::array<Mesh, 1> other = {moved(ball, {0.7 + (nudge += 1e-5), 0.2, 0.1})};
        state.ResumeTiming();
        faces = boolean_of(ball, other, BooleanKind::subtract).mesh.face_count();
    }
    state.counters["faces"] = static_cast<double>(faces);
}
BENCHMARK(boolean_large_ours)->Unit(benchmark::kMillisecond)->UseRealTime();

void boolean_large_cgal_bare(benchmark::State& state) {
    const Mesh ball = make_geodesic_sphere(1, 71);
    CgalDifference peer(ball, moved(ball, {0.70001, 0.2, 0.1}));
    std::size_t faces = 0;
    for (auto _ : state) {
        state.PauseTiming();
        peer.prepare();
        state.ResumeTiming();
        faces = peer.run();
    }
    state.counters["faces"] = static_cast<double>(faces);
}
BENCHMARK(boolean_large_cgal_bare)->Unit(benchmark::kMillisecond)->UseRealTime();

// ---- edges, walls, bars, copies -----------------------------------------------------------------------------------

void bevel_10k_faces(benchmark::State& state) {
    const Mesh mesh = make_torus(1, 0.4, 125, 80);
    const Array<float> widths(mesh.edge_count(), 0.004f);
    BevelOptions options;
    options.segments = 2;
    std::size_t faces = 0;
    for (auto _ : state) faces = bevelled_edges(mesh, widths, options).mesh.face_count();
    state.counters["faces"] = static_cast<double>(faces);
}
BENCHMARK(bevel_10k_faces)->Unit(benchmark::kMillisecond)->UseRealTime();

void thicken_100k_faces(benchmark::State& state) {
    const Mesh mesh = make_torus(1, 0.4, 400, 250);
    for (auto _ : state) benchmark::DoNotOptimize(thickened(mesh, {0.01, 0, true}));
}
BENCHMARK(thicken_100k_faces)->Unit(benchmark::kMillisecond)->UseRealTime();

void struts_100k_faces(benchmark::State& state) {
    const Mesh mesh = make_torus(1, 0.4, 400, 250);
    StrutOptions options;
    options.thickness = 0.002;
    for (auto _ : state) benchmark::DoNotOptimize(struts(mesh, options));
}
BENCHMARK(struts_100k_faces)->Unit(benchmark::kMillisecond)->UseRealTime();

void array_of_1000_instances(benchmark::State& state) {
    const auto recipe = recipe_from_text(
        R"({"bricol":1,"dials":[{"name":"fan","value":360,"min":0,"max":360}],"parts":[{"name":"p","steps":[
        {"id":"part","step":"torus","radius":0.02,"tube":0.008,"ring_segments":125,"tube_segments":80},
        {"id":"out","step":"transform","move":[4,0,0]},
        {"id":"copies","step":"array","kind":"radial","count":1000,"total":"= fan"}]}]})");
    if (!recipe) return state.SkipWithError("recipe");
    Maker maker;
    maker.make(*recipe);
    Recipe now = *recipe;
    for (auto _ : state) {
        state.PauseTiming();
        now.dials[0].value -= 0.01;
        state.ResumeTiming();
        benchmark::DoNotOptimize(maker.make(now));
    }
}
BENCHMARK(array_of_1000_instances)->Unit(benchmark::kMillisecond)->UseRealTime();

}  // namespace
