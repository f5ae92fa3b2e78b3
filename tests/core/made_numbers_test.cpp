// SPDX-License-Identifier: GPL-3.0-or-later
// What was made, as numbers that formulas ask for: against closed forms, and in the order they ask for.
#include <catch2/catch.hpp>
#include <numbers>

#include "core/kernels/curve_edit.h"
#include "core/kernels/transform.h"
#include "core/make/graph.h"
#include "core/make/made_numbers.h"
#include "core/recipe/kit.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

double made(const Tried& tried, const std::string& id, const std::string& path) {
    const auto number = tried.step(id).numbers->at(path);
    INFO(path << ": " << (number ? "" : number.problem().text()));
    REQUIRE(number);
    return *number;
}

std::string refused(const Tried& tried, const std::string& id, const std::string& path) {
    const auto number = tried.step(id).numbers->at(path);
    REQUIRE_FALSE(number);
    return number.problem().text();
}

DVec3 size_of(const Tried& tried, const std::string& id) { return box_of(*tried.step(id).shape)->size(); }

/// A post and a cap as wide as the post came out, standing on it; the cap stands first on the strip.
Recipe post_and_cap() {
    return recipe_of(Json::array({step("cap", "box", {{"size", {"= post.made.size.x", "= post.made.size.y * 2", 0.1}}}),
                                  step("post", "cylinder", {{"radius", "= girth / 2"}, {"height", "= girth * 3"}}),
                                  Json{{"id", "on"},
                                       {"step", "transform"},
                                       {"in", {{"shape", "cap"}}},
                                       {"move", {0, 0, "= post.made.high.z - cap.made.low.z"}}}}),
                     Json::array({{{"name", "girth"}, {"value", 0.5}, {"min", 0.1}, {"max", 2}}}));
}

}  // namespace

TEST_CASE("sizes, area and volume of a box are those of the closed forms", "[made]") {
    const Tried box = tried({step("b", "box", {{"size", {1, 2, 3}}}), step("t", "transform", {{"move", {10, 0, 0}}})});
    CHECK(made(box, "t", "size.x") == Approx(1));
    CHECK(made(box, "t", "size.z") == Approx(3));
    CHECK(made(box, "t", "low.x") == Approx(9.5));
    CHECK(made(box, "t", "high.x") == Approx(10.5));
    CHECK(made(box, "t", "middle.x") == Approx(10));
    CHECK(made(box, "t", "area") == Approx(2 * (1 * 2 + 2 * 3 + 3 * 1)));
    CHECK(made(box, "t", "volume") == Approx(6));
    CHECK(made(box, "t", "faces") == 6);
    CHECK(made(box, "t", "points") == 8);
    CHECK(made(box, "t", "edges") == 12);
    CHECK(made(box, "t", "pieces") == 1);
    // Every path that is offered is understood, or says why this shape has no such number.
    for (const MadePath& path : made_paths())
        if (const auto number = box.step("t").numbers->at(path.path); !number)
            CHECK(number.problem().text() == "What was made there has no curves, so it has no length.");
}

TEST_CASE("the length of a curve is that of the curve, not of its points", "[made]") {
    // y = x² from 0 to 1 as a cubic; its length is (2√5 + arsinh 2) / 4.
    Curve parabola;
    parabola.knots.resize(2);
    parabola.knots[0].kind = parabola.knots[1].kind = KnotKind::free;
    parabola.knots[1].at = {1, 1, 0};
    parabola.knots[0].out = {1 / 3.0f, 0, 0};
    parabola.knots[1].in = {-1 / 3.0f, -2 / 3.0f, 0};
    parabola.sampling.per_span = 2;
    CHECK(length_of(parabola) == Approx((2 * std::sqrt(5.0) + std::asinh(2.0)) / 4).epsilon(1e-6));
    Curve square;
    square.closed = true;
    for (const Vec3 at : {Vec3(0, 0, 0), Vec3(2, 0, 0), Vec3(2, 2, 0), Vec3(0, 2, 0)}) square.knots.push_back({at});
    CHECK(length_of(square) == Approx(8));
    // Rounded by 0.5: four quarters of a circle instead of four corners of two halves each.
    for (Knot& knot : square.knots) knot.fillet = 0.5f;
    CHECK(length_of(square) == Approx(8 - 4 + std::numbers::pi).epsilon(3e-4));
    auto shape = std::make_shared<Shape>();
    shape->curves = {parabola, parabola};
    CHECK(*MadeNumbers(shape).at("length") == Approx(2 * length_of(parabola)));
    CHECK(*MadeNumbers(shape).at("curves") == 2);
}

TEST_CASE("a formula asks what another step made, wherever either stands", "[made]") {
    const Recipe recipe = post_and_cap();
    for (const double girth : {0.5, 1.25}) {
        const Tried now = tried(*turn_dial(recipe, "girth", girth));
        for (const char* id : {"cap", "post", "on"}) REQUIRE(now.clean(id));
        const DVec3 post = size_of(now, "post"), cap = size_of(now, "cap");
        CHECK(cap.x == Approx(post.x));
        CHECK(cap.y == Approx(2 * post.y));
        CHECK(box_of(*now.step("on").shape)->low.z == Approx(box_of(*now.step("post").shape)->high.z));
    }
    // A number that is asked through another number.
    const Tried through = tried(
        {step("later", "box", {{"size", {"= between.size.y + 1", 1, 1}}}),
         Json{{"id", "between"}, {"step", "box"}, {"in", {{"shape", ""}}}, {"size", {1, "= first.made.volume", 1}}},
         step("first", "box", {{"size", {2, 2, 2}}})});
    CHECK(size_of(through, "between").y == Approx(8));
    CHECK(size_of(through, "later").x == Approx(9));
}

TEST_CASE("a part's name asks for its result, from other parts", "[made]") {
    auto recipe = recipe_from_text(R"json({"bricol": 1, "parts": [
        {"name": "lid", "steps": [{"id": "plate", "step": "box", "size": ["= tub.made.size.x", 1, 0.1]},
                                  {"id": "up", "step": "transform", "move": [0, 0, "= tub.made.high.z"]}]},
        {"name": "tub", "steps": [{"id": "b", "step": "box", "size": [3, 1, 1]},
                                  {"id": "t", "step": "transform", "size": [2, 1, 5]}]}]})json");
    REQUIRE(recipe);
    const Made all = Maker().make(*recipe);
    CHECK_FALSE(all.has_errors());
    const Box lid = *all.part(*recipe, "lid")->measures.box;
    CHECK(lid.size().x == Approx(6));
    CHECK(lid.low.z == Approx(5));
    // The lid is not finished without the tub, though no link says so.
    const auto behind = steps_behind(*recipe, {"lid"});
    CHECK(behind[1] == std::vector<bool>{true, true});
    // Renamed, it still asks the same.
    const auto renamed = rename_part(*recipe, "tub", "bin");
    REQUIRE(renamed);
    CHECK(Maker().make(*renamed).part(*renamed, "lid")->measures.box->size().x == Approx(6));
    const auto stepped = rename_step_id(*renamed, "bin", "t", "wide");
    CHECK_FALSE(Maker().make(*stepped).has_errors());
}

TEST_CASE("circles of asking are refused with the circle spelled out", "[made]") {
    const Tried circle = tried({step("a", "box", {{"size", {"= b.made.size.x", 1, 1}}}),
                                Json{{"id", "b"}, {"step", "transform"}, {"in", {{"shape", "a"}}}}});
    for (const char* id : {"a", "b"}) {
        REQUIRE(circle.finding(id, "circle"));
        CHECK(circle.finding(id, "circle")->text.find("a ← p.b ← p.a") != std::string::npos);
    }
    // One's own is a circle of one; what stands apart is made all the same.
    const Tried own = tried({step("a", "box", {{"size", {"= a.made.size.x", 1, 1}}}),
                             Json{{"id", "b"}, {"step", "box"}, {"in", {{"shape", ""}}}}});
    CHECK(own.finding("a", "circle"));
    CHECK(own.clean("b"));
}

TEST_CASE("a number that is not there says why, and what there is", "[made]") {
    const Tried grid = tried({step("g", "grid"), step("c", "circle")});
    CHECK(refused(grid, "g", "volume").find("not closed") != std::string::npos);
    CHECK(refused(grid, "g", "length").find("no curves") != std::string::npos);
    CHECK(refused(grid, "g", "size").find("size.x") != std::string::npos);
    CHECK(refused(grid, "g", "siez.x").find("size") != std::string::npos);
    CHECK(refused(grid, "g", "mean.rust").find("no attribute and no set “rust”") != std::string::npos);
    CHECK(refused(grid, "g", "in.rim.area").find("no set “rim”") != std::string::npos);
    const Tried told = tried({step("g", "grid"), step("b", "box", {{"size", {"= g.made.volume", 1, 1}}})});
    REQUIRE(told.finding("b", "bad-value"));
    CHECK(told.finding("b", "bad-value")->text.find("“g.made.volume”") != std::string::npos);
    CHECK(told.finding("b", "bad-value")->text.find("not closed") != std::string::npos);
}

TEST_CASE("attributes and sets are asked for their least, most, mean and what is in them", "[made]") {
    const Tried box = tried(
        {step("b", "box", {{"size", {1, 2, 4}}}),
         step("w", "attribute", {{"attribute", "height"}, {"by", "axis"}, {"axis", "z"}, {"from", 0}, {"to", 1}}),
         step("top", "choose",
              {{"set", "lid"}, {"what", "faces"}, {"rule", "facing"}, {"direction", {0, 0, 1}}, {"within", 10}})});
    for (const char* id : {"w", "top"}) REQUIRE(box.clean(id));
    CHECK(made(box, "top", "least.height") == Approx(0).margin(1e-6));
    CHECK(made(box, "top", "most.height") == Approx(1));
    CHECK(made(box, "top", "mean.height") == Approx(0.5));
    CHECK(made(box, "top", "mean.lid") == Approx(1.0 / 6));
    CHECK(made(box, "top", "in.lid.area") == Approx(2));
    CHECK(made(box, "top", "in.lid.faces") == 1);
    CHECK(made(box, "top", "in.lid.points") == 4);
    CHECK(made(box, "top", "in.lid.low.z") == Approx(4));
    CHECK(made(box, "top", "in.lid.size.y") == Approx(2));
}

TEST_CASE("what did not change is not made again, and threads change nothing", "[made]") {
    Maker maker;
    const Recipe recipe = post_and_cap();
    const Made first = maker.make(recipe);
    CHECK(first.made == 3);
    CHECK(maker.make(recipe).made == 0);
    // A cap that only grew thicker leaves the post alone; a wider post makes all three.
    CHECK(maker.make(*set_setting(recipe, "p", "cap", "/size/2", 0.2)).made == 2);
    CHECK(maker.make(*turn_dial(recipe, "girth", 0.75)).made == 3);
}

TEST_CASE("packing and opening keep what is asked", "[made][kits]") {
    const Recipe before = post_and_cap();
    const DVec3 wanted = size_of(tried(before), "on");
    // The cap packed: what the post made comes in as dials.
    std::string id;
    const auto cap = packed(before, "p", {"cap"}, "Cap", &id);
    INFO((cap ? "" : cap.problem().text()));
    REQUIRE(cap);
    const Tried inside = tried(*cap);
    REQUIRE(inside.clean(id));
    CHECK(size_of(inside, "on") == wanted);
    const auto opened = unpacked(*cap, "p", id, kit_reader(), "");
    REQUIRE(opened);
    CHECK(size_of(tried(*opened), "on") == wanted);
    // The post packed: those outside ask the packed step.
    const auto post = packed(before, "p", {"post"}, "Post", &id);
    REQUIRE(post);
    const Tried outside = tried(*post);
    for (const char* step : {"cap", "post", "on"}) CHECK(outside.clean(step));
    CHECK(size_of(outside, "on") == wanted);
    // A step that would be hidden and is asked from outside is not packed away.
    const Recipe two = recipe_of(Json::array(
        {step("hidden", "box"), step("moved", "transform"),
         Json{{"id", "other"}, {"step", "box"}, {"in", {{"shape", ""}}}, {"size", {"= hidden.made.size.x", 1, 1}}},
         Json{{"id", "both"}, {"step", "merge"}, {"in", {{"shape", "moved"}, {"with", "other"}}}}}));
    const auto refused_packing = packed(two, "p", {"hidden", "moved"}, "Away", &id);
    REQUIRE_FALSE(refused_packing);
    CHECK(refused_packing.problem().text().find("hidden.made.size.x") != std::string::npos);
}
