// SPDX-License-Identifier: GPL-3.0-or-later
#include <catch2/catch.hpp>

#include "core/files/recipe_file.h"
#include "core/make/make.h"
#include "core/recipe/edit.h"
#include "core/recipe/remedy.h"
#include "core/recipe/history.h"

using namespace bricol;

namespace {

Recipe recipe_in(const char* text) {
    auto recipe = recipe_from_text(text);
    INFO((recipe ? "" : recipe.problem().text()));
    REQUIRE(recipe);
    return *recipe;
}

const char* chain_text =
    R"({"bricol":1,"title":"t","future":{"a":[1]},"dials":[{"name":"w","value":1,"min":0,"max":2,"unit":"m","later":true}],
 "parts":[{"name":"body","glow":3,"steps":[
  {"id":"profile","step":"rectangle","width":"= w"},
  {"id":"turn","step":"lathe","angle":0,"rise":"= profile.width * 2","odd":"kept"},
  {"id":"ball","step":"sphere"},
  {"id":"both","step":"merge","in":{"shape":"turn","with":"ball"}}]},
  {"name":"copy","steps":[{"id":"from","step":"from_part","part":"body"},{"id":"move","step":"transform","move":["= body.profile.width",0,0]}]}]})";

std::vector<std::string> order(const Recipe& recipe, const std::string& part) {
    std::vector<std::string> ids;
    for (const auto& step : recipe.part(part)->steps) ids.push_back(step->id);
    return ids;
}

}  // namespace

TEST_CASE("a recipe reads back as it was, unknown keys and all", "[recipe]") {
    const Recipe recipe = recipe_in(chain_text);
    const std::string text = recipe_text(recipe);
    CHECK(same(recipe, recipe_in(text.c_str())));
    CHECK(recipe_text(recipe_in(text.c_str())) == text);
    const Json json = Json::parse(text);
    CHECK(json["future"]["a"][0] == 1);
    CHECK(json["parts"][0]["glow"] == 3);
    CHECK(json["parts"][0]["steps"][1]["odd"] == "kept");
    CHECK(json["dials"][0]["later"] == true);
}

TEST_CASE("inserting, removing and moving keep the graph together", "[recipe][edit]") {
    const Recipe recipe = recipe_in(chain_text);
    Step flip;
    flip.type = "flip";
    std::string id;
    const Recipe inserted = *insert_step(recipe, "body", "both", flip, &id);
    CHECK(order(inserted, "body") == std::vector<std::string>{"profile", "turn", "ball", "both", "flip"});
    CHECK(source_of(*inserted.part("body"), 4, "shape") == "both");
    const Recipe removed = *remove_step(recipe, "body", "turn");
    CHECK(find_step(*removed.part("body"), "both")->inputs.at("shape") == "profile");
    const Recipe again = *remove_step(removed, "body", "ball");
    CHECK_FALSE(find_step(*again.part("body"), "both")->inputs.contains("with"));
    CHECK_FALSE(move_step(recipe, "body", "both", 1));  // turn would take what is made of turn
    CHECK(order(*move_step(recipe, "body", "ball", 0), "body")[0] == "ball");
    CHECK(same(recipe, recipe_in(chain_text)));   // the first value never changed
    CHECK(inserted.parts[1] == recipe.parts[1]);  // untouched parts are shared
}

TEST_CASE("circles are refused with the circle spelled out", "[recipe][edit]") {
    const Recipe recipe = recipe_in(chain_text);
    const auto refused = link_input(recipe, "body", "turn", "shape", "both");
    REQUIRE_FALSE(refused);
    CHECK(refused.problem().what.find("both") != std::string::npos);
    CHECK(link_input(recipe, "body", "turn", "shape", "ball"));
}

TEST_CASE("renaming follows links and formulas", "[recipe][edit]") {
    const Recipe recipe = recipe_in(chain_text);
    const Recipe step = *rename_step_id(recipe, "body", "profile", "outline");
    CHECK(find_step(*step.part("body"), "turn")->settings["rise"] == "= outline.width * 2");
    CHECK(find_step(*step.part("copy"), "move")->settings["move"][0] == "= body.outline.width");
    const Recipe part = *rename_part(recipe, "body", "hull");
    CHECK(find_step(*part.part("copy"), "from")->settings["part"] == "hull");
    CHECK(find_step(*part.part("copy"), "move")->settings["move"][0] == "= hull.profile.width");
    const Recipe dial = *rename_dial(recipe, "w", "width");
    CHECK(find_step(*dial.part("body"), "profile")->settings["width"] == "= width");
    CHECK(find_step(*remove_dial(recipe, "w")->part("body"), "profile")->settings["width"] == "= (1)");
    CHECK_FALSE(rename_dial(recipe, "w", "2w"));
}

TEST_CASE("dials are held to their range and counts are whole", "[recipe][edit]") {
    Recipe recipe = recipe_in(chain_text);
    CHECK(turn_dial(recipe, "w", 9)->dial("w")->value == 2);
    recipe = *add_dial(recipe, {"n", 5, 3, 10, "count", "", Json::object()});
    CHECK(turn_dial(recipe, "n", 6.4)->dial("n")->value == 6);
    CHECK(add_dial(recipe, {"w", 1, 0, 1, "", "", Json::object()})->dials.back().name == "w2");
}

TEST_CASE("history merges a drag and forgets what was undone", "[recipe][history]") {
    const Recipe first = recipe_in(chain_text);
    History history(first);
    for (int i = 1; i <= 5; ++i) history.add(*turn_dial(history.now(), "w", i * 0.1), "Turn w", "dial w");
    history.part_edits();
    history.add(*turn_dial(history.now(), "w", 1.5), "Turn w", "dial w");
    CHECK(history.position() == 2);
    history.undo();
    CHECK(history.now().dial("w")->value == Approx(0.5));
    history.undo();
    CHECK(same(history.now(), first));
    CHECK_FALSE(history.can_undo());
    CHECK(history.redo_name() == "Turn w");
    history.redo();
    history.add(*turn_dial(history.now(), "w", 0.7), "Other");
    CHECK_FALSE(history.can_redo());
}

TEST_CASE("damaged and hostile files are refused with the place", "[recipe][bad input]") {
    const std::string deep(100000, '[');
    std::string many = R"({"bricol":1,"parts":[{"name":"p","steps":[)";
    for (int i = 0; i < 100000; ++i) many += (i ? "," : "") + std::string(R"({"step":"flip"})");
    many += "]}]}";
    const std::tuple<const char*, std::string, const char*> cases[] = {
        {"empty", "", "ends too early"},
        {"truncated", std::string(chain_text).substr(0, 200), "ends too early"},
        {"not JSON", "hello", "line 1, column 1"},
        {"deep", deep, "nested deeper"},
        {"deep in a step",
         R"({"bricol":1,"parts":[{"name":"p","steps":[{"step":"flip","x":)" + std::string(90, '[') +
             std::string(90, ']') + "}]}]}",
         "nested deeper"},
        {"other JSON", R"({"a":1})", "not a Bricol recipe"},
        {"a list", "[1,2]", "A recipe is an object"},
        {"newer", R"({"bricol":7,"parts":[]})", "version 7"},
        {"huge number", R"({"bricol":1,"dials":[{"name":"a","value":1e999}],"parts":[]})", "too large"},
        {"wrong type", R"({"bricol":1,"parts":[{"name":"p","steps":{"a":1}}]})", "/parts/0/steps"},
        {"text for a number", R"({"bricol":1,"dials":[{"name":"a","value":"x"}],"parts":[]})", "/dials/0/value"},
        {"two of one id",
         R"({"bricol":1,"parts":[{"name":"p","steps":[{"id":"a","step":"flip"},{"id":"a","step":"flip"}]}]})",
         "/parts/0/steps/1/id"},
        {"no name", R"({"bricol":1,"parts":[{"steps":[]}]})", "/parts/0/name"},
        {"missing result", R"({"bricol":1,"parts":[{"name":"p","result":"x","steps":[]}]})", "/parts/0/result"},
        {"many steps", many, "100000 entries"}};
    for (const auto& [name, text, expected] : cases) {
        INFO(name);
        const auto recipe = recipe_from_text(text, "piece.bricol");
        REQUIRE_FALSE(recipe);
        INFO(recipe.problem().text());
        CHECK(recipe.problem().text().find(expected) != std::string::npos);
        CHECK(recipe.problem().where.starts_with("piece.bricol"));
    }
    CHECK(recipe_from_text(R"({"bricol":1,"dials":[{"name":"a","value":NaN}],"parts":[]})")
              .problem()
              .where.find("line 1") != std::string::npos);
}

TEST_CASE("a remedy with several removals takes the right elements", "[recipe][findings]") {
    Recipe recipe =
        recipe_in(R"({"bricol":1,"parts":[{"name":"p","steps":[{"id":"d","step":"drawn_curve","curves":[{"knots":[
        {"at":[0,0]},{"at":[1,0]},{"at":[2,0]},{"at":[3,0]},{"at":[3,1]}]}]}]}]})");
    Remedy remedy{"x", {{"d", "/curves/0/knots/1", {}, true}, {"d", "/curves/0/knots/2", {}, true}}, {}};
    recipe = *with_remedy(recipe, "p", "d", remedy);
    const Json& knots = find_step(*recipe.part("p"), "d")->settings["curves"][0]["knots"];
    REQUIRE(knots.size() == 3);
    CHECK(knots[1]["at"][0] == 3);
}
