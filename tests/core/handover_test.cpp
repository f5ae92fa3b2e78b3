// SPDX-License-Identifier: GPL-3.0-or-later
// What is handed over, read back by programs that are not ours: `three` for glTF and USD, lib3mf's
// reader for 3MF, the Khronos validator.
#include <catch2/catch.hpp>
#include <cmath>
#include <filesystem>
#include <fmt/format.h>
#include <numbers>
#include <set>

#include "core/files/delivered.h"
#include "core/files/files.h"
#include "core/files/handover.h"
#include "core/kernels/primitives.h"
#include "core/recipe/recipe_json.h"
#include "tests/support/handed.h"
#include "tests/support/node.h"
#include "tests/support/threemf_check.h"

using namespace bricol;
using namespace bricol::test;
namespace fs = std::filesystem;

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

TEST_CASE("what frame turns becomes a track, what it bends a row of targets", "[handover][outside][wide]") {
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

TEST_CASE("values on copies go along: with joined copies, with nodes, on points where copies are written out",
          "[handover][outside]") {
    const Folder folder;
    Json json = Json::parse(recipe_text(two_parts()));
    Json& row = json["parts"][2]["steps"];
    row.push_back({{"id", "v"},
                   {"step", "formula"},
                   {"on", "instances"},
                   {"rows", Json::array({{{"target", "salt load"}, {"formula", "index * 0.25"}},
                                         {{"target", "wind"}, {"formula", "2 - index"}}})}});
    const Recipe recipe = *recipe_from_text(json.dump());
    for (const bool joined : {true, false}) {
        const fs::path out = folder.path / (joined ? "joined" : "apart");
        const auto done = handed(recipe, out, [&](HandoverOrder& order) {
            order.options.joined_copies = joined;
            order.suffixes = {"glb", "usda"};
        });
        REQUIRE_FALSE(done.problem);
        // USD has the copies, but no place for what stands on them: told by name.
        CHECK(has(done.notes, "“salt load” stands on copies, for which"));
        const std::string file = (out / "Quay_post.glb").string();
        const auto report = node("validate_glb.mjs", file);
        INFO(report.dump());
        CHECK(report["errors"] == 0);
        const auto read = node("read_glb.mjs", file);
        if (joined) {
            const auto* copies = node_called(read, "rowballcopies");
            REQUIRE(copies);
            CHECK((*copies)["values"]["_SALT_LOAD"] == nlohmann::json({0, 0.25, 0.5}));
            CHECK((*copies)["values"]["_WIND"] == nlohmann::json({2, 1, 0}));
            continue;
        }
        for (int i = 0; i < 3; ++i) {
            const auto* copy = node_called(read, fmt::format("rowball{}", i + 1));
            REQUIRE(copy);
            CHECK((*copy)["userData"]["salt_load"] == 0.25 * i);
            CHECK((*copy)["userData"]["wind"] == 2 - i);
        }
    }
    // Sheared copies become points, and what stood on them stands there.
    row.push_back({{"id", "lean"}, {"step", "transform"}, {"turn", {0, 30, 0}}, {"size", {1, 1, 3}}});
    row.push_back({{"id", "more"}, {"step", "transform"}, {"turn", {0, 30, 0}}, {"size", {1, 1, 3}}});
    REQUIRE_FALSE(handed(*recipe_from_text(json.dump()), folder.path / "sheared").problem);
    const auto read = node("read_glb.mjs", (folder.path / "sheared/Quay_post.glb").string());
    const auto* sheared = node_called(read, "row");
    REQUIRE(sheared);
    CHECK((*sheared)["triangles"] == 3 * 16 * (2 * 8 - 2));  // three balls in one; three writes names of points small
    const auto& salt = (*sheared)["values"]["_salt_load"];
    const std::set<double> values(salt.begin(), salt.end());
    CHECK(values == std::set<double>{0, 0.25, 0.5});
}

TEST_CASE("levels and what is bumped into move with a stiff body; what bends is told", "[handover][outside]") {
    const Folder folder;
    Json json = Json::parse(recipe_text(two_parts()));
    json["parts"].push_back({{"name", "reed"},
                             {"steps", Json::array({{{"id", "c"}, {"step", "cylinder"}, {"radius", 0.02}},
                                                    {{"id", "b"}, {"step", "bend"}, {"angle", "= frame * 10"}}})}});
    const auto done = handed(*recipe_from_text(json.dump()), folder.path / "out", [](HandoverOrder& order) {
        order.frames = FrameRange{0, 4, 10};
        order.dressing.levels = {0.5};
        order.dressing.collision = CollisionKind::hull;
    });
    REQUIRE_FALSE(done.problem);
    CHECK_FALSE(has(done.notes, "post: its"));
    CHECK(has(done.notes, "reed: its levels do not bend"));
    CHECK(has(done.notes, "reed: its shapes to collide with do not move"));
    const std::string file = (folder.path / "out/Quay_post.glb").string();
    CHECK(node("validate_glb.mjs", file)["errors"] == 0);
    const auto read = node("read_glb.mjs", file + " 0.3");
    const double turn = 30 * std::numbers::pi / 180, half = 0.1 * (std::cos(turn) + std::sin(turn));
    std::size_t turned = 0;
    for (const auto& one : read["nodes"]) {
        const std::string name = one["name"];
        if (!one.contains("high") || name.find("post") == std::string::npos) continue;
        INFO(name);
        CHECK(one["high"][0] == Approx(2 + half).margin(2e-4));
        ++turned;
    }
    CHECK(turned == 3);  // the post, its level, its hull
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

TEST_CASE("USD holds the same shapes, materials, sets of UVs and presets", "[handover][outside][wide]") {
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
    for (const NamedShape& one : shapes_to_write(squat, made))
        if (const auto box = box_of(*one.shape)) wanted = std::max(wanted, box->high.z);  // lamps have none
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
