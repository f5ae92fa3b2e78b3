// SPDX-License-Identifier: GPL-3.0-or-later
// Booleans beside their peers, their growth, and those of the demo kit. Runs in core_bench.
#include <benchmark/benchmark.h>

#include <cmath>
#include <cstdio>
#include <nlohmann/json.hpp>
#include <numbers>
#include <unistd.h>

#include "bench/cgal_peer.h"
#include "core/files/kits.h"
#include "core/files/recipe_file.h"
#include "core/kernels/boolean.h"
#include "core/kernels/primitives.h"
#include "core/kernels/real_geometry.h"
#include "core/kernels/solids.h"
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

void run_manifold(benchmark::State& state, ManifoldPeer& peer, const char* which) {
    peer.ask();  // the first call warms its just-in-time compiler
    double triangles = 0;
    for (auto _ : state) {
        const nlohmann::json answer = peer.ask();
        if (!answer.contains(which)) {
            state.SkipWithError("no answer; run npm ci in tests/node");
            break;
        }
        state.SetIterationTime(answer[which].get<double>() / 1000);
        triangles = answer["triangles"];
    }
    state.counters["faces"] = triangles;
}

void boolean_100_balls_manifold(benchmark::State& state, const char* which) {
    static ManifoldPeer peer([] {
        nlohmann::json meshes = nlohmann::json::array({soup(pitted().body)});
        for (const Mesh& ball : pitted().balls) meshes.push_back(soup(ball));
        return nlohmann::json{{"kind", "difference"}, {"meshes", meshes}};
    }());
    run_manifold(state, peer, which);
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

void boolean_large_manifold(benchmark::State& state, const char* which) {
    const Mesh ball = make_geodesic_sphere(1, 71);
    ManifoldPeer peer({{"kind", "difference"},
                       {"meshes", nlohmann::json::array({soup(ball), soup(moved(ball, {0.70001, 0.2, 0.1}))})}});
    run_manifold(state, peer, which);
}
BENCHMARK_CAPTURE(boolean_large_manifold, operation_only, "operation")->Unit(benchmark::kMillisecond)->UseManualTime();

// ---- growth: balls of 20 x frequency^2 triangles each, crossing along a seam of about 6 x frequency ----------------

void boolean_growth(benchmark::State& state) {
    const Mesh ball = make_geodesic_sphere(1, static_cast<int>(state.range(0)));
    for (auto _ : state) {
        state.PauseTiming();
        static double nudge = 0;
        const std::array<Mesh, 1> other = {moved(ball, {0.7 + (nudge += 1e-5), 0.2, 0.1})};
        state.ResumeTiming();
        benchmark::DoNotOptimize(boolean_of(ball, other, BooleanKind::subtract).mesh.face_count());
    }
    state.counters["triangles"] = 40.0 * static_cast<double>(state.range(0) * state.range(0));
}
BENCHMARK(boolean_growth)->Arg(5)->Arg(16)->Arg(50)->Arg(158)->Arg(224)->Unit(benchmark::kMillisecond)->UseRealTime();

// ---- the demo kit's ------------------------------------------------------------------------------------------------

/// A boolean step of a demo piece with what flows into it, again and again.
void boolean_of_demo(benchmark::State& state, const char* file, const char* part, std::vector<std::string> operands,
                     BooleanKind kind) {
    const std::string folder = DEMO_FOLDER;
    const auto recipe = load_recipe(folder + "/" + file);
    if (!recipe) return state.SkipWithError("no such recipe");
    MakeOptions options;
    options.environment = environment_in(folder);
    const Made made = Maker().make(*recipe, options);
    std::vector<Mesh> meshes;
    for (const std::string& operand : operands) {
        const StepOutcome* outcome = made.step(*recipe, part, operand);
        if (!outcome) return state.SkipWithError("no such step");
        meshes.push_back(real_geometry(outcome->shape)->mesh);
    }
    std::size_t faces = 0;
    for (auto _ : state) {
        state.PauseTiming();  // fresh points, so that nothing known about the body is left over
        static double nudge = 0;
        Shape shape;
        shape.mesh = meshes[0];
        const Mesh body = transformed(shape, placement({nudge += 1e-6, 0, 0}, DVec3(0), DVec3(1), DVec3(0))).mesh;
        state.ResumeTiming();
        faces = boolean_of(body, std::span(meshes).subspan(1), kind).mesh.face_count();
    }
    state.counters["faces"] = static_cast<double>(faces);
}
BENCHMARK_CAPTURE(boolean_of_demo, capstan, "capstan.bricol", "drum", {"slim", "both"}, BooleanKind::unite)
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();
BENCHMARK_CAPTURE(boolean_of_demo, helmet, "helmet.bricol", "helmet", {"wall", "plug", "neck_at"},
                  BooleanKind::subtract)
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();
BENCHMARK_CAPTURE(boolean_of_demo, rock, "rock.bricol", "rock", {"rough", "balls"}, BooleanKind::subtract)
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();

}  // namespace
