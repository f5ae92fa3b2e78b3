// SPDX-License-Identifier: GPL-3.0-or-later
// Our kernels beside their peers in one run. Run with random interleaving and compare medians: see RESULTS.md.
#include <benchmark/benchmark.h>
#include <cmath>
#include <cstdio>
#include <numbers>
#include <opensubdiv/far/primvarRefiner.h>
#include <opensubdiv/far/stencilTableFactory.h>
#include <opensubdiv/far/topologyDescriptor.h>
#include <tbb/global_control.h>
#include <tbb/parallel_for.h>
#include <unistd.h>

#include "bench/vtk_peer.h"
#include "core/files/export.h"
#include "core/files/recipe_file.h"
#include "core/ground/kept_memory.h"
#include "core/kernels/primitives.h"
#include "core/kernels/subdivide.h"
#include "core/make/make.h"

using namespace bricol;
namespace Far = OpenSubdiv::Far;

namespace {

// ---- lathe: 200 points x 256 segments, both poles welded -----------------------------------------------------------

std::vector<std::pair<double, double>> vase() {
    std::vector<std::pair<double, double>> places;
    for (int i = 0; i < 200; ++i) {
        const double t = std::numbers::pi * i / 199;
        places.emplace_back(i == 0 || i == 199 ? 0 : std::sin(t) * (1 + 0.2 * std::sin(5 * t)), -std::cos(t));
    }
    return places;
}

void lathe_ours(benchmark::State& state) {
    const tbb::global_control one(tbb::global_control::max_allowed_parallelism, 1);
    Polyline line;
    for (const auto& [r, h] : vase()) line.points.push_back(Vec3(static_cast<float>(r), 0, static_cast<float>(h)));
    LatheOptions options;
    options.segments = 256;
    for (auto _ : state) benchmark::DoNotOptimize(lathe(line, options));
    const Mesh mesh = lathe(line, options);
    state.counters["faces"] = static_cast<double>(mesh.face_count());
    state.counters["with_normals_and_uvs"] = mesh.attributes.all().size() == 2;
}
BENCHMARK(lathe_ours)->Unit(benchmark::kMillisecond);

void lathe_vtk_bare(benchmark::State& state) {
    VtkLathe peer(vase(), 256);
    for (auto _ : state) benchmark::DoNotOptimize(peer.run());
}
BENCHMARK(lathe_vtk_bare)->Unit(benchmark::kMillisecond);

// ---- Catmull-Clark: 10 000 quads, 2 levels, with UVs ---------------------------------------------------------------

template <class T>
struct Blend {
    T value;
    void Clear() { value = T(0); }
    void AddWithWeight(const Blend& other, float w) { value += other.value * w; }
};

Mesh quads() { return make_grid(1, 1, 100, 100); }

struct Bare {
    std::vector<int> sizes, corners, uv_corners;
    std::vector<Blend<Vec3>> points;
    std::vector<Blend<Vec2>> uvs;
    std::unique_ptr<Far::TopologyRefiner> refiner;

    Bare() {
        const Mesh mesh = quads();
        sizes.assign(mesh.face_count(), 4);
        corners.assign(mesh.topology->corner_vertex.begin(), mesh.topology->corner_vertex.end());
        uv_corners = corners;
        for (const Vec3& p : *mesh.positions) points.push_back({p}), uvs.push_back({{p.x, p.y}});
    }
    void refine() {
        Far::TopologyDescriptor description;
        description.numVertices = static_cast<int>(points.size());
        description.numFaces = static_cast<int>(sizes.size());
        description.numVertsPerFace = sizes.data();
        description.vertIndicesPerFace = corners.data();
        Far::TopologyDescriptor::FVarChannel channel;
        channel.numValues = static_cast<int>(uvs.size());
        channel.valueIndices = uv_corners.data();
        description.numFVarChannels = 1;
        description.fvarChannels = &channel;
        using Factory = Far::TopologyRefinerFactory<Far::TopologyDescriptor>;
        OpenSubdiv::Sdc::Options rules;
        rules.SetVtxBoundaryInterpolation(OpenSubdiv::Sdc::Options::VTX_BOUNDARY_EDGE_AND_CORNER);
        rules.SetFVarLinearInterpolation(OpenSubdiv::Sdc::Options::FVAR_LINEAR_CORNERS_ONLY);
        refiner.reset(Factory::Create(description, Factory::Options(OpenSubdiv::Sdc::SCHEME_CATMARK, rules)));
        Far::TopologyRefiner::UniformOptions uniform(2);
        uniform.fullTopologyInLastLevel = true;
        refiner->RefineUniform(uniform);
    }
};

void subdivide_ours(benchmark::State& state) {
    const Mesh mesh = quads();
    for (auto _ : state) {
        forget_subdivisions();
        benchmark::DoNotOptimize(subdivided(mesh, {.levels = 2}));
    }
}
BENCHMARK(subdivide_ours)->Unit(benchmark::kMillisecond);

void subdivide_opensubdiv_bare(benchmark::State& state) {
    Bare bare;
    for (auto _ : state) {
        bare.refine();
        const Far::PrimvarRefiner interpolate(*bare.refiner);
        std::vector<Blend<Vec3>> from = bare.points, to;
        std::vector<Blend<Vec2>> uv_from = bare.uvs, uv_to;
        for (int level = 1; level <= 2; ++level) {
            to.resize(bare.refiner->GetLevel(level).GetNumVertices());
            auto* target = to.data();
            interpolate.Interpolate(level, from.data(), target);
            std::swap(from, to);
            uv_to.resize(bare.refiner->GetLevel(level).GetNumFVarValues(0));
            auto* uv_target = uv_to.data();
            interpolate.InterpolateFaceVarying(level, uv_from.data(), uv_target, 0);
            std::swap(uv_from, uv_to);
        }
        benchmark::DoNotOptimize(from.data());
        benchmark::DoNotOptimize(uv_from.data());
    }
}
BENCHMARK(subdivide_opensubdiv_bare)->Unit(benchmark::kMillisecond);

void subdivide_moved_ours(benchmark::State& state) {
    Mesh mesh = quads();
    forget_subdivisions();
    subdivided(mesh, {.levels = 2});
    subdivided(mesh, {.levels = 2});  // the second use makes the stencils
    for (auto _ : state) {
        Array<Vec3> points = *mesh.positions;
        for (Vec3& p : points) p.z += 0.001f;
        mesh.positions = std::make_shared<const Array<Vec3>>(std::move(points));
        benchmark::DoNotOptimize(subdivided(mesh, {.levels = 2}));
    }
}
BENCHMARK(subdivide_moved_ours)->Unit(benchmark::kMillisecond)->UseRealTime();

void subdivide_moved_stencils_bare(benchmark::State& state) {
    Bare bare;
    bare.refine();
    Far::StencilTableFactory::Options wanted;
    wanted.generateIntermediateLevels = false;
    wanted.generateOffsets = true;
    const std::unique_ptr<const Far::StencilTable> stencils(Far::StencilTableFactory::Create(*bare.refiner, wanted));
    const int count = bare.refiner->GetLevel(2).GetNumVertices();
    for (auto _ : state) {
        for (auto& p : bare.points) p.value.z += 0.001f;
        Array<Blend<Vec3>> out(static_cast<std::size_t>(count));
        auto* target = out.data();
        tbb::parallel_for(tbb::blocked_range<int>(0, count, 8192), [&](const auto& range) {
            stencils->UpdateValues(bare.points.data(), target, range.begin(), range.end());
        });
        benchmark::DoNotOptimize(target);
    }
}
BENCHMARK(subdivide_moved_stencils_bare)->Unit(benchmark::kMillisecond)->UseRealTime();

// ---- export: one million triangles ---------------------------------------------------------------------------------

const std::vector<NamedShape>& million() {
    static const std::vector<NamedShape> shapes = [] {
        auto shape = std::make_shared<Shape>();
        shape->mesh = make_sphere(1, 1000, 501);
        return std::vector<NamedShape>{{"million", shape}};
    }();
    return shapes;
}

std::string place(const char* name) { return "/tmp/bricol-bench-" + std::to_string(getpid()) + name; }

void export_ours(benchmark::State& state, const char* suffix) {
    const std::string path = place(suffix);
    for (auto _ : state)
        if (export_shapes(million(), path)) state.SkipWithError("export failed");
    std::remove(path.c_str());
}
void export_plain_write(benchmark::State& state, const char* suffix) {
    // The same bytes handed to one fwrite, flushed to the disk as ours are.
    const std::string path = place(suffix);
    if (export_shapes(million(), path)) state.SkipWithError("export failed");
    const std::string bytes = *read_file(path, std::size_t(1) << 31);
    for (auto _ : state) {
        const std::string temporary = path + ".new";
        FILE* file = std::fopen(temporary.c_str(), "wb");
        if (std::fwrite(bytes.data(), 1, bytes.size(), file) != bytes.size()) state.SkipWithError("short write");
        std::fflush(file);
        fdatasync(fileno(file));
        std::fclose(file);
        std::rename(temporary.c_str(), path.c_str());
    }
    state.counters["MB"] = static_cast<double>(bytes.size()) / 1e6;
    std::remove(path.c_str());
}
BENCHMARK_CAPTURE(export_ours, glb, ".glb")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(export_plain_write, glb, ".glb")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(export_ours, obj, ".obj")->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK_CAPTURE(export_plain_write, obj, ".obj")->Unit(benchmark::kMillisecond)->UseRealTime();

// ---- making --------------------------------------------------------------------------------------------------------

Recipe strip_of(int count) {
    Json steps = Json::array({Json{{"step", "box"}}});
    for (int i = 1; i < count; ++i) steps.push_back(Json{{"step", "transform"}, {"move", {0.001, 0, 0}}});
    return *recipe_from_text(Json{{"bricol", 1}, {"parts", {{{"name", "p"}, {"steps", steps}}}}}.dump());
}

void make_unchanged(benchmark::State& state) {
    const Recipe recipe = strip_of(200);
    Maker maker;
    maker.make(recipe);
    for (auto _ : state) benchmark::DoNotOptimize(maker.make(recipe));
}
BENCHMARK(make_unchanged)->Unit(benchmark::kMicrosecond);

void make_strip_of_200(benchmark::State& state) {
    const Recipe recipe = strip_of(200);
    Maker maker;
    for (auto _ : state) {
        maker.forget();
        benchmark::DoNotOptimize(maker.make(recipe));
    }
    state.counters["us_per_step"] =
        benchmark::Counter(200e-6, benchmark::Counter::kIsIterationInvariantRate | benchmark::Counter::kInvert);
}
BENCHMARK(make_strip_of_200)->Unit(benchmark::kMicrosecond);

void make_strip_kernels_alone(benchmark::State& state) {
    // The same work without recipe, formulas and memory: what is left of the time above is overhead.
    for (auto _ : state) {
        Shape shape;
        shape.mesh = make_box({0.5, 0.5, 0.5}, {1, 1, 1});
        for (int i = 1; i < 200; ++i)
            shape = transformed(shape, placement({0.001, 0, 0}, DVec3(0), DVec3(1), DVec3(0)));
        benchmark::DoNotOptimize(shape);
    }
}
BENCHMARK(make_strip_kernels_alone)->Unit(benchmark::kMicrosecond);

}  // namespace

int main(int count, char** arguments) {
    // As the application does: freed arrays stay ours. The peers in this process gain by it as much.
    bricol::keep_freed_memory();
    benchmark::Initialize(&count, arguments);
    benchmark::RunSpecifiedBenchmarks();
    return 0;
}
