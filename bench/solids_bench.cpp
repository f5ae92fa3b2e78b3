// SPDX-License-Identifier: GPL-3.0-or-later
// Bevels, walls, bars and copies beside their peers. Runs in core_bench.
#include <benchmark/benchmark.h>
#include <chrono>
#include <numbers>

#include "core/files/recipe_file.h"
#include "core/kernels/bevel.h"
#include "core/kernels/primitives.h"
#include "core/kernels/solids.h"
#include "core/kernels/struts.h"
#include "core/kernels/thicken.h"
#include "core/kernels/transform.h"
#include "core/make/make.h"

using namespace bricol;

namespace {

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
