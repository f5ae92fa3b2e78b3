// SPDX-License-Identifier: GPL-3.0-or-later
// Dials of every kind and presets: in the file, in formulas and settings, in recipes inside recipes, as edits.
#include <catch2/catch.hpp>

#include "core/ground/colour.h"
#include "core/recipe/dial.h"
#include "core/recipe/kit.h"
#include "core/recipe/recipe_json.h"
#include "core/recipe/resolve.h"
#include "tests/support/folder.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

Json style() {
    return {{"name", "style"}, {"kind", "choice"}, {"value", "sides"}, {"choices", {"radius", "sides", "both"}}};
}
Json lid(bool on = true) { return {{"name", "lid"}, {"kind", "toggle"}, {"value", on}}; }
Json paint() { return {{"name", "paint"}, {"kind", "colour"}, {"value", {0.25, 0.5, 0.75}}}; }
Json girth() { return {{"name", "girth"}, {"value", 1.5}, {"min", 1}, {"max", 2}, {"unit", "m"}}; }
Json all_four() { return Json::array({style(), lid(), paint(), girth()}); }

/// A box in the dial's colour, moved by what formulas make of the others.
Recipe painted(const Json& dials = all_four()) {
    return recipe_of(
        Json::array({step("block", "box"), step("coat", "material", {{"colour", "= paint"}, {"double_sided", "= lid"}}),
                     step("up", "transform", {{"move", {"= style", "= lid", "= paint.blue * girth"}}})}),
        dials);
}

DVec3 coat_of(const Tried& it) { return std::get<DVec3>(it.step("coat").values.find("colour")->second); }
bool double_sided_of(const Tried& it) { return std::get<bool>(it.step("coat").values.find("double_sided")->second); }
DVec3 move_of(const Tried& it) { return std::get<DVec3>(it.step("up").values.find("move")->second); }

}  // namespace

TEST_CASE("dials of every kind are read, written and read again", "[dials]") {
    const Recipe recipe = painted();
    const auto again = recipe_from_text(recipe_text(recipe));
    REQUIRE(again);
    CHECK(same(recipe, *again));
    CHECK(again->dial("style")->word() == "sides");
    CHECK(again->dial("lid")->kind == DialKind::toggle);
    CHECK(again->dial("paint")->colour == DVec3(0.25, 0.5, 0.75));
}

TEST_CASE("a dial that says nothing sensible is refused with its place", "[dials]") {
    const auto why = [](const Json& dial) {
        const auto read = recipe_from_json({{"bricol", 1}, {"dials", Json::array({dial})}, {"parts", Json::array()}});
        return read ? std::string("read") : read.problem().where + " " + read.problem().text();
    };
    Json one = style();
    one["value"] = "square";
    CHECK_THAT(why(one), Catch::Contains("/dials/0/value") && Catch::Contains("radius, sides, both"));
    one = style();
    one.erase("choices");
    CHECK_THAT(why(one), Catch::Contains("/dials/0") && Catch::Contains("choices"));
    one = style();
    one["choices"] = {"a", "a"};
    CHECK_THAT(why(one), Catch::Contains("/dials/0/choices"));
    one = style();
    one["kind"] = "shape";
    CHECK_THAT(why(one), Catch::Contains("/dials/0/kind") && Catch::Contains("toggle"));
    one = paint();
    one["value"] = {0.1, 0.2, 1.5};
    CHECK_THAT(why(one), Catch::Contains("/dials/0/value"));
    one = lid();
    one["value"] = "often";
    CHECK_THAT(why(one), Catch::Contains("yes, no"));
}

TEST_CASE("what a dial of its kind has no use for is kept and told", "[dials]") {
    Json odd = lid();
    odd["min"] = 2;
    Json number = girth();
    number["choices"] = {"a"};
    const Recipe recipe = painted(Json::array({style(), odd, paint(), number}));
    CHECK(recipe_json(recipe)["dials"][1]["min"] == 2);
    CHECK(recipe_json(recipe)["dials"][3]["choices"] == Json::array({"a"}));
    std::string told;
    for (const Finding& finding : tried(recipe).made.findings) told += finding.text + "\n";
    CHECK_THAT(told, Catch::Contains("“min” at the dial “lid”") && Catch::Contains("“choices” at the dial “girth”"));
    // A number that is none picks no word.
    CHECK_FALSE(turned(*recipe.dial("style"), Json(std::nan("")), Outside::held));
}

TEST_CASE("formulas see a choice's place, a toggle as 1 or 0 and a colour's parts", "[dials]") {
    const Tried it = tried(painted());
    REQUIRE(it.clean("coat"));
    REQUIRE(it.clean("up"));
    CHECK(move_of(it) == DVec3(1, 1, 0.75 * 1.5));
    // The material's numbers are a screen's, the dial's are linear: 0.5 of the light is 0.7354 of sRGB (IEC 61966-2-1).
    CHECK(coat_of(it).y == Approx(0.7354).margin(1e-4));
    CHECK(glm::length(linear_from_screen(coat_of(it)) - DVec3(0.25, 0.5, 0.75)) < 1e-12);
    CHECK(double_sided_of(it));
    const Tried other = tried(*with_dials(it.recipe, {{"lid", false}, {"style", "both"}, {"paint", {1, 0, 0}}}));
    CHECK(move_of(other) == DVec3(2, 0, 0));
    CHECK(glm::length(coat_of(other) - DVec3(1, 0, 0)) < 1e-12);
    CHECK_FALSE(double_sided_of(other));
    // A colour where one number is wanted says how to ask for one.
    Recipe wrong = *set_setting(it.recipe, "p", "up", "move", Json::array({"= paint", 0, 0}));
    CHECK_THAT(tried(wrong).step("up").findings.front().text, Catch::Contains("paint.red"));
}

TEST_CASE("a choice follows a dial by its word, and a number by its place", "[dials]") {
    Json axis{{"name", "way"}, {"kind", "choice"}, {"value", "x"}, {"choices", {"z", "x"}}};
    Recipe recipe = recipe_of(Json::array({step("block", "box"), step("copy", "mirror")}), Json::array({axis}));
    const StepInfo& info = *find_step_info("mirror");
    const ParameterInfo* way = nullptr;
    for (const ParameterInfo& p : info.parameters)
        if (p.kind == ParameterKind::choice) way = way ? way : &p;
    REQUIRE(way);
    const std::string key(way->key);
    std::vector<std::string> keys;
    for (const Choice& choice : way->choices) keys.emplace_back(choice.key);
    REQUIRE(keys.size() >= 2);
    // The dial lists the words the other way round: it is the word that counts, not its place.
    Dial dial = *recipe.dial("way");
    dial.choices = {keys[1], keys[0]};
    dial.value = 0;
    recipe = *set_dial(recipe, dial);
    recipe = *replace_step(recipe, "p", Step{"copy", "mirror", "", "", false, false, {}, {}, {}, {{key, "= way"}}});
    const auto chosen = [&](const Recipe& r) {
        const Tried it = tried(r);
        return std::get<std::string>(it.step("copy").values.find(key)->second);
    };
    CHECK(chosen(recipe) == keys[1]);
    CHECK(chosen(*turn_dial(recipe, "way", keys[0])) == keys[0]);
    CHECK(chosen(*set_setting(recipe, "p", "copy", key, "= 1 - way")) == keys[1]);
    const Tried beyond = tried(*set_setting(recipe, "p", "copy", key, "= way + 40"));
    CHECK_THAT(beyond.step("copy").findings.front().text, Catch::Contains("no place in"));
    dial.choices = {"sideways"};
    const Tried lost = tried(*set_dial(recipe, dial));
    CHECK_THAT(lost.step("copy").findings.front().text, Catch::Contains("sideways") && Catch::Contains(keys[0]));
}

TEST_CASE("what is typed for a dial is read by its kind", "[dials]") {
    const Recipe recipe = painted();
    const auto typed = [&](const char* dial, const char* text) {
        const auto value = typed_dial(*recipe.dial(dial), text);
        if (!value) return std::string("refused");
        const auto there = turned(*recipe.dial(dial), *value);
        return there ? dial_words(*there) : std::string("refused");
    };
    CHECK(typed("girth", "120 cm") == "1.2 m");
    CHECK(typed("girth", "= 1") == "refused");
    CHECK(typed("girth", "3") == "refused");
    CHECK(typed("style", "both") == "both");
    CHECK(typed("style", "Both") == "refused");
    CHECK(typed("lid", "no") == "no");
    CHECK(typed("lid", "maybe") == "refused");
    // sRGB of IEC 61966-2-1: 188 of 255 is half the light, to the nearest step.
    CHECK(typed("paint", "#bc00ff") == "#bc00ff");
    CHECK(typed_dial(*recipe.dial("paint"), "#bc0000")->at(0).get<double>() == Approx(0.5).margin(0.005));
    CHECK(typed("paint", "1, 0, 0.5") == "#ff00bc");
    CHECK(typed("paint", "#bc00f") == "refused");
    CHECK(typed("paint", "2, 0, 0") == "refused");
}

TEST_CASE("a dial is shown while another has a value", "[dials]") {
    Json ribs{{"name", "ribs"}, {"value", 4}, {"min", 0}, {"max", 9}, {"unit", "count"}, {"when", "lid"}};
    Json depth{{"name", "depth"}, {"value", 1}, {"when", "ribs>0"}};
    Json bevel{{"name", "bevel"}, {"value", 1}, {"when", "style=radius|both"}};
    const Recipe recipe = painted(Json::array({style(), lid(), paint(), girth(), ribs, depth, bevel}));
    const auto shown = [](const Recipe& r, const char* name) { return dial_shown(r.dials, *r.dial(name)); };
    CHECK(shown(recipe, "depth"));
    CHECK_FALSE(shown(recipe, "bevel"));
    CHECK(shown(*turn_dial(recipe, "style", "both"), "bevel"));
    CHECK_FALSE(shown(*turn_dial(recipe, "ribs", 0), "depth"));
    // What is ruled by a hidden dial is hidden with it.
    CHECK_FALSE(shown(*turn_dial(recipe, "lid", false), "depth"));
    // Renaming and removing go through the conditions.
    CHECK(rename_dial(recipe, "ribs", "bars")->dial("depth")->when == "bars>0");
    CHECK(remove_dial(recipe, "ribs")->dial("depth")->when.empty());
    Recipe lost = recipe;
    lost.dials[5].when = "rips>0";
    CHECK(shown(lost, "depth"));
    const Made made = tried(lost).made;
    CHECK(std::ranges::any_of(made.findings, [](const Finding& f) {
        return f.code == std::string("lost-condition") && f.text.find("ribs") != std::string::npos;
    }));
}

TEST_CASE("removing a dial leaves its value where it stood", "[dials]") {
    const Tried before = tried(painted());
    Recipe recipe = before.recipe;
    for (const char* name : {"paint", "lid", "style", "girth"}) recipe = *remove_dial(recipe, name);
    CHECK(recipe.dials.empty());
    const Tried after = tried(recipe);
    CHECK(move_of(after) == move_of(before));
    CHECK(glm::length(coat_of(after) - coat_of(before)) < 1e-6);
    CHECK(double_sided_of(after));
}

TEST_CASE("presets go to all dials, follow renames and are kept in the file", "[dials][presets]") {
    Recipe recipe = painted();
    recipe = *keep_preset(recipe, "Blue", dials_of(recipe));
    recipe = *with_dials(recipe, {{"paint", {1, 0, 0}}, {"girth", 1}, {"lid", false}, {"style", "radius"}});
    recipe = *keep_preset(recipe, "Red & thin", dials_of(recipe));
    CHECK(at_preset(recipe, *recipe.preset("Red & thin")));
    CHECK_FALSE(at_preset(recipe, *recipe.preset("Blue")));
    const Recipe blue = *apply_preset(recipe, "Blue");
    CHECK(blue.dials == painted().dials);
    CHECK(same(*recipe_from_text(recipe_text(recipe)), recipe));
    const Recipe renamed = *rename_dial(recipe, "girth", "waist");
    CHECK(apply_preset(renamed, "Blue")->dial("waist")->value == 1.5);
    CHECK_FALSE(remove_dial(recipe, "girth")->preset("Blue")->dials.contains("girth"));
    CHECK_FALSE(apply_preset(recipe, "Green"));
    CHECK_FALSE(rename_preset(recipe, "Blue", "Red & thin"));
    CHECK(remove_preset(*rename_preset(recipe, "Blue", "Sea"), "Sea")->presets.size() == 1);
}

TEST_CASE("a preset that no longer fits does what it can and says what it cannot", "[dials][presets]") {
    Json json = recipe_json(painted());
    json["presets"] =
        Json::array({{{"name", "Old"}, {"dials", {{"girt", 1}, {"style", "square"}, {"girth", 99}, {"lid", false}}}}});
    const auto recipe = recipe_from_json(json);
    REQUIRE(recipe);
    const Recipe there = *apply_preset(*recipe, "Old");
    CHECK(there.dial("girth")->value == 2);
    CHECK(there.dial("lid")->value == 0);
    CHECK(there.dial("style")->word() == "sides");
    const Made made = tried(*recipe).made;
    std::string told;
    for (const Finding& finding : made.findings) told += finding.code + (": " + finding.text) + "\n";
    CHECK_THAT(told, Catch::Contains("lost-dial") && Catch::Contains("Did you mean “girth”?"));
    CHECK_THAT(told, Catch::Contains("“style” cannot be “square”") && Catch::Contains("outside the range of girth"));
    // What the finding advises cures it.
    const Recipe cured = *keep_preset(there, "Old", dials_of(there));
    CHECK(tried(cured).made.findings.empty());
    json["presets"][0]["dials"]["girth"] = Json::object();
    CHECK_FALSE(recipe_from_json(json));
}

TEST_CASE("packed steps keep dials of every kind, and opening them again changes nothing", "[dials][kits]") {
    const Tried before = tried(painted());
    std::string id;
    const auto packed_recipe = packed(before.recipe, "p", {"block", "coat", "up"}, "All", &id);
    REQUIRE(packed_recipe);
    const auto size_of = [](const Recipe& r) {
        const Tried it = tried(r);
        CHECK(it.made.findings.empty());
        const auto& box = it.part().measures;
        return std::pair{box.faces, materials_of(*it.part().shape)};
    };
    const auto same_look = [&](const Recipe& a, const Recipe& b) {
        const auto [faces_a, look_a] = size_of(a);
        const auto [faces_b, look_b] = size_of(b);
        CHECK(faces_a == faces_b);
        REQUIRE(look_a.size() == look_b.size());
        for (std::size_t i = 0; i < look_a.size(); ++i) CHECK(look_a[i] == look_b[i]);
    };
    same_look(before.recipe, *packed_recipe);
    const Recipe red = *turn_dial(before.recipe, "paint", Json::array({1, 0, 0}));
    same_look(red, *turn_dial(*packed_recipe, "paint", Json::array({1, 0, 0})));
    const auto opened = unpacked(*packed_recipe, "p", id, environment_in(".").find_kit, ".");
    REQUIRE(opened);
    CHECK(coat_of(tried(*opened)) == coat_of(before));
    CHECK(move_of(tried(*opened)) == move_of(before));
}
