// SPDX-License-Identifier: GPL-3.0-or-later
// Recipes inside recipes: packing steps, opening them again, files beside the recipe, and what goes wrong with them.
#include <catch2/catch.hpp>
#include <filesystem>
#include <fstream>

#include "core/recipe/clip.h"
#include "core/files/kits.h"
#include "core/kernels/transform.h"
#include "tests/support/folder.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;
namespace fs = std::filesystem;

namespace {

Json file(const Json& steps, const Json& dials = Json::array()) {
    return Json{{"bricol", 1}, {"dials", dials}, {"parts", Json::array({{{"name", "it"}, {"steps", steps}}})}};
}

Tried made_in(const Folder& folder, const Recipe& recipe, double frame = 0) {
    MakeOptions options;
    options.environment.folder = folder.path.string();
    options.environment.surroundings.frame = frame;
    return tried(recipe, options);
}

bool same_shape(const Mesh& a, const Mesh& b) {
    return *a.positions == *b.positions && a.topology->content_hash() == b.topology->content_hash();
}

/// A chain with a branch, a dial, and a number that a step outside takes from inside.
Recipe chain() {
    return recipe_of(
        Json::array({step("block", "box", {{"size", {"= wide", 1, 1}}}),
                     step("round_off", "bevel", {{"width", "= wide * 0.1"}}),
                     step("pin", "cylinder", {{"radius", 0.1}, {"height", "= block.size.z * 2"}}),
                     Json{{"id", "cut"}, {"step", "boolean"}, {"in", {{"shape", "round_off"}, {"with", "pin"}}}},
                     step("up", "transform", {{"move", {0, 0, "= pin.radius * 10"}}})}),
        Json::array({{{"name", "wide"}, {"value", 2}, {"min", 1}, {"max", 4}, {"unit", "m"}}}));
}

}  // namespace

TEST_CASE("packing steps changes nothing of the shape, and its dials are its numbers", "[kits]") {
    const Recipe before = chain();
    const Tried plain = tried(before);
    std::string id;
    const auto packed_recipe = packed(before, "p", {"round_off", "pin", "cut"}, "Bored", &id);
    INFO((packed_recipe ? "" : packed_recipe.problem().text()));
    REQUIRE(packed_recipe);
    CHECK(id == "bored");
    const Tried inside = tried(*packed_recipe);
    REQUIRE(inside.clean(id));
    CHECK(same_shape(inside.mesh("up"), plain.mesh("up")));
    const Part& part = *packed_recipe->part("p");
    CHECK(part.steps.size() == 3);
    const Step& kit = *find_step(part, id);
    CHECK(kit.settings["dials"]["wide"] == "= wide");
    // The number that a step outside takes has moved to the packed step's dials.
    CHECK(find_step(part, "up")->settings["move"][2] == "= bored.dials.radius * 10");
    for (const double wide : {1.3, 3.1})
        CHECK(same_shape(tried(*turn_dial(*packed_recipe, "wide", wide)).mesh("up"),
                         tried(*turn_dial(before, "wide", wide)).mesh("up")));
    // Its own dial turned: as if the pin's radius had been.
    const auto thicker = set_setting(*packed_recipe, "p", id, "/dials/radius", 0.2);
    const auto wanted = set_setting(before, "p", "pin", "radius", 0.2);
    CHECK(same_shape(tried(*thicker).mesh("up"), tried(*wanted).mesh("up")));
    // Saved and read again it is the same.
    const auto again = recipe_from_text(recipe_text(*packed_recipe));
    REQUIRE(again);
    CHECK(same(*again, *packed_recipe));

    SECTION("and opening them again gives the steps back") {
        std::vector<std::string> ids;
        const auto opened = unpacked(*packed_recipe, "p", id, kit_reader(), "", &ids);
        INFO((opened ? "" : opened.problem().text()));
        REQUIRE(opened);
        CHECK(ids == std::vector<std::string>{"round_off", "pin", "cut"});
        const Part& now = *opened->part("p");
        REQUIRE(now.steps.size() == 5);
        for (std::size_t s = 0; s < 5; ++s) {
            CHECK(now.steps[s]->id == before.part("p")->steps[s]->id);
            CHECK(now.steps[s]->type == before.part("p")->steps[s]->type);
        }
        for (const double wide : {1.0, 2.7})
            CHECK(same_shape(tried(*turn_dial(*opened, "wide", wide)).mesh("up"),
                             tried(*turn_dial(before, "wide", wide)).mesh("up")));
    }
}

TEST_CASE("what cannot be packed is refused with the reason", "[kits]") {
    const Recipe recipe = chain();
    CHECK_FALSE(packed(recipe, "p", {}, ""));
    const auto two_ends = packed(recipe, "p", {"round_off", "pin"}, "");
    REQUIRE_FALSE(two_ends);
    CHECK(two_ends.problem().text().find("pin, round_off") != std::string::npos);
    const auto circle = packed(recipe_of(Json::array({step("a", "box"), step("b", "transform"), step("c", "transform"),
                                                      step("d", "merge", {{"in", {{"with", "b"}}}})})),
                               "p", {"a", "c"}, "");
    REQUIRE_FALSE(circle);
}

TEST_CASE("a kit file is used, follows its file, and takes what is given to it", "[kits]") {
    const Folder folder;
    folder.write(
        "post.bricol",
        file(Json::array({step("given", "given_shape"), step("size", "transform", {{"size", {1, 1, "= tall"}}})}),
             Json::array({{{"name", "tall"}, {"value", 2}, {"min", 0.5}, {"max", 5}}})));
    const Recipe recipe = recipe_of(
        Json::array({step("b", "box", {{"size", {1, 1, 1}}}),
                     step("k", "recipe", {{"kit", "post.bricol"}, {"dials", {{"tall", "= b.size.x * 3"}}}})}));
    const auto height = [&](const Tried& t) { return measure(t.mesh("k")).volume.value_or(0); };
    const Tried made = made_in(folder, recipe);
    REQUIRE(made.clean("k"));
    CHECK(height(made) == Approx(3));
    // The file changes: so does what uses it, with the same maker.
    Maker maker;
    MakeOptions options;
    options.environment.folder = folder.path.string();
    options.environment.find_kit = kit_reader();
    const Made first = maker.make(recipe, options);
    CHECK(maker.make(recipe, options).made == 0);
    folder.write(
        "post.bricol",
        file(Json::array({step("given", "given_shape"), step("size", "transform", {{"size", {2, 1, "= tall"}}})}),
             Json::array({{{"name", "tall"}, {"value", 2}, {"min", 0.5}, {"max", 5}}})));
    fs::last_write_time(folder.path / "post.bricol", fs::file_time_type::clock::now() + std::chrono::seconds(2));
    const Made second = maker.make(recipe, options);
    CHECK(measured(*second.step(recipe, "p", "k")->shape).volume.value_or(0) == Approx(6));
    // Values outside the dial's range are held, and said.
    const Tried held = made_in(folder, *set_setting(recipe, "p", "k", "/dials/tall", 99));
    REQUIRE(held.finding("k", "out-of-range-dial"));
    CHECK(height(held) == Approx(10));
    const Tried misnamed = made_in(folder, *set_setting(recipe, "p", "k", "/dials/tal", 1));
    REQUIRE(misnamed.finding("k", "unknown-dial"));
    CHECK(misnamed.finding("k", "unknown-dial")->text.find("“tall”") != std::string::npos);
    CHECK(made_in(folder, *set_setting(recipe, "p", "k", "part", "its"))
              .finding("k", "no-kit")
              ->text.find("Did you mean “it”?") != std::string::npos);
}

TEST_CASE("kits that are missing, newer, broken or inside themselves are findings, the rest is made",
          "[kits][findings]") {
    const Folder folder;
    folder.write("new.bricol", std::string(R"({"bricol": 99, "parts": []})"));
    folder.write("broken.bricol", std::string("{ \"bricol\": 1, "));
    folder.write("self.bricol", file(Json::array({step("again", "recipe", {{"kit", "self.bricol"}})})));
    folder.write("a.bricol", file(Json::array({step("b", "recipe", {{"kit", "b.bricol"}})})));
    folder.write("b.bricol", file(Json::array({step("a", "recipe", {{"kit", "a.bricol"}})})));
    folder.write("bad.bricol", file(Json::array({step("b", "box"), step("d", "delete", {{"only", "nowhere"}})})));
    const auto said = [&](const std::string& kit) {
        const Tried made = made_in(folder, recipe_of(Json::array({step("b", "box"), step("k", "recipe", {{"kit", kit}}),
                                                                  step("t", "transform", {{"move", {1, 0, 0}}})})));
        CHECK(made.mesh("t").face_count() == (kit == "bad.bricol" ? 6 : made.mesh("t").face_count()));
        std::string all;
        for (const Finding& f : made.step("k").findings) all += f.text + "\n";
        return all;
    };
    CHECK(said("gone.bricol").find("“gone.bricol” is not there. It may have been moved") != std::string::npos);
    CHECK(said("new.bricol").find("version 99") != std::string::npos);
    CHECK(said("broken.bricol").find("ends too early") != std::string::npos);
    CHECK(said("self.bricol").find("cannot contain itself: self.bricol → self.bricol") != std::string::npos);
    CHECK(said("a.bricol").find("a.bricol → b.bricol → a.bricol") != std::string::npos);
    // Kits that stand in one another many times over are looked into once each, not once for every way there
    // (6 to the 14th).
    for (int level = 0; level < 14; ++level) {
        Json steps = Json::array();
        for (int k = 0; k < 6; ++k)
            steps.push_back(level == 0 ? step("s" + std::to_string(k), "box")
                                       : Json{{"id", "s" + std::to_string(k)},
                                              {"step", "recipe"},
                                              {"in", {{"shape", ""}}},
                                              {"kit", "deep" + std::to_string(level - 1) + ".bricol"}});
        folder.write("deep" + std::to_string(level) + ".bricol", file(steps));
    }
    const Tried deep = made_in(folder, recipe_of(Json::array({step("k", "recipe", {{"kit", "deep13.bricol"}})})));
    CHECK(deep.mesh("k").face_count() == 6);
    CHECK(said("bad.bricol").find("Inside, at it.d: There is no set “nowhere”") != std::string::npos);
    const Tried none = made_in(folder, recipe_of(Json::array({step("b", "box"), step("k", "recipe")})));
    CHECK(none.finding("k", "no-kit")->text.find("No recipe has been chosen") != std::string::npos);
    CHECK(none.mesh("k").face_count() == 6);  // the input passes through
}

TEST_CASE("a kit may look at the frame, and only then is it made again", "[kits]") {
    const Folder folder;
    folder.write("spin.bricol", file(Json::array({step("b", "box", {{"size", {1, 2, 1}}}),
                                                  step("t", "transform", {{"turn", {0, 0, "= frame"}}})})));
    const Recipe recipe = recipe_of(Json::array({step("k", "recipe", {{"kit", "spin.bricol"}})}));
    const auto wide = [&](double frame) {
        const Tried made = made_in(folder, recipe, frame);
        float most = 0;
        for (const Vec3& p : *made.mesh("k").positions) most = std::max(most, p.x);
        return most;
    };
    CHECK(wide(0) == Approx(0.5f));
    CHECK(wide(90) == Approx(1.0f));
    CHECK(wide(360) == Approx(0.5f).margin(1e-6));
}

TEST_CASE("steps are copied between parts with the links among them", "[kits][clip]") {
    const Recipe recipe = chain();
    const std::string text = copied_steps(recipe, "p", {"pin", "cut", "round_off"});
    std::vector<std::string> ids;
    const auto twice = pasted_steps(recipe, "p", "up", text, {10, 20}, &ids);
    INFO((twice ? "" : twice.problem().text()));
    REQUIRE(twice);
    CHECK(ids == std::vector<std::string>{"round_off2", "pin2", "cut2"});
    const Part& part = *twice->part("p");
    CHECK(find_step(part, "cut2")->inputs.at("with") == "pin2");
    CHECK(find_step(part, "round_off2")->inputs.at("shape") == "block");  // what it took is there as well
    CHECK(same_shape(tried(*twice).mesh("cut2"), tried(*twice).mesh("cut")));
    // Into another recipe without the block: left open, and said so when it is made.
    Recipe other = recipe_of(Json::array({step("s", "sphere")}));
    const auto there = pasted_steps(other, "p", "", text, {0, 0});
    REQUIRE(there);
    const Tried made = tried(*there);
    CHECK(made.finding("round_off", "wrong-input"));
    CHECK(result_step(*there->part("p"))->id == "s");  // the part's result stays what it was
    CHECK_FALSE(pasted_steps(other, "p", "", "not json", {0, 0}));
}

TEST_CASE("a kit gives one part, its last that makes a shape, or all that are shown", "[kits]") {
    const Folder folder;
    const auto part = [](const char* name, const Json& steps) { return Json{{"name", name}, {"steps", steps}}; };
    Json hidden = part("rough", Json::array({step("h", "sphere")}));
    hidden["hidden"] = true;
    folder.write(
        "two.bricol",
        Json{{"bricol", 1},
             {"parts",
              Json::array({part("low", Json::array({step("b", "box")})),
                           part("high", Json::array({step("c", "box"), step("u", "transform", {{"move", {0, 0, 5}}})})),
                           hidden, part("lights", Json::array({step("l", "lamp"), step("k", "camera")}))})}});
    const auto faces = [&](const char* wanted) {
        return made_in(folder, recipe_of(Json::array({step("k", "recipe", {{"kit", "two.bricol"}, {"part", wanted}})})))
            .part()
            .measures;
    };
    CHECK(faces("").faces == 6);
    CHECK(faces("").box->low.z > 4);  // the last one: cameras and lights make no shape
    CHECK(faces("low").box->low.z < 1);
    CHECK(faces("*").faces == 12);
    CHECK(faces("*").box->size().z > 5);
    CHECK(faces("rough").faces > 12);
    CHECK(made_in(folder, recipe_of(Json::array({step("k", "recipe", {{"kit", "two.bricol"}, {"part", "none"}})})))
              .finding("k", "no-kit"));
}

TEST_CASE("a recipe inside is set to one of its presets, and turned from there", "[kits]") {
    const Folder folder;
    Json kit = file(Json::array({step("block", "box", {{"size", {"= wide", "= deep", 1}}})}),
                    Json::array({{{"name", "wide"}, {"value", 2}, {"min", 1}, {"max", 4}, {"unit", "m"}},
                                 {{"name", "deep"}, {"value", 2}, {"min", 1}, {"max", 4}, {"unit", "m"}}}));
    kit["presets"] = Json::array({{{"name", "Slim"}, {"dials", {{"wide", 1.25}, {"deep", 3.5}}}}});
    std::ofstream(folder / "crate.bricol") << kit.dump();
    const auto of = [&](const Json& settings) {
        Json all{{"kit", "crate.bricol"}};
        all.update(settings);
        return recipe_of(Json::array({step("crate", "recipe", all)}));
    };
    const auto size = [&](const Recipe& recipe) {
        const Tried tried = made_in(folder, recipe);
        REQUIRE(tried.clean("crate"));
        return box_of(*tried.step("crate").shape)->size();
    };
    CHECK(size(of(Json::object())) == DVec3(2, 2, 1));
    CHECK(size(of({{"preset", "Slim"}})) == DVec3(1.25, 3.5, 1));
    const Recipe turned_too = of({{"preset", "Slim"}, {"dials", {{"deep", 1.5}}}});
    CHECK(size(turned_too) == DVec3(1.25, 1.5, 1));
    // Opened again, the preset's numbers have become the steps' own.
    const auto opened = unpacked(turned_too, "p", "crate", kit_reader(), folder.path.string());
    REQUIRE(opened);
    CHECK(box_of(*made_in(folder, *opened).step("block").shape)->size() == DVec3(1.25, 1.5, 1));
    // One that is not there is told, with those that are.
    const Tried other = made_in(folder, of({{"preset", "Slin"}}));
    const Finding* told = other.finding("crate", "unknown-preset");
    REQUIRE(told);
    CHECK(told->text.find("Slim") != std::string::npos);
    CHECK(box_of(*other.step("crate").shape)->size() == DVec3(2, 2, 1));
}
