// SPDX-License-Identifier: GPL-3.0-or-later
// What comes after a recipe: variants, a trial, a hand-over. Their peers are the same makings without the memory they
// share, and the making alone, so that what the rest costs is seen.
#include <benchmark/benchmark.h>
#include <filesystem>

#include "core/files/handover.h"
#include "core/files/kits.h"
#include "core/files/recipe_file.h"
#include "core/files/variant_folder.h"
#include "core/inspect/trial.h"
#include "core/recipe/edit.h"

using namespace bricol;
namespace fs = std::filesystem;

namespace {

Recipe piece(const char* name) { return *load_recipe(std::string(DEMO_FOLDER "/") + name + ".bricol"); }

MakeOptions making() {
    MakeOptions options;
    options.environment.find_kit = kit_reader();
    options.environment.read_file = file_reader();
    options.environment.folder = DEMO_FOLDER;
    return options;
}

/// A folder that is gone afterwards.
struct Gone {
    fs::path path = fs::temp_directory_path() / ("bricol-bench-" + std::to_string(::getpid()));
    ~Gone() { fs::remove_all(path); }
};

constexpr std::size_t many = 200;

void plain_makings(benchmark::State& state, const char* name) {
    const Recipe recipe = piece(name);
    const VariantPlan plan = random_plan(recipe, usual_dials(recipe), many, 1);
    for (auto _ : state)
        for (std::size_t i = 0; i < many; ++i)
            benchmark::DoNotOptimize(Maker().make(*with_dials(recipe, plan.at(i), Outside::held), making()));
    state.counters["each"] =
        benchmark::Counter(many, benchmark::Counter::kIsIterationInvariantRate | benchmark::Counter::kInvert);
}
BENCHMARK_CAPTURE(plain_makings, buoy_one_by_one, "buoy")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(plain_makings, daymark_one_by_one, "daymark")->Unit(benchmark::kMillisecond)->UseRealTime();

void variants_written(benchmark::State& state, const char* name) {
    const Recipe recipe = piece(name);
    const VariantPlan plan = random_plan(recipe, usual_dials(recipe), many, 1);
    for (auto _ : state) {
        const Gone folder;
        VariantOrder order{recipe, making(), plan, folder.path.string()};
        benchmark::DoNotOptimize(write_variants(order));
    }
    state.counters["each"] =
        benchmark::Counter(many, benchmark::Counter::kIsIterationInvariantRate | benchmark::Counter::kInvert);
}
BENCHMARK_CAPTURE(variants_written, buoy_as_glb, "buoy")->Unit(benchmark::kMillisecond)->UseRealTime();

void trial(benchmark::State& state, const char* name) {
    const Recipe recipe = piece(name);
    std::size_t made = 0;
    for (auto _ : state) made = try_dials(recipe, making(), {many, 0, false}).made;
    state.counters["settings"] = static_cast<double>(made);
    state.counters["each"] = benchmark::Counter(
        static_cast<double>(made), benchmark::Counter::kIsIterationInvariantRate | benchmark::Counter::kInvert);
}
BENCHMARK_CAPTURE(trial, daymark, "daymark")->Unit(benchmark::kMillisecond)->UseRealTime();

void handed_over(benchmark::State& state, bool dressed) {
    const Recipe recipe = piece("winch");
    for (auto _ : state) {
        const Gone folder;
        HandoverOrder order{recipe, making(), folder.path.string()};
        if (dressed) {
            order.dressing.levels = {0.5, 0.15};
            order.dressing.light_uvs = true;
            order.suffixes = {"glb", "usda"};
        }
        benchmark::DoNotOptimize(hand_over(order));
    }
}
BENCHMARK_CAPTURE(handed_over, winch_glb_alone, false)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(handed_over, winch_two_levels_light_uvs_usda, true)->Unit(benchmark::kMillisecond)->UseRealTime();

}  // namespace
