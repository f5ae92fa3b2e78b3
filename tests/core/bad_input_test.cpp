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
#include "tests/support/shapes.h"

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

/// Settings that reach more of a step than its defaults do.
std::vector<std::pair<std::string, Json>> runs() {
    std::vector<std::pair<std::string, Json>> list;
    for (const StepInfo* info : all_steps()) list.emplace_back(std::string(info->key), Json::object());
    for (const auto& [step, settings] : std::initializer_list<std::pair<const char*, Json>>{
             {"bevel", {{"by", "all"}, {"width", 0.2}, {"segments", 3}}},
             {"bevel", {{"what", "vertices"}, {"width", 0.5}, {"segments", 2}}},
             {"bevel", {{"by", "all"}, {"measure", "share"}, {"share", 100}, {"hold", false}}},
             {"bevel", {{"by", "weight"}}},
             {"extrude", {{"how", "each"}, {"inset", 0.3}, {"divisions", 3}, {"back", true}}},
             {"extrude", {{"what", "edges"}, {"distance", -0.5}}},
             {"inset", {{"width", 0.4}}},
             {"thicken", {{"thickness", 0.5}, {"side", "both"}}},
             {"struts", {{"thickness", 0.4}, {"keep_faces", true}}},
             {"struts", {{"section", "round"}, {"measure", "share"}, {"share", 80}}},
             {"boolean", {{"kind", "difference"}}},
             {"boolean", {{"kind", "intersection"}}},
             {"boolean", {{"kind", "difference_back"}}},
             {"slice", {{"at", 0.3}}},
             {"slice", {{"across", "free"}, {"normal", {0, 0, 0}}}},
             {"slice", {{"at", 0}, {"keep", "both"}}},
             {"smooth", {{"rounds", 50}, {"strength", 1}}},
             {"array", {{"result", "real"}, {"weld", true}, {"distance", 0.02}}},
             {"array", {{"kind", "radial"}, {"result", "real"}, {"weld", true}}},
             {"array", {{"kind", "repeat"}, {"size", {0.5, 2, 0}}}},
             {"array", {{"kind", "grid"}, {"measure", "own"}}},
             {"array", {{"until", "length"}, {"offset", {0, 0, 0}}}},
             {"bend", {{"angle", 3600}, {"weld", true}}},
             {"twist", {{"angle", 36000}}},
             {"taper", {{"first", 0}, {"second", -10}, {"ramp", "bulge"}, {"bulge", 5}}},
             {"stretch", {{"factor", 0.001}, {"keep_volume", true}}},
             {"lattice",
              {{"counts", {16, 2, 1000}},
               {"points",
                {{{"point", {0, 0, 0}}, {"move", {5, 5, 5}}}, {{"point", {99, 0, 0}}, {"move", {1, 1, 1}}}}}}},
             {"nudge",
              {{"places",
                {{{"vertex", {0, 0, 0}}, {"move", {1, 0, 0}}}, {{"face", {0.5, 0.5, 0}}, {"move", {0, 0, 1}}}}},
               {"soft", 10}}},
             {"choose", {{"rule", "loops"}, {"what", "edges"}, {"places", {{{"edge", {0.5, 0, 0}}}}}}},
             {"choose", {{"rule", "rings"}, {"what", "edges"}, {"places", {{{"edge", {0.5, 0, 0}}}}}, {"grow", 20}}},
             {"choose", {{"rule", "ball"}, {"radius", 0}, {"grow", -5}}},
             {"choose", {{"rule", "facing"}, {"direction", {0, 0, 0}}}},
             {"cut_loop", {{"places", {{{"edge", {0.5, 0, 0}}}}}, {"cuts", 5}}},
             {"edge_weight", {{"by", "angle"}, {"angle", 0}}},
             {"subdivide", {{"levels", 2}, {"scheme", "triangles"}}},
             {"dissolve_flat", {{"angle", 180}}},
             {"mirror", {{"cut", true}, {"weld", 0.05}}},
             {"follow_curve", {{"stretch", true}, {"twist", 36000}, {"origin", "base"}}},
             {"along_curve", {{"by", "fit"}, {"stiff", true}, {"stretch", true}, {"look", "level"}}},
             {"sweep", {{"caps", "round"}, {"ramped", true}, {"twist", 3600}}},
             {"drape", {{"fit", "size"}, {"size", {1e-6, 1, 0}}, {"trim", "drop"}}},
             {"drape", {{"fit", "size"}, {"amount", 0.5}, {"base", "middle"}}},
             {"uv", {{"by", "sphere"}}},
             {"unwrap", {{"by_angle", false}, {"margin", 0.5}}},
             {"weld", {{"distance", 100}}}})
        list.emplace_back(step, settings);
    return list;
}

/// Runs a step as the maker would, on meshes no recipe could bring about.
void run(const std::string& key, const Json& settings, const Mesh& mesh, const Mesh& other) {
    const StepInfo* info = find_step_info(key);
    REQUIRE(info);
    if (info->inputs.empty()) return;
    const ShapePtr main = std::make_shared<const Shape>(shape_of(mesh)),
                   second = std::make_shared<const Shape>(shape_of(other));
    if (!(content_of(*main) & info->inputs.front().accepts)) return;  // the maker says so itself
    Recipe recipe;
    Part part;
    part.name = "p";
    Step step;
    step.id = "s";
    step.type = key;
    step.settings = settings;
    StepRun run(info);
    run.id = "s";
    run.values = Resolver(recipe).parameters(part, step, *info, run.findings);
    for (const Finding& f : run.findings) {
        INFO(f.text);
        CHECK(f.code != "bad-value");  // a mistake in this table, unless out of range on purpose
    }
    for (const InputInfo& input : info->inputs)
        run.inputs[std::string(input.key)] = &input == &info->inputs.front() ? main : second;
    info->make(run);
    const bool error =
        std::ranges::any_of(run.findings, [](const Finding& f) { return f.severity == Severity::error; });
    for (const Finding& f : run.findings) CHECK(f.text.size() > 10);
    if (!run.result) {
        // Nothing given: the input passes through, and unless that is the meaning of the settings a finding says why.
        CHECK((error || !run.findings.empty() || mesh.empty() || key == "lattice" || info->gives == 0));
        return;
    }
    CHECK(sound(run.result->mesh));
    std::size_t broken = 0;
    for (const Vec3& p : *run.result->mesh.positions)
        broken += !std::isfinite(p.x) || !std::isfinite(p.y) || !std::isfinite(p.z);
    CHECK(broken == 0);
    for (const Attribute& attribute : run.result->mesh.attributes.all())
        if (const auto* normals = std::get_if<Array<Vec3>>(attribute.values.get()))
            for (const Vec3& n : *normals) broken += !std::isfinite(n.x + n.y + n.z);
    CHECK(broken == 0);
}

}  // namespace

TEST_CASE("steps survive every bad mesh", "[bad]") {
    const auto meshes = bad_meshes();
    const Mesh good = make_box(DVec3(0.5), {1, 1, 1});
    for (const auto& [key, settings] : runs())
        for (const auto& [name, mesh] : meshes) {
            INFO(key << " " << settings.dump() << " on: " << name);
            run(key, settings, mesh, good);
            run(key, settings, good, mesh);
        }
}

TEST_CASE("steps take a million faces, or say that it is too many", "[bad][large]") {
#ifdef __SANITIZE_ADDRESS__
    const Mesh large = make_grid(1, 1, 200, 200);  // the same code; sanitisers are slow
#else
    const Mesh large = make_grid(1, 1, 1000, 1000);
#endif
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
