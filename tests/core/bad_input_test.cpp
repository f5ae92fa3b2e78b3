// SPDX-License-Identifier: GPL-3.0-or-later
// Every step that takes a mesh, with meshes nobody would want: a result or a clear finding, never a crash, a hang or a
// NaN.
#include <catch2/catch.hpp>
#include <chrono>
#include <cmath>

#include "core/kernels/primitives.h"
#include "core/kernels/solids.h"
#include "core/files/recipe_file.h"
#include "core/catalogue/step_run.h"
#include "core/recipe/resolve.h"
#include "tests/support/build.h"
#include "tests/support/shapes.h"
#include "tests/support/step_tries.h"

using namespace bricol;
using namespace bricol::test;

namespace {

Mesh mesh_from(std::vector<Vec3> points, std::vector<std::vector<Index>> faces) {
    Array<Index> offsets{0}, corners;
    for (const auto& face : faces) {
        corners.insert(corners.end(), face.begin(), face.end());
        offsets.push_back(static_cast<Index>(corners.size()));
    }
    Array<Vec3> p(points.begin(), points.end());
    const auto count = static_cast<Index>(p.size());
    return Mesh(std::move(p), make_topology(count, std::move(offsets), std::move(corners)));
}

std::vector<std::pair<const char*, Mesh>> bad_meshes() {
    std::vector<std::pair<const char*, Mesh>> list;
    list.emplace_back("empty", Mesh());
    list.emplace_back("one point", mesh_from({Vec3(1, 2, 3)}, {}));
    list.emplace_back("one triangle", mesh_from({Vec3(0), Vec3(1, 0, 0), Vec3(0, 1, 0)}, {{0, 1, 2}}));
    list.emplace_back("open sheet", make_grid(1, 1, 3, 3));
    list.emplace_back("three faces at an edge",
                      mesh_from({Vec3(0), Vec3(0, 0, 1), Vec3(1, 0, 0), Vec3(-1, 1, 0), Vec3(-1, -1, 0)},
                                {{0, 1, 2}, {0, 1, 3}, {1, 0, 4}}));
    list.emplace_back(
        "two boxes through one another",
        appended(make_box(DVec3(1), {1, 1, 1}), transformed(shape_of(make_box(DVec3(1), {1, 1, 1})),
                                                            placement({0.5, 0.3, 0.2}, DVec3(0), DVec3(1), DVec3(0)))
                                                    .mesh));
    list.emplace_back(
        "boxes that share an edge",
        appended(make_box(DVec3(1), {1, 1, 1}), transformed(shape_of(make_box(DVec3(1), {1, 1, 1})),
                                                            placement({1, 1, 0}, DVec3(0), DVec3(1), DVec3(0)))
                                                    .mesh));
    list.emplace_back("bow-tie", mesh_from({Vec3(0), Vec3(1, 1, 0), Vec3(1, 0, 0), Vec3(0, 1, 0)}, {{0, 1, 2, 3}}));
    list.emplace_back("collapsed to a point",
                      mesh_from(std::vector<Vec3>(8, Vec3(0.3f)), {{0, 1, 2, 3}, {4, 5, 6, 7}}));
    list.emplace_back("collapsed to a line", mesh_from({Vec3(0), Vec3(1, 0, 0), Vec3(2, 0, 0), Vec3(3, 0, 0)},
                                                       {{0, 1, 2}, {0, 2, 3}, {0, 1, 2, 3}}));
    list.emplace_back("the same face twice",
                      mesh_from({Vec3(0), Vec3(1, 0, 0), Vec3(1, 1, 0), Vec3(0, 1, 0)}, {{0, 1, 2, 3}, {0, 1, 2, 3}}));
    list.emplace_back("back to back",
                      mesh_from({Vec3(0), Vec3(1, 0, 0), Vec3(1, 1, 0), Vec3(0, 1, 0)}, {{0, 1, 2, 3}, {3, 2, 1, 0}}));
    list.emplace_back("neighbours turned",
                      mesh_from({Vec3(0), Vec3(1, 0, 0), Vec3(1, 1, 0), Vec3(0, 1, 0), Vec3(2, 0, 0), Vec3(2, 1, 0)},
                                {{0, 1, 2, 3}, {1, 2, 5, 4}}));
    list.emplace_back(
        "a vertex twice in a face",
        mesh_from({Vec3(0), Vec3(1, 0, 0), Vec3(1, 1, 0), Vec3(2, 1, 0), Vec3(2, 2, 0)}, {{0, 1, 2, 3, 4, 2}}));
    list.emplace_back("very small", make_box(DVec3(1e-7), {1, 1, 1}));
    list.emplace_back("very large", make_box(DVec3(9e4), {1, 1, 1}));
    list.emplace_back("far away", transformed(shape_of(make_box(DVec3(0.01), {1, 1, 1})),
                                              placement(DVec3(9e4), DVec3(0), DVec3(1), DVec3(0)))
                                      .mesh);
    list.emplace_back("inside out", flipped(make_geodesic_sphere(0.5, 2)));
    list.emplace_back("pole of a hundred", make_cone(1, 0, 1, 100, 1));
    return list;
}

/// Runs a step as the maker would, on meshes no recipe could bring about.
void run(const std::string& key, const Json& settings, const Mesh& mesh, const Mesh& other) {
    ReadyStep step(key, settings, mesh, other);
    if (!step.ready) return;
    StepRun& run = step.run;
    for (const Finding& f : run.findings) {
        INFO(f.text);
        CHECK(f.code != "bad-value");  // a mistake in this table, unless out of range on purpose
    }
    step.info->make(run);
    for (const Finding& f : run.findings) CHECK(f.text.size() > 10);
    if (!run.result) {
        // Nothing given: the input passes through, and a finding says why.
        CHECK_FALSE(run.findings.empty());
        return;
    }
    CHECK(sound(run.result->mesh));
    CHECK(finite(run.result->mesh));
}

}  // namespace

TEST_CASE("steps survive every bad mesh", "[bad]") {
    const auto meshes = bad_meshes();
    const Mesh good = make_box(DVec3(0.5), {1, 1, 1});
    for (const auto& [key, settings] : step_tries())
        for (const auto& [name, mesh] : meshes) {
            INFO(key << " " << settings.dump() << " on: " << name);
            run(key, settings, mesh, good);
            run(key, settings, good, mesh);
        }
}

TEST_CASE("steps take a million faces, or say that it is too many", "[bad][large][wide]") {
    const int across = test::sanitized() ? 200 : 1000;  // the same code; sanitisers are slow
    const Mesh large = make_grid(1, 1, across, across);
    const Mesh good = make_box(DVec3(0.5), {1, 1, 1});
    for (const StepInfo* info : all_steps()) {
        INFO(info->key);
        run(std::string(info->key), Json::object(), large, good);
    }
}

TEST_CASE("counts that would explode are refused, with a way to raise the bound", "[bad]") {
    const auto findings_of = [](const std::string& key, const Json& settings) {
        Json steps = Json::array({step("b", "box"), step("s", key, settings)});
        const auto recipe =
            recipe_from_text(Json{{"bricol", 1}, {"parts", Json::array({{{"name", "p"}, {"steps", steps}}})}}.dump());
        REQUIRE(recipe);
        const Made made = Maker().make(*recipe);
        return made.steps[0][1]->findings;
    };
    for (const auto& [key, settings] : std::initializer_list<std::pair<const char*, Json>>{
             {"array", {{"count", 20000}}},
             {"array", {{"kind", "grid"}, {"counts", {1000, 1000, 1000}}}},
             {"array", {{"until", "length"}, {"length", 100000}, {"offset", {0.001, 0, 0}}}}}) {
        INFO(key << " " << settings.dump());
        const auto findings = findings_of(key, settings);
        REQUIRE_FALSE(findings.empty());
        CHECK(findings[0].code == "too-many");
    }
    const auto raised = findings_of("array", {{"count", 4000}, {"most", 5000}});
    for (const Finding& f : raised) CHECK(f.code != "too-many");
}
