// SPDX-License-Identifier: GPL-3.0-or-later
#include <catch2/catch.hpp>
#include <chrono>
#include <filesystem>
#include <set>
#include <tbb/global_control.h>
#include <thread>

#include "core/inspect/variant_plan.h"
#include "core/files/kits.h"
#include "core/files/recipe_file.h"
#include "core/make/stage.h"
#include "core/recipe/edit.h"
#include "core/recipe/remedy.h"
#include "tests/support/build.h"
#include "tests/support/shapes.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

Recipe one_part(std::initializer_list<Json> steps) {
    Json json{{"bricol", 1}, {"parts", Json::array({{{"name", "p"}, {"steps", Json(steps)}}})}};
    auto recipe = recipe_from_text(json.dump());
    REQUIRE(recipe);
    return *recipe;
}

std::vector<std::string> codes(const Made& made, std::size_t part = 0) {
    std::vector<std::string> out;
    for (const auto& step : made.steps[part])
        for (const Finding& f : step->findings) out.push_back(f.code);
    for (const Finding& f : made.parts[part]->findings) out.push_back(f.code);
    return out;
}

bool tells(const std::vector<std::string>& list, const std::string& code) {
    return std::ranges::find(list, code) != list.end();
}

Json knots(std::initializer_list<std::pair<double, double>> places) {
    Json list = Json::array();
    for (const auto& [x, z] : places) list.push_back({{"at", {x, z}}});
    return Json::array({{{"knots", list}}});
}

const Finding& finding(const Made& made, const std::string& code) {
    for (const auto& step : made.steps[0])
        for (const Finding& f : step->findings)
            if (f.code == code) return f;
    for (const Finding& f : made.parts[0]->findings)
        if (f.code == code) return f;
    FAIL("no finding " << code);
    static Finding none;
    return none;
}

}  // namespace

TEST_CASE("only what lies downstream of an edit is made again", "[make]") {
    const Recipe recipe = one_part({step("a", "box"), step("b", "transform", {{"move", {1, 0, 0}}}),
                                    step("c", "subdivide"), step("d", "transform")});
    Maker maker;
    CHECK(maker.make(recipe).made == 4);
    CHECK(maker.make(recipe).made == 0);
    const Recipe edited = *set_setting(recipe, "p", "c", "levels", 2);
    const Made after = maker.make(edited);
    CHECK(after.made == 2);
    CHECK(after.kept == 2);
    CHECK(maker.make(recipe).made == 0);  // undo costs nothing
    const Recipe noted = *replace_step(recipe, "p", [&] {
        Step s = *recipe.part("p")->steps[0];
        s.note = "x";
        s.title = "y";
        return s;
    }());
    CHECK(maker.make(noted).made == 0);  // words do not change shapes
}

TEST_CASE("memory is bounded", "[make]") {
    Maker maker(4 << 20);
    Recipe recipe = one_part({step("a", "grid", {{"across", 200}, {"deep", 200}})});
    for (int i = 0; i < 12; ++i) {
        recipe = *set_setting(recipe, "p", "a", "width", 1.0 + i);
        maker.make(recipe);
        CHECK(maker.memory() < 12u << 20);
    }
}

TEST_CASE("a stop request ends making soon and keeps nothing half made", "[make]") {
    const Recipe recipe =
        one_part({step("a", "grid", {{"across", 1500}, {"deep", 1500}}), step("b", "subdivide", {{"levels", 1}}),
                  step("c", "transform", {{"move", {1, 1, 1}}})});
    Maker maker;
    std::atomic<bool> stop = false;
    MakeOptions options;
    options.stop = &stop;
    options.progress = [&](const MakeProgress& at) { stop = stop || at.share > 0; };  // after the first step
    const Made made = maker.make(recipe, options);
    CHECK(made.stopped);
    CHECK(made.made == 1);
    // What was finished is remembered, and nothing else.
    stop = false;
    const Made again = maker.make(recipe);
    CHECK(again.kept == 1);
    CHECK(again.made == 2);
}

TEST_CASE("a broken step passes its input through and the rest still appears", "[make][bad input]") {
    const Made made = Maker().make(one_part(
        {step("a", "box"), step("b", "lathe"), step("c", "transform", {{"move", {2, 0, 0}}}), step("d", "wobble")}));
    CHECK(made.has_errors());
    CHECK(tells(codes(made), "wrong-input"));
    CHECK(tells(codes(made), "unknown-type"));
    CHECK(made.parts[0]->measures.closed);
    CHECK(made.parts[0]->measures.box->low.x == Approx(1.75));
    CHECK(finding(made, "unknown-type").text.find("/parts/0/steps/3/step") != std::string::npos);
    const Made typo = Maker().make(one_part({step("a", "lath")}));
    CHECK(finding(typo, "unknown-type").text.find("“lathe”") != std::string::npos);
}

TEST_CASE("bad numbers are named and bounded", "[make][bad input]") {
    const std::pair<Json, const char*> cases[] = {
        {step("a", "cylinder", {{"segments", 0}}), "out-of-range"},
        {step("a", "cylinder", {{"segments", 1e9}}), "out-of-range"},
        {step("a", "cylinder", {{"radius", "= 1/0"}}), "bad-value"},
        {step("a", "cylinder", {{"radius", "= nobody"}}), "bad-value"},
        {step("a", "cylinder", {{"radius", Json::array({1})}}), "bad-value"},
        {step("a", "cylinder", {{"caps", "hat"}}), "bad-value"},
        {step("a", "box", {{"size", {1, 2}}}), "bad-value"},
        {step("a", "box", {{"size", {0, 1, 1}}}), "no-size"},
        {step("a", "grid", {{"across", 10000}, {"deep", 10000}}), "too-many"},
        {step("a", "drawn_curve", {{"curves", 3}}), "bad-value"},
        {step("a", "drawn_curve", {{"curves", Json::array({{{"knots", Json::array({{{"at", {1e300, 0}}}})}}})}}),
         "bad-value"},
        {step("a", "from_part", {{"part", "ghost"}}), "unknown-part"},
        {step("a", "merge", {{"in", {{"with", "gone"}}}}), "unknown-step"}};
    for (const auto& [json, code] : cases) {
        const Made made = Maker().make(one_part({json}));
        INFO(json.dump());
        CHECK(made.has_errors());
        CHECK(tells(codes(made), code));
        for (const Vec3& p : *made.parts[0]->shape->mesh.positions) CHECK(std::isfinite(p.x + p.y + p.z));
    }
}

TEST_CASE("circular links are told, not followed", "[make][bad input]") {
    const Made made =
        Maker().make(one_part({step("a", "flip", {{"in", {{"shape", "b"}}}}), step("b", "flip"), step("c", "box")}));
    CHECK(tells(codes(made), "circle"));
    CHECK(made.parts[0]->measures.closed);
    Json json{{"bricol", 1},
              {"parts",
               {{{"name", "p"}, {"steps", {step("a", "from_part", {{"part", "q"}})}}},
                {{"name", "q"}, {"steps", {step("a", "from_part", {{"part", "p"}})}}}}}};
    CHECK(Maker().make(*recipe_from_text(json.dump())).has_errors());
}

TEST_CASE("empty, short and repeated profiles say so", "[make][findings]") {
    CHECK(tells(codes(Maker().make(one_part({step("d", "drawn_curve"), step("t", "lathe")}))), "empty-curve"));
    const Made one =
        Maker().make(one_part({step("d", "drawn_curve", {{"curves", knots({{0.1, 0}})}}), step("t", "lathe")}));
    CHECK(tells(codes(one), "one-knot"));
    CHECK(tells(codes(one), "empty-profile"));
    const Recipe repeated =
        one_part({step("d", "drawn_curve", {{"curves", knots({{0, 0}, {0.5, 0}, {0.5, 0}, {0.5, 1}, {0, 1}})}}),
                  step("t", "lathe")});
    const Made made = Maker().make(repeated);
    CHECK(made.parts[0]->measures.closed);
    const Recipe mended = *with_remedy(repeated, "p", "d", *finding(made, "repeated-knots").remedy);
    CHECK_FALSE(tells(codes(Maker().make(mended)), "repeated-knots"));
}

TEST_CASE("every finding of the lathe has a remedy that mends it", "[make][findings]") {
    const auto cured = [](const Recipe& recipe, const std::string& at, const std::string& code) {
        const Made made = Maker().make(recipe);
        const Finding f = finding(made, code);
        INFO(f.text);
        REQUIRE(f.remedy);
        const auto mended = with_remedy(recipe, "p", at, *f.remedy);
        REQUIRE(mended);
        CHECK_FALSE(tells(codes(Maker().make(*mended)), code));
        return *mended;
    };
    const Recipe near = one_part(
        {step("d", "drawn_curve", {{"curves", knots({{0.0008, 0}, {0.5, 0}, {0.5, 1}, {0, 1}})}}), step("t", "lathe")});
    CHECK(finding(Maker().make(near), "near-axis").text.find("0.8 mm") != std::string::npos);
    const Recipe mended = cured(near, "t", "near-axis");
    CHECK(find_step(*mended.part("p"), "d")->settings["curves"][0]["knots"][0]["at"][0] == 0);
    // Behind another step the knots are not those drawn; then the weld distance is the safe answer.
    const Recipe moved =
        one_part({step("d", "drawn_curve", {{"curves", knots({{0.0008, 0}, {0.5, 0}, {0.5, 1}, {0, 1}})}}),
                  step("m", "transform"), step("t", "lathe")});
    CHECK(find_step(*cured(moved, "t", "near-axis").part("p"), "t")->settings["weld"].get<double>() > 0.0008);
    cured(one_part({step("d", "drawn_curve", {{"curves", knots({{-0.1, 0}, {0.5, 0}, {0.5, 1}, {0, 1}})}}),
                    step("t", "lathe")}),
          "t", "crosses-axis");
    cured(one_part({step("d", "drawn_curve", {{"curves", knots({{0, 0}, {0.5, 0}, {0.5, 0.5}, {0.5, 1}, {0, 1}})}}),
                    step("t", "lathe")}),
          "t", "needless-faces");
    cured(one_part({step("b", "box"), step("f", "flip")}), "f", "inside-out");
}

TEST_CASE("near misses at a mirror seam are mended by their remedy", "[make][findings]") {
    const Recipe recipe = one_part({step("b", "box", {{"origin", "centre"}}),
                                    step("s", "transform", {{"move", {0.2504, 0, 0}}}), step("m", "mirror")});
    const Made open = Maker().make(recipe);
    const Finding f = finding(open, "near-miss-seam");
    CHECK(f.text.find("0.8 mm") != std::string::npos);
    const Made closed = Maker().make(*with_remedy(recipe, "p", "m", *f.remedy));
    CHECK(closed.parts[0]->measures.closed);
    CHECK(closed.parts[0]->measures.pieces == 1);
}

TEST_CASE("export levels differ from screen levels", "[make]") {
    const Recipe recipe = one_part({step("b", "box"), step("s", "subdivide", {{"levels", 1}, {"export_levels", 3}})});
    Maker maker;
    CHECK(maker.make(recipe).parts[0]->measures.faces == 24);
    MakeOptions options;
    options.for_export = true;
    CHECK(maker.make(recipe, options).parts[0]->measures.faces == 6 * 64);
}

TEST_CASE("seat follows the shape's own height and another part's top", "[make][steps]") {
    Json json{{"bricol", 1},
              {"parts",
               {{{"name", "slab"}, {"steps", {step("b", "box", {{"size", {2, 2, 0.3}}})}}},
                {{"name", "post"},
                 {"steps",
                  {step("c", "cylinder", {{"height", 1.7}, {"origin", "centre"}}),
                   step("s", "seat", {{"target", "top"}, {"gap", 0.05}, {"in", {{"on", "part:slab"}}}})}}}}}};
    const Made made = Maker().make(*recipe_from_text(json.dump()));
    CHECK(made.parts[1]->measures.box->low.z == Approx(0.35));
    CHECK(made.parts[1]->measures.box->high.z == Approx(2.05));
}

TEST_CASE("skipping leaves a step out", "[make]") {
    const Recipe recipe = one_part({step("b", "box"), step("s", "subdivide", {{"skip", true}})});
    CHECK(Maker().make(recipe).parts[0]->measures.faces == 6);
}

namespace {

/// Every dial of a demo recipe at both ends, and all of them a few times at random (`bricol trial` tries a thousand);
/// the sanitisers, ten times slower, at random alone.
/// `uncrossed`: nor may faces cross one another, at the ends of dials or at random.
void dials_hold(const std::string& name, bool uncrossed = false, int at_random = 10) {
    const int tries = test::sanitized() ? 1 : at_random;
    // Panes one sheet thick; pebbles on open ground; cloth; canes that end at a panel's edge, and the sheets they are
    // laid on; leaves and fronds.
    const std::set<std::string> sheets = {"skin",      "heap",      "sock",     "tile", "panel",  "back_shell",
                                          "back_wide", "end_shell", "end_wide", "back", "end",    "other_end",
                                          "blade",     "frond",     "fronds",   "leaf", "foliage"};
    MakeOptions options;
    options.environment.find_kit = kit_reader();
    options.environment.read_file = file_reader();
    options.environment.folder = std::string(SOURCE_FOLDER) + "/demo";
    options.thorough = uncrossed && !test::sanitized();
    const Recipe recipe = *load_recipe(options.environment.folder + "/" + name + ".bricol");
    Maker maker;
    const auto good = [&](const Recipe& variant, const std::string& what) {
        const Made made = maker.make(variant, options);
        INFO(name << " " << what);
        for (const auto& steps : made.steps)
            for (const auto& outcome : steps)
                for (const Finding& f : outcome ? outcome->findings : std::vector<Finding>{})
                    if (f.severity == Severity::error) UNSCOPED_INFO(f.text);
        CHECK_FALSE(made.has_errors());
        for (std::size_t p = 0; p < made.parts.size(); ++p) {
            INFO(variant.parts[p]->name);
            CHECK((made.parts[p]->measures.closed || made.parts[p]->measures.faces == 0 ||
                   sheets.contains(variant.parts[p]->name)));
            if (uncrossed)
                CHECK(std::ranges::none_of(made.parts[p]->findings,
                                           [](const Finding& f) { return f.code == "crossing-faces"; }));
        }
    };
    good(recipe, "as saved");
    for (const Dial& dial : recipe.dials)
        for (const double end : {0.0, 1.0}) {
            if (test::sanitized()) continue;
            good(*turn_dial(recipe, dial.name, dial_at(dial, end)), dial.name + " " + std::to_string(end));
        }
    std::mt19937 random(5);
    for (int i = 0; i < tries; ++i) {
        options.thorough = uncrossed && !test::sanitized() && i < 5;  // looking for crossings takes most of the time
        Recipe variant = recipe;
        for (const Dial& dial : recipe.dials)
            variant = *turn_dial(variant, dial.name, dial_at(dial, (random() % 1001) / 1000.0));
        good(variant, "random " + std::to_string(i));
    }
}

TEST_CASE("progress names the step at work, its share, and never falls back", "[make]") {
    const Recipe recipe =
        one_part({step("ball", "geodesic_sphere", {{"frequency", 24}}), step("even", "remesh", {{"rounds", 4}}),
                  step("m", "transform", {{"move", {1, 1, 1}}})});
    std::vector<MakeProgress> told;
    MakeOptions options;
    options.progress = [&](const MakeProgress& at) { told.push_back(at); };
    Maker().make(recipe, options);
    REQUIRE(told.size() > 6);
    for (std::size_t i = 1; i < told.size(); ++i) CHECK(told[i].share >= told[i - 1].share);
    CHECK(told.front().step == "ball");
    CHECK(told.front().what == "Geodesic sphere");
    CHECK(told.back().share == 1);
    CHECK(told.back().step.empty());
    std::vector<double> of_remesh;
    for (const MakeProgress& at : told)
        if (at.step == "even") of_remesh.push_back(at.of_step);
    CHECK(of_remesh == std::vector<double>{-1, 0, 0.25, 0.5, 0.75});
}

}  // namespace

TEST_CASE("dials hold: bobbin", "[make][demo][wide]") { dials_hold("bobbin"); }
TEST_CASE("dials hold: buoy", "[make][demo][wide]") { dials_hold("buoy"); }
TEST_CASE("dials hold: capstan", "[make][demo][wide]") { dials_hold("capstan"); }
TEST_CASE("dials hold: daymark", "[make][demo][wide]") { dials_hold("daymark"); }
TEST_CASE("dials hold: fender", "[make][demo][wide]") { dials_hold("fender"); }
TEST_CASE("dials hold: fender-wired", "[make][demo][wide]") { dials_hold("fender-wired"); }
TEST_CASE("dials hold: helmet", "[make][demo][wide]") { dials_hold("helmet"); }
TEST_CASE("dials hold: pebble", "[make][demo][wide]") { dials_hold("pebble"); }
TEST_CASE("dials hold: quay-racks", "[make][demo][wide]") { dials_hold("quay-racks"); }
TEST_CASE("dials hold: rack", "[make][demo][wide]") { dials_hold("rack"); }
TEST_CASE("dials hold: rock", "[make][demo][wide]") { dials_hold("rock", false, 5); }
TEST_CASE("dials hold: shingle", "[make][demo][wide]") { dials_hold("shingle", false, 3); }
TEST_CASE("dials hold: creel", "[make][demo][wide]") { dials_hold("creel", false, 5); }
TEST_CASE("dials hold: icebox", "[make][demo][wide]") { dials_hold("icebox"); }
TEST_CASE("dials hold: lantern", "[make][demo][wide]") { dials_hold("lantern"); }
TEST_CASE("dials hold: loom", "[make][demo][wide]") { dials_hold("loom"); }
TEST_CASE("dials hold: netline", "[make][demo][wide]") { dials_hold("netline"); }
TEST_CASE("dials hold: pier", "[make][demo][wide]") { dials_hold("pier"); }
TEST_CASE("dials hold: windsock", "[make][demo][wide]") { dials_hold("windsock"); }
TEST_CASE("dials hold: wheel", "[make][demo][wide]") { dials_hold("wheel"); }
TEST_CASE("dials hold: otter", "[make][demo][wide]") { dials_hold("otter", true); }
TEST_CASE("dials hold: tree", "[make][demo][wide]") { dials_hold("tree", true); }
TEST_CASE("dials hold: kelp", "[make][demo][wide]") { dials_hold("kelp", true); }
TEST_CASE("dials hold: float", "[make][demo][long][wide]") { dials_hold("float", false, 3); }
TEST_CASE("dials hold: winch", "[make][demo][wide]") { dials_hold("winch"); }
TEST_CASE("dials hold: deck", "[make][demo][wide]") { dials_hold("deck"); }
TEST_CASE("dials hold: holdfast", "[make][demo][wide]") { dials_hold("holdfast"); }
TEST_CASE("dials hold: flange", "[make][demo][wide]") { dials_hold("flange"); }
TEST_CASE("dials hold: gear-winch", "[make][demo][wide]") { dials_hold("gear-winch"); }
TEST_CASE("dials hold: chain", "[make][demo][long][wide]") { dials_hold("chain", false, 2); }
TEST_CASE("dials hold: coil", "[make][demo][long][released]") { dials_hold("coil", false, 1); }
// Its pieces are tried one by one above; what is its own are places, dials, light and cameras.
TEST_CASE("dials hold: quay", "[make][demo][long][wide]") {
    if (test::sanitized()) return;
    const Recipe recipe = demo_recipe("quay");
    Maker maker;
    MakeOptions options;
    options.environment = environment_in(std::string(SOURCE_FOLDER) + "/demo");
    for (const double stone : {recipe.dial("stone")->low, recipe.dial("stone")->high})
        for (const double tide : {recipe.dial("tide")->low, recipe.dial("tide")->high}) {
            const Recipe turned = *turn_dial(*turn_dial(recipe, "stone", stone), "tide", tide);
            const Made made = maker.make(turned, options);
            CHECK_FALSE(made.has_errors());
            const Stage stage = stage_of(turned, made);
            CHECK(stage.cameras.size() == 3);
            CHECK(stage.lamps.size() == 1);
            CHECK(stage.sky);
            CHECK(made.faces(turned) > 100000);
            CHECK(made.faces(turned) < turned.budget);
        }
}

TEST_CASE("every demo recipe is among those above", "[make][demo]") {
    const std::set<std::string> tried = {
        "bobbin",   "buoy",    "capstan",    "creel",      "daymark", "fender",   "fender-wired", "helmet",
        "icebox",   "lantern", "loom",       "netline",    "pebble",  "float",    "kelp",         "otter",
        "tree",     "pier",    "quay-racks", "rack",       "rock",    "shingle",  "wheel",        "winch",
        "windsock", "quay",    "flange",     "gear-winch", "deck",    "holdfast", "chain",        "coil"};
    for (const auto& entry : std::filesystem::directory_iterator(std::string(SOURCE_FOLDER) + "/demo"))
        if (entry.path().extension() == ".bricol") CHECK(tried.contains(entry.path().stem().string()));
}

TEST_CASE("every step of the catalogue runs on its defaults and on odd inputs", "[make][steps]") {
    const Json inputs[] = {step("i", "box"), step("i", "circle"), step("i", "drawn_curve"), step("i", "grid"),
                           step("i", "line")};
    for (const StepInfo* info : all_steps())
        for (const Json& input : inputs) {
            INFO(info->key << " behind " << input.dump());
            const Made made = Maker().make(one_part({input, step("x", std::string(info->key))}));
            REQUIRE(made.steps[0].size() == 2);
            CHECK(sound(made.parts[0]->shape->mesh));
            for (const Finding& f : made.steps[0][1]->findings) CHECK(f.code != "failed");
            CHECK(info->name.size() > 2);
            CHECK(info->purpose.ends_with("."));
            CHECK_FALSE(info->glyph.empty());
            for (const ParameterInfo& p : info->parameters) CHECK(p.help.size() > 10);
        }
}

TEST_CASE("faces that cross one another are found when there is time to look", "[make]") {
    const Recipe folded = one_part({step("b", "box", {{"size", {2, 0.5, 0.5}}, {"along_x", 24}}),
                                    step("x", "bend", {{"angle", 330}, {"about", "point"}, {"centre", {0, 0, -0.2}}})});
    const auto crossing = [](const Made& made) {
        return std::ranges::any_of(made.parts[0]->findings,
                                   [](const Finding& f) { return f.code == "crossing-faces"; });
    };
    Maker maker;
    CHECK_FALSE(crossing(maker.make(folded)));
    MakeOptions options;
    options.thorough = true;
    const Made looked = maker.make(folded, options);
    REQUIRE(crossing(looked));
    for (const Finding& f : looked.parts[0]->findings)
        if (f.code == "crossing-faces") CHECK_FALSE(f.places.empty());
    // Two pieces may stand in one another.
    CHECK_FALSE(crossing(
        maker.make(one_part({step("a", "box"),
                             step("c", "array", {{"count", 2}, {"offset", {0.1, 0.05, 0.02}}, {"result", "real"}})}),
                   options)));
    CHECK_FALSE(crossing(maker.make(one_part({step("b", "box")}), options)));
}
