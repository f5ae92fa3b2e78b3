// SPDX-License-Identifier: GPL-3.0-or-later
// Bodies from sticks, poses and fused shapes; OpenVDB bare beside fuse in the same run.
#include <benchmark/benchmark.h>
#include <openvdb/openvdb.h>
#include <openvdb/tools/Composite.h>
#include <openvdb/tools/LevelSetFilter.h>
#include <openvdb/tools/MeshToVolume.h>
#include <openvdb/tools/VolumeToMesh.h>
#include <random>

#include "core/files/recipe_file.h"
#include "core/kernels/flesh.h"
#include "core/kernels/fuse.h"
#include "core/kernels/pose.h"
#include "core/kernels/triangulate.h"
#include "core/make/make.h"

using namespace bricol;

namespace {

/// A figure of 60 knots: a spine with limbs of three bones each.
Sticks figure() {
    std::vector<StickKnot> knots;
    std::vector<std::array<Index, 2>> bones;
    const auto add = [&](const DVec3& at, double girth, Index from) {
        StickKnot knot;
        knot.at = at, knot.girth = DVec2(girth), knot.id = static_cast<std::int32_t>(knots.size()) + 1;
        knots.push_back(knot);
        if (from != no_index) bones.push_back({from, static_cast<Index>(knots.size() - 1)});
        return static_cast<Index>(knots.size() - 1);
    };
    Index spine = add({0, 0, 0}, 0.15, no_index);
    for (int i = 1; knots.size() < 60; ++i) {
        spine = add({0, 0, 0.5 * i}, 0.15, spine);
        for (const double side : {-1.0, 1.0}) {
            Index limb = spine;
            for (int j = 1; j <= 3 && knots.size() < 60; ++j)
                limb = add({side * 0.35 * j, 0.1 * j, 0.5 * i + 0.05 * j}, 0.1 / j, limb);
        }
    }
    Shape shape;
    shape.mesh = mesh_of_sticks(knots, bones, {0});
    return sticks_of(shape, 0.05);
}

void flesh_of_60_knots(benchmark::State& state) {
    Sticks sticks = figure();
    FleshOptions options;
    for (auto _ : state) {
        sticks.knots[30].girth *= 1.0001;  // as a pull does
        benchmark::DoNotOptimize(flesh_of(sticks, options));
    }
    state.counters["faces"] = static_cast<double>(flesh_of(sticks, options).mesh.face_count());
}
BENCHMARK(flesh_of_60_knots)->Unit(benchmark::kMillisecond)->UseRealTime();

/// 100 000 vertices, each on four of 40 joints.
Mesh skinned() {
    const std::size_t n = 100000, joints = 40;
    Array<Vec3> points(n);
    std::mt19937 chance(1);
    for (Vec3& p : points) p = Vec3(static_cast<float>(chance() % 1000) / 1000.0f, 0, 0);
    Mesh mesh(std::move(points), make_topology(static_cast<Index>(n), {}, {}));
    auto skeleton = std::make_shared<Skeleton>();
    std::vector<Array<float>> weights(joints, Array<float>(n, 0.0f));
    for (std::size_t v = 0; v < n; ++v)
        for (int k = 0; k < 4; ++k) weights[(v * joints / n + static_cast<std::size_t>(k)) % joints][v] += 0.25f;
    for (std::size_t j = 0; j < joints; ++j) {
        Joint joint;
        joint.name = "joint " + std::to_string(j);
        joint.parent = j == 0 ? no_index : static_cast<Index>(j - 1);
        joint.at = DVec3(static_cast<double>(j), 0, 0);
        skeleton->joints.push_back(joint);
        mesh.attributes.set(Domain::vertex, joint.name, std::move(weights[j]));
    }
    mesh.skeleton = skeleton;
    return mesh;
}

void pose_100k_40_joints(benchmark::State& state) {
    const Mesh mesh = skinned();
    std::vector<JointTurn> turns;
    for (Index j = 0; j < 40; ++j) turns.push_back({j, room_turn({3, 2, 1})});
    const auto moves = joint_moves(*mesh.skeleton, turns);
    for (auto _ : state) benchmark::DoNotOptimize(posed(mesh, moves));
}
BENCHMARK(pose_100k_40_joints)->Unit(benchmark::kMillisecond)->UseRealTime();

/// Body and ribs of the glass net float.
std::vector<Mesh> float_sources() {
    const Recipe recipe = *load_recipe(std::string(DEMO_FOLDER) + "/float.bricol");
    const Made made = Maker().make(recipe, {});
    return {made.part(recipe, "body")->shape->mesh, made.part(recipe, "ribs")->shape->mesh};
}

FuseOptions float_options() {
    FuseOptions options;
    options.cell = 0.317 / 150;
    options.smoothing = FuseSmoothing::soft;
    options.rounds = 2;
    return options;
}

void fuse_float_ours(benchmark::State& state) {
    const std::vector<Mesh> sources = float_sources();
    for (auto _ : state) {
        forget_fields();
        benchmark::DoNotOptimize(fused(sources, float_options()));
    }
}
BENCHMARK(fuse_float_ours)->Unit(benchmark::kMillisecond)->UseRealTime();

void fuse_float_one_rib_moved(benchmark::State& state) {
    std::vector<Mesh> sources = float_sources();
    fused(sources, float_options());
    const std::size_t rib = sources[1].vertex_count() / 9;
    for (auto _ : state) {
        Array<Vec3> points = *sources[1].positions;
        for (std::size_t v = 0; v < rib; ++v) points[v].z += 1e-5f;
        sources[1].positions = std::make_shared<const Array<Vec3>>(std::move(points));
        benchmark::DoNotOptimize(fused(sources, float_options()));
    }
}
BENCHMARK(fuse_float_one_rib_moved)->Unit(benchmark::kMillisecond)->UseRealTime();

/// The same calls in their plain order: each mesh to a level set, union, two rounds of the level set's own Gaussian
/// filter, mesh.
void fuse_float_openvdb_bare(benchmark::State& state) {
    openvdb::initialize();
    const std::vector<Mesh> sources = float_sources();
    const FuseOptions options = float_options();
    const auto transform = openvdb::math::Transform::createLinearTransform(options.cell);
    std::vector<std::vector<openvdb::Vec3s>> points(2);
    std::vector<std::vector<openvdb::Vec3I>> triangles(2);
    for (std::size_t m = 0; m < 2; ++m) {
        for (const Vec3& p : *sources[m].positions) points[m].emplace_back(p.x, p.y, p.z);
        const Triangles cut = triangulated(sources[m]);
        const auto& corner = sources[m].topology->corner_vertex;
        for (std::size_t t = 0; t < cut.count(); ++t)
            triangles[m].emplace_back(corner[cut.corners[3 * t]], corner[cut.corners[3 * t + 1]],
                                      corner[cut.corners[3 * t + 2]]);
    }
    for (auto _ : state) {
        auto a = openvdb::tools::meshToLevelSet<openvdb::FloatGrid>(*transform, points[0], triangles[0]);
        auto b = openvdb::tools::meshToLevelSet<openvdb::FloatGrid>(*transform, points[1], triangles[1]);
        openvdb::tools::csgUnion(*a, *b);
        openvdb::tools::LevelSetFilter<openvdb::FloatGrid> filter(*a);
        filter.gaussian(1);
        filter.gaussian(1);
        std::vector<openvdb::Vec3s> out;
        std::vector<openvdb::Vec4I> quads;
        openvdb::tools::volumeToMesh(*a, out, quads);
        benchmark::DoNotOptimize(quads.data());
    }
}
BENCHMARK(fuse_float_openvdb_bare)->Unit(benchmark::kMillisecond)->UseRealTime();

}  // namespace
