// SPDX-License-Identifier: GPL-3.0-or-later
// Sweeps, following, alignments and drapes beside their peers.
#include <benchmark/benchmark.h>
#include <cmath>

#include "bench/vtk_peer.h"
#include "core/kernels/alignment.h"
#include "core/kernels/deform.h"
#include "core/kernels/drape.h"
#include "core/kernels/primitives.h"
#include "core/kernels/sweep.h"
#include "core/kernels/uv.h"

using namespace bricol;

namespace {

/// A coil of n places with its own directions, as flattening a curve gives it.
Polyline coil(int n) {
    Polyline line;
    for (int i = 0; i < n; ++i) {
        const double t = 20.0 * i / (n - 1);
        line.points.push_back(Vec3(std::cos(t), std::sin(t), 0.2 * t));
        line.tangent.push_back(glm::normalize(DVec3(-std::sin(t), std::cos(t), 0.2)));
        line.sharp.push_back(0);
    }
    return line;
}

double width_at(double share) { return 0.2 + 0.8 * share; }

Shape strip(int rows) {
    Shape shape;
    shape.mesh = make_grid(19.0, 0.4, rows, 100);
    return shape;
}

// ---- sweep: 2 000 samples, 16 sides, a width ramp, normals and UVs; one thread --------------------------------------

void sweep_2000x16(benchmark::State& state) {
    const Polyline line = coil(2000);
    SweepOptions options;
    options.width = width_at;
    options.caps = SweepCaps::none;
    const std::vector<SectionLoop> section{round_section(0.05, 16)};
    for (auto _ : state) benchmark::DoNotOptimize(sweep(make_path(line, {}), section, options));
}
BENCHMARK(sweep_2000x16)->Unit(benchmark::kMillisecond);

void sweep_2000x16_vtk_tube(benchmark::State& state) {
    const Polyline line = coil(2000);
    std::vector<double> places, widths;
    for (std::size_t i = 0; i < line.points.size(); ++i) {
        for (int k = 0; k < 3; ++k) places.push_back(line.points[i][k]);
        widths.push_back(0.05 * width_at(static_cast<double>(i) / static_cast<double>(line.points.size() - 1)));
    }
    VtkTube tube(places, widths, 16);
    for (auto _ : state) benchmark::DoNotOptimize(tube.run());
}
BENCHMARK(sweep_2000x16_vtk_tube)->Unit(benchmark::kMillisecond);

// ---- following and alignment: a million vertices on a path of 2 000 samples; two threads
// -----------------------------

void follow_1m(benchmark::State& state) {
    const Path path = make_path(coil(2000), {});
    const Shape shape = strip(10000);
    for (auto _ : state) {
        const Rails rails(path);
        benchmark::DoNotOptimize(deformed(shape, [&](const DVec3& p) { return rails.at(p.x + 9.5, -p.y, p.z); }));
    }
    state.counters["vertices"] = static_cast<double>(shape.mesh.vertex_count());
}
BENCHMARK(follow_1m)->Unit(benchmark::kMillisecond)->UseRealTime();

void alignment_1m(benchmark::State& state) {
    const Path path = make_path(coil(2000), {true, {0, 0, 1}});
    const Shape shape = strip(10000);
    HeightLine heights;
    for (int i = 0; i < 2000; ++i) heights.distance.push_back(0.01 * i), heights.height.push_back(std::sin(0.01 * i));
    for (auto _ : state) {
        const Alignment lay(path, heights);
        benchmark::DoNotOptimize(deformed(shape, [&](const DVec3& p) { return lay.at(p.x + 9.5, p.y, p.z); }));
    }
}
BENCHMARK(alignment_1m)->Unit(benchmark::kMillisecond)->UseRealTime();

// ---- drape: half a million vertices on a prepared surface of 20 000 faces
// --------------------------------------------

void drape_500k(benchmark::State& state) {
    Mesh sheet = with_uvs(make_grid(2.0, 1.0, 200, 100), {});
    Array<Vec3> bent = *sheet.positions;
    for (Vec3& p : bent) p.z = 0.3f * std::sin(3 * p.x) * std::cos(4 * p.y);
    sheet.positions = std::make_shared<const Array<Vec3>>(std::move(bent));
    const DrapeSurface surface(sheet);
    const Mesh pattern = make_grid(2.0, 1.0, 1000, 500);
    DrapeSurface::Options options;
    options.size = {2, 1};
    options.origin = {-1, -0.5, 0};
    for (auto _ : state) benchmark::DoNotOptimize(surface.draped(*pattern.positions, options));
}
BENCHMARK(drape_500k)->Unit(benchmark::kMillisecond)->UseRealTime();

}  // namespace
