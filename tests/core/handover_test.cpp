// SPDX-License-Identifier: GPL-3.0-or-later
// What is handed over, read back by programs that are not ours: `three` for glTF and USD, lib3mf's
// reader for 3MF, the Khronos validator, Chromium for the page.
#include <catch2/catch.hpp>
#include <charconv>
#include <cmath>
#include <filesystem>
#include <fmt/format.h>
#include <map>
#include <numbers>
#include <png.h>
#include <tbb/global_control.h>

#include "core/files/delivered.h"
#include "core/files/files.h"
#include "core/files/handover.h"
#include "core/files/own_values.h"
#include "core/kernels/primitives.h"
#include "core/recipe/recipe_json.h"
#include "core/shape/sets.h"
#include "tests/support/build.h"
#include "tests/support/folder.h"
#include "tests/support/node.h"
#include "tests/support/threemf_check.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;
namespace fs = std::filesystem;

namespace {

std::map<std::string, std::string> contents(const fs::path& folder) {
    std::map<std::string, std::string> out;
    for (const auto& entry : fs::directory_iterator(folder))
        out[entry.path().filename().string()] = *read_file(entry.path().string());
    return out;
}

/// Two parts: a post that turns with `frame`, and a row of three sheared-free copies of a ball with a value on points.
Recipe two_parts() {
    auto recipe = recipe_from_text(R"({"bricol": 1, "title": "Quay post",
      "dials": [{"name": "girth", "value": 0.2, "min": 0.1, "max": 1, "unit": "m"}],
      "presets": [{"name": "Stout one", "dials": {"girth": 0.5}}],
      "parts": [
        {"name": "post", "steps": [
          {"id": "b", "step": "box", "size": ["= girth", "= girth", 1]},
          {"id": "t", "step": "transform", "turn": [0, 0, "= frame * 10"], "move": [2, 0, 0]},
          {"id": "m", "step": "material", "kit": "brass"}]},
        {"name": "ball", "hidden": true, "steps": [
          {"id": "s", "step": "sphere", "radius": 0.1, "slices": 16, "rings": 8, "origin": "centre"},
          {"id": "w", "step": "attribute", "attribute": "wear", "value": 0.25}]},
        {"name": "row", "steps": [
          {"id": "from", "step": "from_part", "part": "ball"},
          {"id": "a", "step": "array", "count": 3, "offset": [0, 0.5, 0]}]}]})");
    INFO((recipe ? "" : recipe.problem().text()));
    REQUIRE(recipe);
    return *recipe;
}

HandoverReport handed(const Recipe& recipe, const fs::path& folder,
                      const std::function<void(HandoverOrder&)>& set = {}) {
    HandoverOrder order{recipe, {}, folder.string()};
    order.making.environment = environment_in("");
    order.options.attributes = true;
    if (set) set(order);
    return hand_over(order);
}

const nlohmann::json* node_called(const nlohmann::json& read, const std::string& name) {
    for (const auto& one : read["nodes"])
        if (one["name"] == name) return &one;
    return nullptr;
}

std::vector<std::string> names_in(const nlohmann::json& read) {
    std::vector<std::string> out;
    for (const auto& one : read["nodes"]) out.push_back(one["name"]);
    return out;
}

bool has(const std::vector<std::string>& list, const std::string& text) {
    return std::ranges::any_of(list, [&](const std::string& one) { return one.find(text) != std::string::npos; });
}

}  // namespace

TEST_CASE("a hand-over of glTF holds names, pivots, values, copies and levels", "[handover][outside]") {
    const Folder folder;
    const auto done = handed(two_parts(), folder.path / "out", [](HandoverOrder& order) {
        order.dressing.pivot = Pivot::foot;
        order.dressing.levels = {0.5};
        order.dressing.collision = CollisionKind::boxes;
        order.dressing.light_uvs = true;
    });
    INFO((done.problem ? done.problem->text() : ""));
    REQUIRE_FALSE(done.problem);
    REQUIRE(done.files.size() == 1);
    CHECK(done.files[0].name == "Quay_post.glb");
    const std::string file = (folder.path / "out/Quay_post.glb").string();
    const auto report = node("validate_glb.mjs", file);
    CHECK(report["errors"] == 0);
    CHECK(report["warnings"] == 0);
    const auto read = node("read_glb.mjs", file);
    const auto* post = node_called(read, "post_LOD0");
    REQUIRE(post);
    // Its foot stands at (2, 0, 0) metres; glTF has y up: (2, 0, -0). The box is 0.2 wide and a metre high.
    CHECK((*post)["place"][12] == Approx(2));
    CHECK((*post)["place"][13].get<double>() == Approx(0).margin(1e-6));
    CHECK((*post)["low"][0] == Approx(1.9));
    CHECK((*post)["high"][1] == Approx(1));
    CHECK((*post)["attributes"].dump().find("uv1") != std::string::npos);
    // The shared ball by its part's name, each copy with its number; three's loader takes dots out of names.
    const auto* second = node_called(read, "row_LOD0ball2");
    REQUIRE(second);
    CHECK((*second)["high"][2].get<double>() - (*second)["low"][2].get<double>() == Approx(0.2).epsilon(1e-4));
    CHECK((*second)["values"]["_wear"][0] == Approx(0.25));
    REQUIRE(node_called(read, "row_LOD1"));
    CHECK((*node_called(read, "row_LOD1"))["userData"]["level"] == 1);
    for (const char* name : {"row_collision_01", "row_collision_02", "row_collision_03", "post_collision_01"}) {
        const auto* bump = node_called(read, name);
        REQUIRE(bump);
        CHECK((*bump)["triangles"] == 12);
        CHECK((*bump)["userData"]["collision"] == true);
    }
    // Every name once.
    std::vector<std::string> names = names_in(read);
    std::ranges::sort(names);
    CHECK(std::ranges::adjacent_find(names) == names.end());
    const Json list = Json::parse(*read_file((folder.path / "out/handover.json").string()));
    CHECK(list["dials"]["girth"] == 0.2);
    CHECK(list["files"][0]["bytes"] == fs::file_size(file));
    CHECK(list["shapes"].size() == 8);
}

TEST_CASE("joined copies are as many, in the same places", "[handover][outside]") {
    const Folder folder;
    REQUIRE_FALSE(handed(two_parts(), folder.path / "a").problem);
    REQUIRE_FALSE(handed(two_parts(), folder.path / "b", [](HandoverOrder& order) {
                      order.options.joined_copies = true;
                  }).problem);
    const std::string file = (folder.path / "b/Quay_post.glb").string();
    CHECK(node("validate_glb.mjs", file)["errors"] == 0);
    const auto apart = node("read_glb.mjs", (folder.path / "a/Quay_post.glb").string()),
               joined = node("read_glb.mjs", file);
    const auto* copies = node_called(joined, "rowballcopies");
    REQUIRE(copies);
    CHECK((*copies)["copies"] == 3);
    for (int axis = 0; axis < 3; ++axis) {
        double low = 1e9, high = -1e9;
        for (const char* name : {"rowball1", "rowball2", "rowball3"}) {
            const auto* one = node_called(apart, name);
            REQUIRE(one);
            low = std::min(low, (*one)["low"][static_cast<std::size_t>(axis)].get<double>());
            high = std::max(high, (*one)["high"][static_cast<std::size_t>(axis)].get<double>());
        }
        CHECK((*copies)["low"][static_cast<std::size_t>(axis)] == Approx(low).margin(1e-6));
        CHECK((*copies)["high"][static_cast<std::size_t>(axis)] == Approx(high).margin(1e-6));
    }
}

TEST_CASE("what frame turns becomes a track, what it bends a row of targets", "[handover][outside]") {
    const Folder folder;
    Json json = Json::parse(recipe_text(two_parts()));
    json["parts"].push_back(
        {{"name", "reed"},
         {"steps", Json::array({step("c", "cylinder", {{"radius", 0.05}, {"height", 1}, {"levels", 8}}),
                                step("b", "bend", {{"angle", "= frame * 15"}, {"axis", "z"}, {"toward", "x"}})})}});
    const Recipe recipe = *recipe_from_text(json.dump());
    const auto done = handed(recipe, folder.path / "out", [](HandoverOrder& order) {
        order.frames = FrameRange{0, 4, 10};
        order.suffixes = {"glb", "usda", "obj"};
        order.dressing.pivot = Pivot::foot;
    });
    INFO((done.problem ? done.problem->text() : ""));
    REQUIRE_FALSE(done.problem);
    CHECK(has(done.notes, "Wavefront OBJ files hold no movement"));
    const std::string file = (folder.path / "out/Quay_post.glb").string();
    const auto report = node("validate_glb.mjs", file);
    INFO(report.dump());
    CHECK(report["errors"] == 0);
    CHECK(report["warnings"] == 0);
    for (const int frame : {0, 1, 3, 4}) {
        INFO("frame " << frame);
        const auto read = node("read_glb.mjs", fmt::format("{} {}", file, frame / 10.0));
        // A square of 0.2 turned by 10 degrees a frame about its middle, which stands at x = 2.
        const double turn = frame * 10 * std::numbers::pi / 180;
        const double half = 0.1 * (std::cos(turn) + std::sin(turn));
        const auto* post = node_called(read, "post");
        REQUIRE(post);
        CHECK((*post)["high"][0] == Approx(2 + half).margin(2e-4));
        CHECK((*post)["low"][0] == Approx(2 - half).margin(2e-4));
        // The reed as Bricol makes it at this frame.
        MakeOptions making;
        making.for_export = true;
        making.environment.surroundings.frame = frame;
        const auto made = Maker().make(recipe, making);
        const auto box = *box_of(*made.part(recipe, "reed")->shape);
        const auto* reed = node_called(read, "reed");
        REQUIRE(reed);
        CHECK((*reed)["high"][1] == Approx(box.high.z).margin(1e-5));
        CHECK((*reed)["high"][0] == Approx(box.high.x).margin(1e-5));
        CHECK((*reed)["low"][0] == Approx(box.low.x).margin(1e-5));
    }
    CHECK(node("read_glb.mjs", file)["clips"][0]["duration"] == Approx(0.4));
    // The same in USD: the post's place at every frame, the reed's points.
    const auto usd = node("read_usda.mjs", (folder.path / "out/Quay_post.usda").string());
    const auto& place = usd["samples"]["/Quay_post/post/post.xformOp:transform"];
    REQUIRE(place["times"].size() == 5);
    CHECK(place["values"][3][0] == Approx(std::cos(std::numbers::pi / 6)));
    CHECK(usd["samples"]["/Quay_post/reed/reed.points"]["times"].size() == 5);
}

TEST_CASE("a movement that begins later begins where the shapes stand then", "[handover][outside]") {
    const Folder folder;
    REQUIRE_FALSE(handed(two_parts(), folder.path / "out", [](HandoverOrder& order) {
                      order.frames = FrameRange{3, 5, 10};
                  }).problem);
    for (const int frame : {3, 5}) {
        INFO("frame " << frame);
        const auto read = node("read_glb.mjs",
                               fmt::format("{} {}", (folder.path / "out/Quay_post.glb").string(), (frame - 3) / 10.0));
        const double turn = frame * 10 * std::numbers::pi / 180;
        const auto* post = node_called(read, "post");
        REQUIRE(post);
        CHECK((*post)["high"][0] == Approx(2 + 0.1 * (std::cos(turn) + std::sin(turn))).margin(2e-4));
    }
}

TEST_CASE("USD holds the same shapes, materials, sets of UVs and presets", "[handover][outside]") {
    const Folder folder;
    for (const std::string name : {"lantern", "rack", "buoy"}) {
        INFO(name);
        const Recipe recipe = demo_recipe(name);
        const auto done = handed(recipe, folder.path / name, [&](HandoverOrder& order) {
            order.making.environment = environment_in(std::string(SOURCE_FOLDER) + "/demo");
            order.suffixes = {"usda"};
            order.dressing.light_uvs = true;
            order.presets = true;
        });
        REQUIRE_FALSE(done.problem);
        const auto read = node("read_usda.mjs", (folder.path / name / done.files[0].name).string());
        std::size_t plain = 0;
        for (const NamedShape& one : done.shapes) {
            if (!one.shape->instances.empty()) continue;
            ++plain;
            const Measures m = measured(*one.shape);
            bool found = false;
            for (const auto& mesh : read["meshes"]) {
                if (mesh["triangles"] != m.triangles || std::abs(mesh["area"].get<double>() / m.area - 1) > 1e-4)
                    continue;
                found = true;
                CHECK(mesh["lightUvs"] == true);
                // three turns z up into y up.
                CHECK(mesh["high"][1].get<double>() == Approx(m.box->high.z).margin(1e-5));
                CHECK(mesh["low"][0].get<double>() == Approx(m.box->low.x).margin(1e-5));
                const std::vector<Material> materials = materials_of(*one.shape);
                if (materials.size() != 1) continue;
                CHECK(mesh["materials"][0]["metallic"] == Approx(materials[0].metallic));
                CHECK(mesh["materials"][0]["roughness"] == Approx(materials[0].roughness));
                for (int k = 0; k < 3; ++k)
                    CHECK(mesh["materials"][0]["colour"][static_cast<std::size_t>(k)] ==
                          Approx(materials[0].colour[k]).epsilon(1e-5));
            }
            CHECK(found);
        }
        CHECK(plain > 0);
    }
    // A preset's shapes under its own selection.
    const Recipe lantern = demo_recipe("lantern");
    const Recipe squat = *apply_preset(lantern, "Squat");
    MakeOptions making;
    making.for_export = true;
    const Made made = Maker().make(squat, making);
    const auto read = node("read_usda.mjs", (folder.path / "lantern/Quay_lantern.usda").string() + " Squat");
    double high = -1e9;
    for (const auto& mesh : read["meshes"]) high = std::max(high, mesh["high"][1].get<double>());
    double wanted = -1e9;
    for (const NamedShape& one : shapes_to_write(squat, made)) wanted = std::max(wanted, box_of(*one.shape)->high.z);
    CHECK(high == Approx(wanted).epsilon(1e-5));
}

TEST_CASE("copies in USD refer to one shape, with their places", "[handover][outside]") {
    const Folder folder;
    REQUIRE_FALSE(handed(two_parts(), folder.path / "out", [](HandoverOrder& order) {
                      order.suffixes = {"usda"};
                      order.options.scale = 100;
                  }).problem);
    const std::string file = (folder.path / "out/Quay_post.usda").string();
    const auto read = node("read_usda.mjs", file);
    REQUIRE(read["instances"].size() == 3);
    for (std::size_t i = 0; i < 3; ++i) {
        CHECK(read["instances"][i]["reference"].dump().find("/Quay_post/row/ball_once") != std::string::npos);
        // The move stands in the last row; centimetres.
        CHECK(read["instances"][i]["transform"][13].get<double>() ==
              Approx(50.0 * static_cast<double>(i)).margin(1e-4));
    }
    CHECK(read_file(file)->find("metersPerUnit = 0.01") != std::string::npos);
    CHECK(read_file(file)->find("float[] primvars:wear") != std::string::npos);
}

TEST_CASE("turned copies stand the same in every format that keeps copies", "[handover][outside]") {
    const Folder folder;
    // Long bricks one behind another, each turned further about all axes: a place that is read row for column is seen.
    const Recipe recipe = *recipe_from_text(R"({"bricol": 1, "title": "Bricks", "parts": [{"name": "row", "steps": [
      {"id": "b", "step": "box", "size": [0.2, 0.5, 1]},
      {"id": "a", "step": "array", "kind": "repeat", "count": 4, "offset": [1, 0.5, 0.25], "turn": [10, 20, 35]}]}]})");
    const Made made = Maker().make(recipe);
    const Box box = *made.part(recipe, "row")->measures.box;
    const auto same_as = [&](DVec3 low, DVec3 high, double scale) {
        for (int k = 0; k < 3; ++k) {
            CHECK(low[k] / scale == Approx(box.low[k]).margin(1e-5));
            CHECK(high[k] / scale == Approx(box.high[k]).margin(1e-5));
        }
    };
    for (const bool joined : {false, true}) {
        INFO("joined " << joined);
        const auto done = handed(recipe, folder.path / (joined ? "joined" : "apart"), [&](HandoverOrder& order) {
            order.suffixes = {"glb", "usda", "3mf"};
            order.options.joined_copies = joined;
        });
        REQUIRE_FALSE(done.problem);
        const fs::path out = folder.path / (joined ? "joined" : "apart");
        DVec3 low(1e9), high(-1e9);
        const auto read = node("read_glb.mjs", (out / "Bricks.glb").string());
        for (const auto& one : read["nodes"])
            if (one.contains("low"))
                for (int k = 0; k < 3; ++k) {
                    const auto at = static_cast<std::size_t>(k);
                    low[k] = std::min(low[k], one["low"][at].get<double>());
                    high[k] = std::max(high[k], one["high"][at].get<double>());
                }
        same_as({low.x, -high.z, low.y}, {high.x, -low.z, high.y}, 1);  // y up
    }
    const ThreeMfRead threemf = read_3mf((folder.path / "apart/Bricks.3mf").string());
    same_as(threemf.low, threemf.high, 1000);
    // USD multiplies points from the left: x' = x m[0] + y m[4] + z m[8] + m[12].
    const auto usd = node("read_usda.mjs", (folder.path / "apart/Bricks.usda").string());
    REQUIRE(usd["instances"].size() == 4);
    DVec3 low(1e9), high(-1e9);
    for (const auto& instance : usd["instances"])
        for (int corner = 0; corner < 8; ++corner) {
            const DVec3 p(corner & 1 ? 0.1 : -0.1, corner & 2 ? 0.25 : -0.25, corner & 4 ? 1 : 0);
            const auto m = [&](int i) { return instance["transform"][static_cast<std::size_t>(i)].get<double>(); };
            DVec3 at;
            for (int k = 0; k < 3; ++k) at[k] = p.x * m(k) + p.y * m(4 + k) + p.z * m(8 + k) + m(12 + k);
            low = glm::min(low, at), high = glm::max(high, at);
        }
    same_as(low, high, 1);
}

TEST_CASE("what a format has no place for is said", "[handover]") {
    const Folder folder;
    Json json = Json::parse(recipe_text(two_parts()));
    json["parts"][2]["steps"].push_back(step("r", "real_geometry"));
    json["parts"][2]["steps"].push_back(step("c", "colour", {{"colour", {1, 0.5, 0}}}));
    json["presets"].push_back({{"name", "Bad"}, {"dials", {{"girth", 0.3}}}});
    const auto done = handed(*recipe_from_text(json.dump()), folder.path / "out", [](HandoverOrder& order) {
        order.suffixes = {"stl", "3mf"};
        order.dressing.light_uvs = true;
        order.presets = true;
        order.options.cages = order.options.joined_copies = true;
    });
    REQUIRE_FALSE(done.problem);
    for (const char* words : {"STL files hold no materials", "STL files hold no colours", "3MF files hold no colours",
                              "STL files hold no second UVs", "3MF files hold no presets", "3MF files hold no values",
                              "joined in glTF alone", "USD alone"}) {
        INFO(words);
        CHECK(has(done.notes, words));
    }
    CHECK_FALSE(has(done.notes, "3MF files hold no materials"));
    // The list says them too.
    CHECK(Json::parse(*read_file((folder.path / "out/handover.json").string()))["notes"] == Json(done.notes));
    const auto all = handed(two_parts(), folder.path / "glb");
    CHECK(all.notes.empty());
}

TEST_CASE("a preset that breaks stays out and is named", "[handover]") {
    const Folder folder;
    const auto recipe = recipe_from_text(R"json({"bricol": 1, "title": "Post",
      "dials": [{"name": "n", "value": 1, "min": 1, "max": 6}],
      "presets": [{"name": "Good", "dials": {"n": 2}}, {"name": "Bad", "dials": {"n": 3}}],
      "parts": [{"name": "p", "steps": [{"id": "b", "step": "box", "size": ["= sqrt(0.5 - (n == 3))", 1, 1]}]}]})json");
    REQUIRE(recipe);
    const auto done = handed(*recipe, folder.path / "out", [](HandoverOrder& order) {
        order.suffixes = {"usda"};
        order.presets = true;
    });
    REQUIRE_FALSE(done.problem);
    CHECK(has(done.notes, "The preset “Bad” stays out"));
    const std::string text = *read_file((folder.path / "out/Post.usda").string());
    CHECK(text.find("\"Good\" {") != std::string::npos);
    CHECK(text.find("\"Bad\" {") == std::string::npos);
}

TEST_CASE("cages with creases are told as such when asked", "[handover][outside]") {
    Mesh box = make_box({1, 1, 1}, {1, 1, 1});
    Array<float> crease(box.edge_count(), 0);
    crease[2] = 3.5f;
    box.attributes.set(Domain::edge, attribute_name::crease, crease);
    const Folder folder;
    const std::vector<NamedShape> shapes = {{"box", std::make_shared<const Shape>(shape_of(box))}};
    ExportOptions options;
    REQUIRE_FALSE(export_shapes(shapes, folder / "flat.usda", options));
    options.cages = true;
    REQUIRE_FALSE(export_shapes(shapes, folder / "cage.usda", options));
    const std::string flat = *read_file(folder / "flat.usda"), cage = *read_file(folder / "cage.usda");
    CHECK(flat.find("subdivisionScheme = \"none\"") != std::string::npos);
    CHECK(cage.find("subdivisionScheme = \"catmullClark\"") != std::string::npos);
    CHECK(cage.find("creaseSharpnesses = [3.5]") != std::string::npos);
    const auto ends = box.topology->edges[2];
    CHECK(cage.find("creaseIndices = [" + std::to_string(ends[0]) + ", " + std::to_string(ends[1]) + "]") !=
          std::string::npos);
    CHECK(node("read_usda.mjs", folder / "cage.usda")["meshes"][0]["triangles"] == 12);
}

TEST_CASE("3MF is read back in millimetres, copies and materials with it", "[handover][outside]") {
    const Folder folder;
    Recipe recipe = two_parts();
    REQUIRE_FALSE(handed(recipe, folder.path / "a", [](HandoverOrder& order) { order.suffixes = {"3mf"}; }).problem);
    const std::string file = (folder.path / "a/Quay_post.3mf").string();
    const ThreeMfRead read = read_3mf(file);
    // The post of 12 triangles from 1.9 to 2.1 m, and three balls of 16 x 8 faces from -0.1 to 1.1 m.
    CHECK(read.triangles == 12 + 3 * (2 * 16 + 2 * 16 * 6));
    CHECK(read.millimetres);
    CHECK(read.low.x == Approx(-100));
    CHECK(read.high.x == Approx(2100));
    CHECK(read.high.y == Approx(1100));
    CHECK(read.high.z == Approx(1000));
    CHECK(read.objects == 3);  // the post, the ball once, the row
    REQUIRE(read.materials.size() == 1);
    CHECK(read.materials[0] == "brass #ff");
    // The same bytes, whatever the clock says.
    const std::string first = *read_file(file);
    REQUIRE_FALSE(handed(recipe, folder.path / "b", [](HandoverOrder& order) { order.suffixes = {"3mf"}; }).problem);
    CHECK(*read_file((folder.path / "b/Quay_post.3mf").string()) == first);
}

TEST_CASE("a hand-over gives the same bytes on any number of threads", "[handover]") {
    const Folder folder;
    const auto all = [](HandoverOrder& order) {
        order.suffixes = {"glb", "usda", "obj", "ply", "stl", "3mf"};
        order.dressing.levels = {0.5, 0.2};
        order.dressing.collision = CollisionKind::pieces;
        order.dressing.light_uvs = true;
        order.presets = order.page = true;
        order.frames = FrameRange{0, 3, 25};
    };
    for (const std::size_t threads : {1, 4}) {
        const tbb::global_control held(tbb::global_control::max_allowed_parallelism, threads);
        const auto done = handed(two_parts(), folder.path / std::to_string(threads), all);
        REQUIRE_FALSE(done.problem);
        CHECK(done.files.size() == 8);  // six kinds, OBJ's materials, the page
    }
    const auto one = contents(folder.path / "1"), four = contents(folder.path / "4");
    REQUIRE(one.size() == four.size());
    for (const auto& [name, bytes] : one) {
        INFO(name);
        CHECK((four.at(name) == bytes));
    }
}

TEST_CASE("parts apart stand at their own pivots", "[handover][outside]") {
    const Folder folder;
    const auto done = handed(two_parts(), folder.path / "out", [](HandoverOrder& order) {
        order.apart = true;
        order.dressing.pivot = Pivot::foot;
        order.suffixes = {"glb", "obj"};
    });
    REQUIRE_FALSE(done.problem);
    const auto read = node("read_glb.mjs", (folder.path / "out/post.glb").string());
    REQUIRE(node_called(read, "post"));
    CHECK((*node_called(read, "post"))["low"][0] == Approx(-0.1));
    CHECK_FALSE(node_called(read, "row"));
    CHECK(fs::exists(folder.path / "out/row.obj"));
}

TEST_CASE("a hand-over tidies up after itself and leaves what is not its own", "[handover][bad input]") {
    const Folder folder;
    const fs::path out = folder.path / "out";
    REQUIRE_FALSE(handed(two_parts(), out, [](HandoverOrder& order) { order.suffixes = {"glb", "obj"}; }).problem);
    CHECK(fs::exists(out / "Quay_post.mtl"));
    { std::ofstream(out / "notes.txt") << "mine"; }
    REQUIRE_FALSE(handed(two_parts(), out).problem);
    CHECK_FALSE(fs::exists(out / "Quay_post.obj"));
    CHECK_FALSE(fs::exists(out / "Quay_post.mtl"));
    CHECK(*read_file((out / "notes.txt").string()) == "mine");
    // A file that was changed since stays; a stranger's file in the way refuses everything.
    REQUIRE_FALSE(handed(two_parts(), out, [](HandoverOrder& order) { order.suffixes = {"glb", "stl"}; }).problem);
    { std::ofstream(out / "Quay_post.stl") << "changed by hand"; }
    const auto changed = handed(two_parts(), out);
    CHECK(fs::exists(out / "Quay_post.stl"));
    CHECK(has(changed.notes, "Quay_post.stl was changed"));
    { std::ofstream(out / "Quay_post.ply") << "somebody else's"; }
    const std::string before = *read_file((out / "Quay_post.glb").string());
    const auto refused = handed(two_parts(), out, [](HandoverOrder& order) { order.suffixes = {"ply"}; });
    REQUIRE(refused.problem);
    CHECK_THAT(refused.problem->text(), Catch::Contains("not from a hand-over"));
    CHECK(*read_file((out / "Quay_post.ply").string()) == "somebody else's");
    // The file beside another counts as well.
    { std::ofstream(out / "Quay_post.mtl") << "mine too"; }
    CHECK(handed(two_parts(), out, [](HandoverOrder& order) { order.suffixes = {"obj"}; }).problem);
    CHECK(*read_file((out / "Quay_post.mtl").string()) == "mine too");
    CHECK(*read_file((out / "Quay_post.glb").string()) == before);
}

TEST_CASE("a hand-over that was broken off is taken up again", "[handover][bad input]") {
    const Folder folder;
    const fs::path out = folder.path / "out";
    std::atomic<bool> stop = false;
    const auto broken_off = handed(two_parts(), out, [&](HandoverOrder& order) {
        order.suffixes = {"glb", "stl", "ply"};
        order.making.stop = &stop;
        order.progress = [&](const std::string& what) { stop = what.find(".ply") != std::string::npos; };
    });
    CHECK(broken_off.stopped);
    CHECK(fs::exists(out / "Quay_post.stl"));
    CHECK_FALSE(fs::exists(out / "Quay_post.ply"));
    // It knows its files, and takes away what is not wanted any more.
    const auto again = handed(two_parts(), out);
    INFO((again.problem ? again.problem->text() : ""));
    CHECK_FALSE(again.problem);
    CHECK(fs::exists(out / "Quay_post.glb"));
    CHECK_FALSE(fs::exists(out / "Quay_post.stl"));
}

TEST_CASE("broken recipes, folders that cannot be and a raised stop are told", "[handover][bad input]") {
    const Folder folder;
    const auto broken =
        handed(recipe_of(Json::array({step("b", "box", {{"size", {"= sqrt(0 - 1)", 1, 1}}})})), folder.path / "a");
    CHECK(broken.broken);
    REQUIRE(broken.problem);
    CHECK_FALSE(fs::exists(folder.path / "a"));
    { std::ofstream(folder.path / "file") << ""; }
    const auto nowhere = handed(two_parts(), folder.path / "file/inside");
    REQUIRE(nowhere.problem);
    CHECK_THAT(nowhere.problem->text(), Catch::Contains("cannot be made"));
    std::atomic<bool> stop = true;
    const auto stopped =
        handed(two_parts(), folder.path / "b", [&](HandoverOrder& order) { order.making.stop = &stop; });
    CHECK(stopped.stopped);
    CHECK(stopped.files.empty());
    const auto empty = handed(recipe_of(Json::array()), folder.path / "c");
    REQUIRE(empty.problem);
    CHECK_THAT(empty.problem->text(), Catch::Contains("nothing to hand over"));
    // A frame that breaks.
    const auto later = handed(recipe_of(Json::array({step("b", "box", {{"size", {"= sqrt(2.5 - frame)", 1, 1}}})})),
                              folder.path / "d", [](HandoverOrder& order) {
                                  order.frames = FrameRange{0, 5, 25};
                              });
    REQUIRE(later.problem);
    CHECK_THAT(later.problem->text(), Catch::Contains("frame 3"));
}

TEST_CASE("the command hands over, and says what it cannot take", "[handover][command]") {
    const Folder folder;
    { std::ofstream(folder.path / "post.bricol") << recipe_text(two_parts()); }
    const std::string from = std::string(command_path()) + " handover '" + (folder / "post.bricol") + "' ";
    int code = 0;
    const Json done = Json::parse(output_of(from +
                                                "--kind .glb --kind usda --levels '50 %, 20%' --collision hull "
                                                "--collision-name 'hit_{part}_{n}' --pivot 0,0,0.5 --frames 0..2 "
                                                "--presets --page --unit cm --json --out '" +
                                                (folder / "out") + "'",
                                            &code));
    CHECK(code == 0);
    CHECK(done["files"].size() == 3);
    // `make` leaves one's own values out unless they are asked for.
    const std::string make = std::string(command_path()) + " make '" + (folder / "post.bricol") + "' --quiet --out '" +
                             (folder / "m.ply") + "' ";
    output_of(make, &code);
    CHECK(read_file(folder / "m.ply")->find("property float wear") == std::string::npos);
    output_of(make + "--values", &code);
    CHECK(read_file(folder / "m.ply")->find("property float wear") != std::string::npos);
    CHECK(read_file(folder / "out/Quay_post.usda")->find("def Xform \"hit_post_01\"") != std::string::npos);
    for (const auto& [options, words] :
         std::map<std::string, std::string>{{"--levels 50,60", "each less than the one before"},
                                            {"--levels lots", "in percent"},
                                            {"--pivot 1,2", "own, foot, middle"},
                                            {"--frames 3", "0..24"},
                                            {"--frames 5..5", "0..24"},
                                            {"--collision-name same", "{n}"},
                                            {"--kind docx", "Bricol writes"}}) {
        INFO(options);
        CHECK_THAT(output_of(from + options + " --out '" + (folder / "no") + "' 2>&1", &code), Catch::Contains(words));
        CHECK(code == 2);
        CHECK_FALSE(fs::exists(folder / "no"));
    }
}

TEST_CASE("the preview page shows its presets without a network", "[handover][page][outside][long]") {
    if (sanitized()) return;  // a browser is not watched; what writes the page is, in the tests above
    const Folder folder;
    REQUIRE_FALSE(handed(two_parts(), folder.path / "out", [](HandoverOrder& order) {
                      order.presets = order.page = true;
                  }).problem);
    const std::string page = "file://" + (folder.path / "out/preview.html").string();
    CHECK(read_file((folder.path / "out/preview.html").string())->find("<script src") == std::string::npos);
    // Debian's Chromium, without a network of any kind.
    const std::string chromium =
        "timeout 60 chromium --headless=new --no-sandbox --disable-gpu-sandbox --use-gl=angle "
        "--use-angle=swiftshader --enable-unsafe-swiftshader --host-resolver-rules='MAP * "
        "~NOTFOUND' --hide-scrollbars --window-size=640,480 --user-data-dir='" +
        (folder / "profile") + "' --virtual-time-budget=2500 ";
    for (const auto& [hash, width] : std::map<std::string, double>{{"", 0.2}, {"#Stout%20one", 0.5}}) {
        INFO(hash);
        int code = 0;
        const std::string dom = output_of(chromium + "--dump-dom '" + page + hash + "' 2>/dev/null", &code);
        const auto value = [&](const std::string& name) {
            const std::size_t at = dom.find("data-" + name + "=\"");
            REQUIRE(at != std::string::npos);
            const std::size_t from = at + name.size() + 7;
            return dom.substr(from, dom.find('"', from) - from);
        };
        CHECK(value("state") == (hash.empty() ? "0" : "1"));
        CHECK(value("triangles") == std::to_string(12 + 3 * (2 * 16 + 2 * 16 * 6)));
        const std::string high = value("high");
        double right = 0;
        std::from_chars(high.data(), high.data() + high.size(), right);
        CHECK(right == Approx(2 + width / 2).epsilon(1e-4));
        CHECK(dom.find(hash.empty() ? "<td>0.2 × 0.2 × 1 m, 6 faces, 12 triangles" : "<td>0.5 × 0.5 × 1 m") !=
              std::string::npos);
        CHECK(dom.find("aria-pressed=\"true\"") != std::string::npos);
    }
    // And it is a picture: something stands before the ground.
    int code = 0;
    output_of(chromium + "--screenshot='" + (folder / "page.png") + "' '" + page + "' 2>/dev/null", &code);
    png_image image{};
    image.version = PNG_IMAGE_VERSION;
    REQUIRE(png_image_begin_read_from_file(&image, (folder / "page.png").c_str()));
    image.format = PNG_FORMAT_RGB;
    std::vector<png_byte> bytes(PNG_IMAGE_SIZE(image));
    REQUIRE(png_image_finish_read(&image, nullptr, bytes.data(), 0, nullptr));
    std::size_t drawn = 0;
    for (std::size_t y = 80; y < 300; ++y)
        for (std::size_t x = 0; x < 640; ++x) {
            const png_byte* here = bytes.data() + 3 * (y * image.width + x);
            drawn += std::abs(here[0] - bytes[3 * 60 * image.width]) > 40;
        }
    CHECK(drawn > 1500);
}

TEST_CASE("a disk that fills up amid a hand-over tells, leaves no halves, and the next one goes on",
          "[handover][bad input]") {
    // A limit on file size stands in for a full disk.
    const Folder folder;
    const std::string command = std::string(command_path()) +
                                " handover '" SOURCE_FOLDER "/demo/rack.bricol' --kind obj --kind glb --out '" +
                                (folder / "h") + "' --quiet 2>&1";
    int code = 0;
    const std::string said = output_of("bash -c \"ulimit -f 8; trap '' XFSZ; " + command + "\"", &code);
    INFO(said);
    CHECK(code == 3);
    CHECK(said.find("could not be written") != std::string::npos);
    for (const auto& entry : std::filesystem::directory_iterator(folder.path / "h"))
        CHECK(unfinished_of(entry.path().filename().string()).empty());
    output_of(command, &code);
    CHECK(code == 0);
    CHECK(std::filesystem::exists(folder / "h/handover.json"));
}
