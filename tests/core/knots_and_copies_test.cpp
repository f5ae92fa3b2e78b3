// SPDX-License-Identifier: GPL-3.0-or-later
// Steps for points that also act on knots of curves and on copies: moved, chosen, given values and colours, taken away.
#include <catch2/catch.hpp>
#include <glm/gtc/constants.hpp>

#include "core/kernels/real_geometry.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

/// Nine copies of a box in a row along x, half a metre apart from 0 on.
std::vector<Json> row() {
    return {step("box", "box", {{"size", {0.2, 0.2, 0.2}}}),
            step("row", "array", {{"count", 9}, {"offset", {0.5, 0, 0}}})};
}

Tried of_row(std::initializer_list<Json> more) {
    std::vector<Json> steps = row();
    steps.insert(steps.end(), more.begin(), more.end());
    return tried(recipe_of(Json(steps)));
}

std::vector<Vec3> places_of(const Tried& made, const std::string& id) {
    std::vector<Vec3> out;
    for (const Instances& group : made.step(id).shape->instances)
        for (const glm::mat4& place : group.places) out.emplace_back(place[3]);
    return out;
}

Json ring_of(double radius, int sides) { return step("ring", "polygon", {{"radius", radius}, {"sides", sides}}); }

}  // namespace

TEST_CASE("a knot is nudged by where it stands, and found again when the curve changes a little", "[knots]") {
    const auto made = [](double y) {
        return tried(
            {step("c", "drawn_curve",
                  {{"plane", "top"},
                   {"curves",
                    Json::array(
                        {{{"closed", true},
                          {"knots",
                           Json::array({{{"at", {0, 0}}}, {{"at", {1, 0}}}, {{"at", {1, y}}}, {{"at", {0, y}}}})}}})}}),
             step("n", "nudge",
                  {{"places",
                    Json::array({{{"vertex", {1, 1, 0}}, {"share", {1, 1, 0.5}}, {"move", {0.5, 0.25, 0.125}}}})}})});
    };
    for (const double y : {1.0, 1.1}) {
        const Tried one = made(y);
        CHECK(one.step("n").findings.empty());
        const auto& knots = one.step("n").shape->curves[0].knots;
        CHECK(glm::distance(DVec3(knots[2].at), DVec3(1.5, y + 0.25, 0.125)) < 1e-6);
        CHECK(glm::distance(DVec3(knots[1].at), DVec3(1, 0, 0)) < 1e-6);
    }
    CHECK(made(3).finding("n", "lost-places") == nullptr);  // its share of the box still says where it is
}

TEST_CASE("knots are pushed out of a closed curve and to the right of an open one, by hand's own figures", "[knots]") {
    const Tried out = tried({ring_of(1, 12), step("p", "push", {{"amount", 0.25}})});
    REQUIRE(out.step("p").shape->curves.size() == 1);
    for (const Knot& knot : out.step("p").shape->curves[0].knots)
        CHECK(glm::length(DVec3(knot.at)) == Approx(1.25).margin(1e-6));
    const Tried reversed = tried({ring_of(1, 12), step("r", "reverse"), step("p", "push", {{"amount", 0.25}})});
    for (const Knot& knot : reversed.step("p").shape->curves[0].knots)
        CHECK(glm::length(DVec3(knot.at)) == Approx(1.25).margin(1e-6));
    // As Offset curve does: an open line in the top view, seen from above, goes to its right.
    const Json line = step(
        "l", "drawn_curve",
        {{"plane", "top"}, {"curves", Json::array({{{"knots", Json::array({{{"at", {0, 0}}}, {{"at", {2, 0}}}})}}})}});
    const Tried right = tried({line, step("p", "push", {{"amount", 0.5}})});
    const Tried offset = tried({line, step("p", "offset_curve", {{"distance", 0.5}})});
    for (int k = 0; k < 2; ++k)
        CHECK(glm::distance(right.step("p").shape->curves[0].knots[static_cast<std::size_t>(k)].at,
                            offset.step("p").shape->curves[0].knots[static_cast<std::size_t>(k)].at) < 1e-6f);
    CHECK(right.step("p").shape->curves[0].knots[0].at.y == Approx(-0.5));
    // Along a direction and from a point.
    const Tried up =
        tried({ring_of(1, 5), step("p", "push", {{"amount", 0.5}, {"along", "direction"}, {"direction", {0, 0, 3}}})});
    for (const Knot& knot : up.step("p").shape->curves[0].knots) CHECK(knot.at.z == Approx(0.5));
}

TEST_CASE("copies are shaken, each its own way and no farther than told, and keep their moves when others go",
          "[copies]") {
    const Tried made = of_row({step("j", "jitter", {{"by", {0.1, 0.05, 0}}, {"seed", 4}})});
    const auto before = places_of(made, "row"), after = places_of(made, "j");
    REQUIRE(after.size() == 9);
    std::set<float> moves;
    for (std::size_t i = 0; i < 9; ++i) {
        const Vec3 move = after[i] - before[i];
        CHECK(std::abs(move.x) <= 0.1f);
        CHECK(std::abs(move.y) <= 0.05f);
        CHECK(move.z == 0);
        moves.insert(move.x);
    }
    CHECK(moves.size() == 9);
    // Only those of a set, by a value.
    const Tried some = of_row(
        {step("first", "choose",
              {{"what", "instances"}, {"rule", "box"}, {"set", "first"}, {"low", {-1, -1, -1}}, {"high", {1.1, 1, 1}}}),
         step("j", "jitter", {{"by", {0, 0.2, 0}}, {"only", "first"}})});
    CHECK(some.finding("first", "chosen")->text == "3 of 9 instances chosen.");
    const auto moved = places_of(some, "j");
    for (std::size_t i = 0; i < 9; ++i) CHECK((moved[i].y != before[i].y) == (i < 3));
}

TEST_CASE("copies get values, which choose, push, turn and colour them", "[copies]") {
    const Tried made = of_row(
        {step("rise", "attribute",
              {{"on", "instances"}, {"attribute", "rise"}, {"by", "axis"}, {"axis", "x"}, {"from", 0}, {"to", 2}}),
         step("up", "push", {{"amount", 0.5}, {"along", "direction"}, {"weight", "rise"}}),
         step("far", "choose",
              {{"what", "instances"}, {"set", "far"}, {"rule", "attribute"}, {"attribute", "rise"}, {"limit", 1.4}}),
         step("tall", "formula",
              {{"on", "instances"}, {"only", "far"}, {"rows", Json::array({{{"target", "size"}, {"formula", "2"}}})}}),
         step("tint", "colour",
              {{"on", "instances"},
               {"by", "attribute"},
               {"attribute", "rise"},
               {"gradient",
                {{"stops", Json::array({{{"at", 0}, {"colour", {1, 0, 0}}}, {{"at", 1}, {"colour", {0, 0, 1}}}})}}}}),
         step("real", "real_geometry")});
    REQUIRE(made.clean("real"));
    const auto up = places_of(made, "up");
    for (std::size_t i = 0; i < 9; ++i) CHECK(up[i].z == Approx(0.5 * 2 * static_cast<double>(i) / 8).margin(1e-6));
    // 1.4 of 2 lies between the sixth and the seventh.
    const auto& sized = made.step("tall").shape->instances[0].places;
    for (std::size_t i = 0; i < 9; ++i) CHECK(glm::length(DVec3(sized[i][0])) == Approx(i >= 6 ? 2 : 1));
    const auto* colours =
        made.step("tint").shape->instances[0].attributes.values<Vec4>(Domain::instance, attribute_name::colour);
    REQUIRE(colours);
    CHECK((*colours)[0].x == Approx(1).margin(1e-6));
    CHECK((*colours)[8].z == Approx(1).margin(1e-6));
    CHECK((*colours)[4].x == Approx(0.5).margin(0.01));
    // Made real, their points have it.
    const auto& points = column<Vec4>(made.mesh("real"), Domain::vertex, attribute_name::colour);
    CHECK(points.front().x == Approx(1).margin(1e-6));
    CHECK(points.back().z == Approx(1).margin(1e-6));
    // A value by formula, over copies.
    const Tried formula = of_row({step("v", "attribute",
                                       {{"on", "instances"},
                                        {"attribute", "v"},
                                        {"by", "formula"},
                                        {"rows", Json::array({{{"target", "v"}, {"formula", "x * 2 + index"}}})}})});
    const auto* values = formula.step("v").shape->instances[0].attributes.values<float>(Domain::instance, "v");
    REQUIRE(values);
    for (std::size_t i = 0; i < 9; ++i) CHECK((*values)[i] == Approx(2 * static_cast<double>(i)));
}

TEST_CASE("single copies are taken away or kept, by number, place or formula; the others keep their values",
          "[copies]") {
    const auto chosen = [](Json rule, const char* which = "take") {
        rule["what"] = "instances";
        rule["set"] = "gone";
        return of_row({step("v", "attribute",
                            {{"on", "instances"}, {"attribute", "v"}, {"by", "axis"}, {"axis", "x"}, {"to", 8}}),
                       step("pick", "choose", rule),
                       step("d", "delete", {{"only", "gone"}, {"what", "instances"}, {"which", which}})});
    };
    const Tried nth = chosen({{"rule", "nth"}, {"n", 3}});
    REQUIRE(nth.clean("d"));
    const auto left = places_of(nth, "d");
    REQUIRE(left.size() == 6);
    CHECK(left[0].x == Approx(0.5));
    const auto& group = nth.step("d").shape->instances[0];
    const auto* values = group.attributes.values<float>(Domain::instance, "v");
    REQUIRE(values);
    for (std::size_t i = 0; i < left.size(); ++i) CHECK((*values)[i] == Approx(left[i].x * 2));
    CHECK(places_of(chosen({{"rule", "formula"}, {"rows", Json::array({{{"target", "pick"}, {"formula", "x > 3.2"}}})}},
                           "keep"),
                    "d")
              .size() == 2);
    const Tried picked = chosen({{"rule", "places"}, {"places", Json::array({{{"vertex", {1.5, 0, 0}}}})}});
    CHECK(places_of(picked, "d").size() == 8);
    const Tried all = chosen({{"rule", "all"}});
    CHECK(all.finding("d", "nothing-left"));
    CHECK(chosen({{"rule", "nth"}, {"grow", 1}}).finding("pick", "unfit-rule"));
    // A rule about faces says what to do instead.
    const Tried facing = chosen({{"rule", "facing"}});
    REQUIRE(facing.finding("pick", "unfit-rule"));
    CHECK(facing.finding("pick", "unfit-rule")->text.find("Real geometry") != std::string::npos);
}

TEST_CASE("several copied shapes are marked together, and each group keeps its own", "[copies]") {
    const Tried made = tried(recipe_of(Json::array(
        {step("a", "box", {{"size", {0.2, 0.2, 0.2}}}), step("first", "array", {{"count", 3}, {"offset", {1, 0, 0}}}),
         step("b", "sphere", {{"radius", 0.1}, {"in", {{"shape", ""}}}}),
         step("second", "array", {{"count", 2}, {"offset", {1, 0, 0}}}),
         step("aside", "transform", {{"move", {0, 5, 0}}}),
         step("both", "merge", {{"in", {{"shape", "first"}, {"with", "aside"}}}}),
         step("v", "attribute", {{"on", "instances"}, {"attribute", "v"}, {"by", "axis"}, {"axis", "y"}}),
         step("pick", "choose", {{"what", "instances"}, {"set", "s"}, {"rule", "attribute"}, {"attribute", "v"}}),
         step("d", "delete", {{"what", "instances"}, {"only", "s"}})})));
    REQUIRE(made.clean("d"));
    CHECK(made.step("v").shape->instances.size() == 2);
    CHECK(made.step("d").shape->instances.size() == 1);
    CHECK(places_of(made, "d").size() == 3);
}

TEST_CASE("a formula says which of the copied shapes stands where; places and values stay", "[copies]") {
    const auto made = [](const char* formula) {
        return tried(
            recipe_of(Json::array({step("a", "box", {{"size", {0.2, 0.2, 0.2}}}),
                                   step("first", "array", {{"count", 4}, {"offset", {1, 0, 0}}}),
                                   step("b", "sphere", {{"radius", 0.1}, {"in", {{"shape", ""}}}}),
                                   step("second", "array", {{"count", 2}, {"offset", {1, 0, 0}}}),
                                   step("aside", "transform", {{"move", {0, 5, 0}}}),
                                   step("both", "merge", {{"in", {{"shape", "first"}, {"with", "aside"}}}}),
                                   step("v", "attribute",
                                        {{"on", "instances"},
                                         {"attribute", "v"},
                                         {"by", "formula"},
                                         {"rows", Json::array({{{"target", "v"}, {"formula", "x + 10 * y"}}})}}),
                                   step("f", "formula",
                                        {{"on", "instances"},
                                         {"rows", Json::array({{{"target", "variant"}, {"formula", formula}},
                                                               {{"target", "z"}, {"formula", "index"}}})}})})));
    };
    const Tried swapped = made("1 - variant");
    REQUIRE(swapped.clean("f"));
    const auto& groups = swapped.step("f").shape->instances;
    REQUIRE(groups.size() == 2);
    CHECK(groups[0].count() == 2);  // boxes stand where the balls were
    CHECK(groups[1].count() == 4);
    CHECK(groups[0].shape->mesh.face_count() == 6);
    for (const Instances& group : groups) {
        const auto* values = group.attributes.values<float>(Domain::instance, "v");
        REQUIRE(values);
        for (std::size_t i = 0; i < group.count(); ++i)
            CHECK((*values)[i] == Approx(group.places[i][3].x + 10 * group.places[i][3].y));
    }
    // Rows behind it see the copies in their old order.
    CHECK(groups[1].places[3][3].z == 3);
    CHECK(groups[0].places[0][3].z == 4);
    // All of one kind: the other group is gone.
    CHECK(made("0").step("f").shape->instances.size() == 1);
    // Only copies that are asked are looked at.
    const Tried some = of_row({step("pick", "choose", {{"what", "instances"}, {"set", "s"}, {"rule", "nth"}, {"n", 9}}),
                               step("f", "formula",
                                    {{"on", "instances"},
                                     {"only", "s"},
                                     {"rows", Json::array({{{"target", "variant"}, {"formula", "index"}}})}})});
    CHECK(some.clean("f"));
    const Tried outside = made("index");
    REQUIRE(outside.finding("f", "no-such-shape"));
    CHECK(outside.finding("f", "no-such-shape")->text.find("4 of 6 copies") != std::string::npos);
}

TEST_CASE("what a step does not act on is told, and a set that knots have not", "[knots][copies]") {
    const Tried none = tried({step("b", "box"), step("p", "push", {{"on", "knots"}})});
    CHECK(none.finding("p", "wrong-domain"));
    const Tried mixed = tried(
        recipe_of(Json::array({step("b", "box"), ring_of(1, 5),
                               step("m", "merge", {{"in", {{"shape", "b"}, {"with", "ring"}}}}), step("p", "push")})));
    REQUIRE(mixed.finding("p", "others-unchanged"));
    const Tried sets = tried(
        {ring_of(1, 5),
         step("f", "formula",
              {{"on", "knots"}, {"only", "some"}, {"rows", Json::array({{{"target", "z"}, {"formula", "1"}}})}})});
    CHECK(sets.finding("f", "unknown-set"));
}

TEST_CASE("pieces are chosen by their size", "[choose]") {
    const Json boxes = step("row", "array",
                            {{"count", 3},
                             {"kind", "repeat"},
                             {"offset", {2, 0, 0}},
                             {"turn", {0, 0, 0}},
                             {"size", {0.5, 0.5, 0.5}},
                             {"result", "real"}});
    // Sides 1, 1/2, 1/4: volumes 1, 1/8, 1/64.
    const auto faces = [&](Json rule) {
        rule["rule"] = "pieces";
        const Tried made = tried({step("b", "box", {{"size", {1, 1, 1}}}), boxes, step("c", "choose", rule)});
        CHECK(made.clean("c"));
        return made.finding("c", "chosen") ? made.finding("c", "chosen")->text : std::string();
    };
    CHECK(faces({{"piece", "bulkiest"}}) == "6 of 18 faces chosen.");
    CHECK(faces({{"piece", "above"}, {"least", 0.1}}) == "12 of 18 faces chosen.");
    CHECK(faces({{"piece", "above"}, {"least", 0.01}}) == "18 of 18 faces chosen.");
}
