// SPDX-License-Identifier: GPL-3.0-or-later
// Loops, what was made as numbers, bodies that settle, and files from outside; each beside what it is measured against.
#include <assimp/Importer.hpp>
#include <assimp/postprocess.h>
#include <assimp/scene.h>
#include <benchmark/benchmark.h>
#include <filesystem>
#include <fmt/format.h>

#include "core/files/export.h"
#include "core/files/files.h"
#include "core/files/read_shape.h"
#include "core/files/recipe_file.h"
#include "core/files/stock.h"
#include "core/make/graph.h"
#include "core/make/make.h"

using namespace bricol;
namespace fs = std::filesystem;

namespace {

Recipe recipe_of(const Json& steps) {
    return *recipe_from_text(Json{{"bricol", 1}, {"parts", Json::array({{{"name", "p"}, {"steps", steps}}})}}.dump());
}

Json kit(const Json& steps) {
    Json all = Json::array({{{"id", "it"}, {"step", "given_shape"}}});
    for (const Json& one : steps) all.push_back(one);
    return {{"bricol", 1}, {"parts", Json::array({{{"name", "one"}, {"steps", all}}})}};
}

Json pegs() {
    return Json::array(
        {{{"id", "peg"}, {"step", "box"}, {"size", {0.1, 0.1, 0.2}}},
         {{"id", "row"}, {"step", "array"}, {"count", 1000}, {"offset", {0.25, 0, 0}}, {"result", "real"}}});
}

const Json bevel = {{"id", "soft"}, {"step", "bevel"}, {"width", 0.01}};

void made(benchmark::State& state, const Json& steps) {
    const Recipe recipe = recipe_of(steps);
    MakeOptions options;
    options.environment = environment_in("");
    for (auto _ : state) benchmark::DoNotOptimize(Maker().make(recipe, options));
}

/// A thousand pieces bevelled in one go: what a loop over them is measured against.
void bevel_of_1000_pieces(benchmark::State& state) {
    Json steps = pegs();
    steps.push_back(bevel);
    made(state, steps);
}
BENCHMARK(bevel_of_1000_pieces)->Unit(benchmark::kMillisecond)->UseRealTime();

void each_of_1000_alike(benchmark::State& state) {
    Json steps = pegs();
    steps.push_back({{"id", "each"}, {"step", "each"}, {"kit", kit(Json::array({bevel}))}});
    made(state, steps);
}
BENCHMARK(each_of_1000_alike)->Unit(benchmark::kMillisecond)->UseRealTime();

void each_of_1000_different(benchmark::State& state) {
    Json steps = pegs();
    const Json own = {{"id", "own"}, {"step", "transform"}, {"size", {1, 1, "= 1 + share"}}};
    steps.push_back({{"id", "each"}, {"step", "each"}, {"kit", kit(Json::array({own, bevel}))}});
    made(state, steps);
}
BENCHMARK(each_of_1000_different)->Unit(benchmark::kMillisecond)->UseRealTime();

/// The graph of a recipe of many steps, with no formula that asks what was made, and with one.
void graph(benchmark::State& state, bool asks) {
    Json steps = Json::array({{{"id", "b"}, {"step", "box"}}});
    for (int i = 0; i < 500; ++i)
        steps.push_back({{"id", fmt::format("t{}", i)},
                         {"step", "transform"},
                         {"move", {asks && i == 250 ? "= b.made.size.x" : "= 1 + 2", 0.1, "= sin(30)"}}});
    const Recipe recipe = recipe_of(steps);
    for (auto _ : state) benchmark::DoNotOptimize(Graph(recipe));
}
BENCHMARK_CAPTURE(graph, nobody_asks_what_was_made, false)->Unit(benchmark::kMicrosecond);
BENCHMARK_CAPTURE(graph, one_of_500_asks, true)->Unit(benchmark::kMicrosecond);

/// A thousand pebbles poured onto the ground.
void pebbles_settle(benchmark::State& state) {
    made(state, Json::array({{{"id", "stone"}, {"step", "geodesic_sphere"}, {"radius", 0.05}, {"frequency", 4}},
                             {{"id", "flat"}, {"step", "transform"}, {"size", {1, 0.8, 0.6}}},
                             {{"id", "cloud"},
                              {"step", "array"},
                              {"kind", "grid"},
                              {"counts", {10, 10, 10}},
                              {"offset", {0.16, 0.14, 0.12}}},
                             {{"id", "high"}, {"step", "transform"}, {"move", {0, 0, 0.1}}},
                             {{"id", "lie"}, {"step", "settle"}, {"stir", 0.3}}}));
}
BENCHMARK(pebbles_settle)->Unit(benchmark::kMillisecond)->UseRealTime()->Iterations(1);

/// A part of the stock as it comes: an M12 bolt with its thread cut. Beside it the thread alone, lathed and welded:
/// what lies between is slicing, run-out, chamfer, shank, head and the union.
void stock_part(benchmark::State& state, const std::string& name, const std::string& until) {
    const std::string path = stock_path("stock:" + name);
    const Recipe whole = *load_recipe(path);
    Recipe recipe = whole;
    if (!until.empty()) {
        Part part = *whole.parts[0];
        const std::size_t last = step_index(part, until);
        part.steps.resize(last + 1);
        part.result.clear();
        recipe.parts[0] = std::make_shared<const Part>(part);
    }
    MakeOptions options;
    options.environment = environment_in(stock_folder());
    for (auto _ : state) benchmark::DoNotOptimize(Maker().make(recipe, options));
    state.counters["faces"] = static_cast<double>(Maker().make(recipe, options).faces(recipe));
}
BENCHMARK_CAPTURE(stock_part, hex_bolt_m12, "hex-bolt", "")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(stock_part, its_thread_alone, "hex-bolt", "thread_one")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(stock_part, spur_gear_24, "spur-gear", "")->Unit(benchmark::kMillisecond)->UseRealTime();

/// A ball of a million triangles in a file of one kind.
struct BigFile {
    fs::path path;
    std::string content;
    explicit BigFile(const std::string& suffix)
        : path(fs::temp_directory_path() / fmt::format("bricol-bench-{}.{}", ::getpid(), suffix)) {
        Shape ball;
        const Recipe recipe = recipe_of(Json::array({{{"id", "b"}, {"step", "geodesic_sphere"}, {"frequency", 224}}}));
        ball = *Maker().make(recipe).parts[0]->shape;
        const NamedShape named{"ball", std::make_shared<const Shape>(std::move(ball))};
        export_shapes({&named, 1}, path.string(), {});
        content = *read_file(path.string(), ~std::size_t(0) >> 1);
    }
    ~BigFile() { fs::remove(path); }
};

void import_by_assimp(benchmark::State& state, const char* suffix, unsigned after = 0) {
    const BigFile file(suffix);
    for (auto _ : state) {
        Assimp::Importer importer;
        benchmark::DoNotOptimize(importer.ReadFileFromMemory(file.content.data(), file.content.size(), after, suffix));
    }
}
/// The same to a surface that holds together, as ours does: what lies in one place is one point.
void import_joined_by_assimp(benchmark::State& state, const char* suffix) {
    import_by_assimp(state, suffix, aiProcess_JoinIdenticalVertices);
}
void import_through_the_reader(benchmark::State& state, const char* suffix) {
    const BigFile file(suffix);
    for (auto _ : state) {
        const auto read = read_outside(suffix, file.content);
        const auto shape = shape_of(*read);
        if (!shape) state.SkipWithError("not read");
        state.counters["faces"] = static_cast<double>(shape->shape->face_count());
    }
}
BENCHMARK_CAPTURE(import_by_assimp, stl, "stl")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(import_joined_by_assimp, stl, "stl")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(import_through_the_reader, stl, "stl")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(import_by_assimp, obj, "obj")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(import_joined_by_assimp, obj, "obj")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(import_through_the_reader, obj, "obj")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(import_by_assimp, glb, "glb")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(import_joined_by_assimp, glb, "glb")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(import_through_the_reader, glb, "glb")->Unit(benchmark::kMillisecond)->UseRealTime();

}  // namespace
