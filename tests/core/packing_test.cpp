// SPDX-License-Identifier: GPL-3.0-or-later
// Renaming, removing and copying round steps that hold recipes of their own: what belongs to the inner recipe stays.
#include <catch2/catch.hpp>
#include <fmt/format.h>

#include "core/recipe/clip.h"
#include "core/recipe/recipe_json.h"
#include "core/recipe/settings.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

/// A block and a bevel that both follow the dial “girth”, packed into the step “body”.
Recipe packed_body() {
    const Recipe plain = recipe_of(Json::array({step("block", "box", {{"size", {"= girth", 1, 1}}}),
                                                step("soft", "bevel", {{"width", "= girth * 0.1"}}),
                                                step("up", "transform", {{"move", {0, 0, "= girth"}}})}),
                                   Json::array({{{"name", "girth"}, {"value", 2}, {"min", 1}, {"max", 4}}}));
    auto made = packed(plain, "p", {"block", "soft"}, "Body");
    REQUIRE(made);
    return *made;
}

const Json& settings(const Recipe& recipe, const std::string& id) {
    const Step* step = find_step(*recipe.part("p"), id);
    REQUIRE(step);
    return step->settings;
}

/// Everything a shape is, as text.
std::string bytes_of(const Recipe& recipe) {
    const Tried made = tried(recipe);
    const Mesh& mesh = made.made.part(made.recipe, "p")->shape->mesh;
    std::string out;
    for (const Vec3& v : *mesh.positions) out += fmt::format("{} {} {};", v.x, v.y, v.z);
    return out + std::to_string(mesh.topology->content_hash());
}

}  // namespace

TEST_CASE("renaming a dial leaves a packed recipe's own dial alone", "[recipe][kits]") {
    const Recipe before = packed_body();
    const Json inner = settings(before, "body")["kit"];
    REQUIRE(inner["dials"][0]["name"] == "girth");
    const Recipe after = *rename_dial(before, "girth", "waist");
    CHECK(settings(after, "body")["kit"] == inner);
    CHECK(settings(after, "body")["dials"]["girth"] == "= waist");
    CHECK(settings(after, "up")["move"][2] == "= waist");
    CHECK(bytes_of(after) == bytes_of(before));
    // Turned by its new name it still turns what lies inside.
    CHECK(bytes_of(*turn_dial(after, "waist", 3)) == bytes_of(*turn_dial(before, "girth", 3)));
    CHECK(bytes_of(*turn_dial(after, "waist", 3)) != bytes_of(before));
}

TEST_CASE("removing a dial puts its number outside a packed recipe, not inside", "[recipe][kits]") {
    const Recipe before = packed_body();
    const Json inner = settings(before, "body")["kit"];
    const Recipe after = *remove_dial(before, "girth");
    CHECK(settings(after, "body")["kit"] == inner);
    CHECK(settings(after, "body")["dials"]["girth"] == "= (2)");
    CHECK(bytes_of(after) == bytes_of(before));
}

TEST_CASE("renaming a step or a part leaves names inside a packed recipe alone", "[recipe][kits]") {
    Recipe recipe = packed_body();
    recipe = *add_part(recipe, "inside");  // the name the packed recipe's own part has
    recipe = *insert_step(recipe, "inside", "", Step{.id = "block", .type = "box"});
    recipe = *set_setting(recipe, "p", "body", "part", "inside");
    const Json inner = settings(recipe, "body")["kit"];
    const Recipe renamed = *rename_part(*rename_step_id(recipe, "inside", "block", "slab"), "inside", "yard");
    CHECK(settings(renamed, "body")["kit"] == inner);
    // “part” of a recipe step names a part of that recipe, not of this one.
    CHECK(settings(renamed, "body")["part"] == "inside");
    CHECK(bytes_of(renamed) == bytes_of(recipe));
}

TEST_CASE("a setting that names a part follows when the part is renamed", "[recipe]") {
    Recipe recipe = recipe_of(Json::array({step("block", "box")}));
    recipe = *add_part(recipe, "copy");
    Step from{.id = "from", .type = "from_part"};
    from.settings["part"] = "p";
    recipe = *insert_step(recipe, "copy", "", from);
    const Recipe renamed = *rename_part(recipe, "p", "slab");
    CHECK(find_step(*renamed.part("copy"), "from")->settings["part"] == "slab");
    CHECK_FALSE(Maker().make(renamed).has_errors());
}

TEST_CASE("packing a component of a vector that was never written keeps the others", "[kits]") {
    const Recipe recipe = recipe_of(Json::array({step("block", "box"), step("up", "transform", {{"move", {0, 0, 0.5}}}),
                                                 step("far", "transform", {{"move", {"= block.size.x * 3", 0, 0}}})}));
    const auto made = packed(recipe, "p", {"block", "up"}, "Block");
    REQUIRE(made);
    CHECK(bytes_of(*made) == bytes_of(recipe));
    CHECK_FALSE(tried(*made).made.has_errors());
}

TEST_CASE("opening a recipe step replaces its dials at once, not one in another", "[kits]") {
    // Inside, a follows the outer b, and b is 3: what a became must not be taken for the inner b.
    const Json inner = {
        {"bricol", 1},
        {"dials", Json::array({{{"name", "a"}, {"value", 1}, {"min", 0}, {"max", 9}},
                               {{"name", "b"}, {"value", 1}, {"min", 0}, {"max", 9}}})},
        {"parts", Json::array({{{"name", "inside"},
                                {"steps", Json::array({step("block", "box", {{"size", {"= a", "= b", 1}}})})}}})}};
    const Recipe recipe =
        recipe_of(Json::array({step("kit", "recipe", {{"kit", inner}, {"dials", {{"a", "= b"}, {"b", 3}}}})}),
                  Json::array({{{"name", "b"}, {"value", 5}, {"min", 0}, {"max", 9}}}));
    const auto opened = unpacked(recipe, "p", "kit", kit_reader(), "");
    REQUIRE(opened);
    CHECK(settings(*opened, "block")["size"][0] == "= b");
    CHECK(settings(*opened, "block")["size"][1] == 3);
    CHECK(bytes_of(*opened) == bytes_of(recipe));
}

TEST_CASE("pasted steps take new names all at once", "[recipe]") {
    const Recipe recipe = recipe_of(
        Json::array({step("a", "box", {{"size", {1, 1, 1}}}), step("a2", "box", {{"size", {"= a.size.x", 2, 2}}}),
                     step("a3", "box", {{"size", {"= a2.size.y", 3, 3}}})}));
    std::vector<std::string> ids;
    const auto pasted = pasted_steps(recipe, "p", "a3", copied_steps(recipe, "p", {"a", "a2", "a3"}), {0, 0}, &ids);
    REQUIRE(pasted);
    REQUIRE(ids.size() == 3);
    CHECK(settings(*pasted, ids[1])["size"][0] == "= " + ids[0] + ".size.x");
    CHECK(settings(*pasted, ids[2])["size"][0] == "= " + ids[1] + ".size.y");
}

TEST_CASE("a step stands aside or starts a chain because of what it is, however it came in", "[recipe]") {
    Recipe recipe = recipe_of(Json::array({step("block", "box"), step("up", "transform")}));
    recipe = *insert_step(recipe, "p", "block", Step{.id = "words", .type = "note"});
    recipe = *insert_step(recipe, "p", "words", Step{.id = "n", .type = "number"});
    const Part& part = *recipe.part("p");
    CHECK(source_of(part, step_index(part, "up"), "shape") == "block");
    CHECK(source_of(part, step_index(part, "words"), "shape").empty());
    // Changed in place to another type, it is what it has become.
    Step ball = *find_step(part, "up");
    ball.type = "sphere";
    const Recipe changed = *replace_step(recipe, "p", ball);
    CHECK(source_of(*changed.part("p"), step_index(*changed.part("p"), "up"), "shape").empty());
}

TEST_CASE("what is unknown in pictures and frames is kept", "[recipe][files]") {
    const std::string text =
        R"({"bricol":1,"pictures":[{"file":"a.png","height":1,"tint":"red"}],"parts":[{"name":"p",)"
        R"("frames":[{"title":"t","at":[0,0],"size":[1,1],"colour":[1,0,0]}],"steps":[{"id":"b","step":"box"}]}]})";
    const auto recipe = recipe_from_text(text);
    REQUIRE(recipe);
    const Json again = recipe_json(*recipe);
    CHECK(again["pictures"][0]["tint"] == "red");
    CHECK(again["parts"][0]["frames"][0]["colour"] == Json::array({1, 0, 0}));
    CHECK(same(*recipe_from_text(recipe_text(*recipe)), *recipe));
}

TEST_CASE("packing never makes a recipe that could not be opened again", "[pack]") {
    Recipe recipe = *add_part(Recipe{}, "p");
    recipe = *insert_step(recipe, "p", "", Step{.id = "b", .type = "box"});
    bool refused = false;
    int packs = 0;
    for (; packs < 60 && !refused; ++packs) {
        const std::string last = recipe.part("p")->steps.back()->id;
        auto deeper = packed(recipe, "p", {last}, "deep");
        refused = !deeper;
        if (refused) {
            CHECK(deeper.problem().what.find("could not be opened again") != std::string::npos);
            break;
        }
        recipe = *deeper;
    }
    CHECK(refused);
    CHECK(packs > 4);
    CHECK(recipe_from_text(recipe_text(recipe)));
    CHECK_FALSE(would_not_open(recipe_text(recipe)));
}
