// SPDX-License-Identifier: GPL-3.0-or-later
// Attributes and sets on the knots of curves: made, read, blended along the curve, and handed on to what is made of it.
#include <catch2/catch.hpp>

#include "core/inspect/element_values.h"
#include "core/kernels/stand_ins.h"
#include "core/shape/knot_values.h"
#include "tests/support/warm_line.h"

using namespace bricol;
using namespace bricol::test;

namespace {

template <class T>
Array<T> of_knots(const Tried& made, const std::string& id, const std::string& name) {
    const Attributes all = columns_of_knots(made.step(id).shape->curves);
    const auto* found = all.values<T>(Domain::knot, name);
    REQUIRE(found);
    return *found;
}

}  // namespace

TEST_CASE("knots carry numbers that formulas write and read again", "[knots]") {
    const Tried made = of_line(
        4,
        {step("more", "formula", {{"on", "knots"}, {"rows", formula_rows("radius", "1 + heat * least(heat + 1)")}}),
         step("paint", "colour", {{"on", "knots"}, {"colour", {0.5, 0.25, 0.125}}}),
         step("way", "attribute", {{"attribute", "way"}, {"on", "knots"}, {"type", "vector"}, {"vector", {0, 1, 0}}})});
    for (const std::string id : {"warm", "more", "paint", "way"}) CHECK(made.step(id).findings.empty());
    const auto heat = of_knots<float>(made, "way", "heat");
    const std::vector<Knot>& knots = made.step("way").shape->curves[0].knots;
    REQUIRE(heat.size() == 5);
    for (std::size_t i = 0; i < 5; ++i) {
        CHECK(heat[i] == Approx(static_cast<double>(i) / 4));
        CHECK(knots[i].radius == Approx(1 + static_cast<double>(i) / 4));
    }
    CHECK(of_knots<Vec4>(made, "way", "COLOR_0")[3] == Vec4(0.5f, 0.25f, 0.125f, 1));
    CHECK(of_knots<Vec3>(made, "way", "way")[2] == Vec3(0, 1, 0));
    // What every knot has of its own is not hidden by a value of the same name.
    const Tried taken = of_line(2, {step("a", "attribute", {{"attribute", "radius"}, {"on", "knots"}})});
    CHECK(taken.finding("a", "taken-name"));
    const Tried handle = of_line(2, {step("f", "formula", {{"on", "knots"}, {"rows", formula_rows("in", "1")}})});
    CHECK(handle.finding("f", "bad-target"));
}

TEST_CASE("a set of knots is chosen, and steps act on it alone", "[knots][choose]") {
    const Json up = step("up", "formula", {{"on", "knots"}, {"only", "tips"}, {"rows", formula_rows("z", "1")}});
    const Tried made = of_line(
        4,
        {tips(), up,
         step("nudge", "push", {{"only", "tips"}, {"amount", 0.5}, {"along", "direction"}, {"direction", {0, 1, 0}}}),
         step("gone", "delete", {{"only", "tips"}, {"what", "knots"}})});
    for (const std::string id : {"up", "nudge", "gone"}) CHECK(made.clean(id));
    const std::vector<Knot>& knots = made.step("nudge").shape->curves[0].knots;
    for (std::size_t i = 0; i < 5; ++i)
        CHECK(knots[i].at == Vec3(static_cast<float>(i) / 2, i % 2 == 0 ? 0.5f : 0, i % 2 == 0 ? 1 : 0));
    REQUIRE(made.step("gone").shape->curves.size() == 1);
    CHECK(made.step("gone").shape->curves[0].knots.size() == 2);
    CHECK(of_knots<float>(made, "gone", "heat")[1] == Approx(0.75));
    // By formula, by an attribute, grown along the curve, and with what was there.
    const Tried rules = of_line(
        4,
        {step("hot", "choose",
              {{"set", "hot"},
               {"what", "knots"},
               {"rule", "attribute"},
               {"attribute", "heat"},
               {"than", "above"},
               {"limit", 0.8}}),
         step("wide", "choose", {{"set", "wide"}, {"what", "knots"}, {"rule", "set"}, {"from", "hot"}, {"grow", 1}}),
         step(
             "cold", "choose",
             {{"set", "cold"}, {"what", "knots"}, {"rule", "formula"}, {"rows", formula_rows("chosen", "heat < 0.3")}}),
         step("both", "choose",
              {{"set", "cold"}, {"what", "knots"}, {"rule", "set"}, {"from", "wide"}, {"how", "add"}})});
    CHECK(of_knots<std::uint8_t>(rules, "both", "hot") == Array<std::uint8_t>{0, 0, 0, 0, 1});
    CHECK(of_knots<std::uint8_t>(rules, "both", "wide") == Array<std::uint8_t>{0, 0, 0, 1, 1});
    CHECK(of_knots<std::uint8_t>(rules, "both", "cold") == Array<std::uint8_t>{1, 1, 0, 1, 1});
    // What does not fit or is not there is said.
    CHECK(of_line(2, {step("c", "choose", {{"what", "knots"}, {"rule", "material"}})}).finding("c", "unfit-rule"));
    CHECK(of_line(2, {step("c", "choose", {{"what", "faces"}, {"rule", "all"}})}).finding("c", "wrong-domain"));
    const Tried misspelt = of_line(
        2, {tips(), step("f", "formula", {{"on", "knots"}, {"only", "tipps"}, {"rows", formula_rows("z", "1")}})});
    REQUIRE(misspelt.finding("f", "unknown-set"));
    CHECK(mended(misspelt, "f", "unknown-set").clean("f"));
}

TEST_CASE("only the corners of a set are rounded", "[knots][curves]") {
    const Tried made = tried({step("r", "rectangle", {{"width", 2}, {"height", 1}}), tips(),
                              step("f", "fillet", {{"radius", 0.1}, {"only", "tips"}})});
    const std::vector<Knot>& knots = made.step("f").shape->curves[0].knots;
    REQUIRE(knots.size() == 4);
    for (std::size_t i = 0; i < 4; ++i) CHECK(knots[i].fillet == Approx(i % 2 == 0 ? 0.1 : 0));
}

TEST_CASE("values go along the curve between knots, as straight as their numbers say", "[knots][curves]") {
    const Json ends = step("ends", "formula", {{"on", "knots"}, {"rows", formula_rows("radius", "1 + 2 * heat")}});
    const Tried fine = of_line(1, {ends, step("r", "resample", {{"by", "count"}, {"count", 8}})});
    const auto heat = of_knots<float>(fine, "r", "heat");
    const std::vector<Knot>& knots = fine.step("r").shape->curves[0].knots;
    REQUIRE(heat.size() == 9);
    for (std::size_t i = 0; i < 9; ++i) {
        CHECK(heat[i] == Approx(static_cast<double>(knots[i].at.x) / 2).margin(1e-6));
        CHECK(knots[i].radius == Approx(1 + static_cast<double>(knots[i].at.x)).margin(1e-6));
    }
    const Tried cut = of_line(1, {step("t", "trim", {{"by", "share"}, {"start_share", 0.25}, {"end_share", 0.25}})});
    const auto left = of_knots<float>(cut, "t", "heat");
    CHECK(left.front() == Approx(0.25));
    CHECK(left.back() == Approx(0.75));
    // Whole numbers and sets are those of the nearer knot.
    const Tried whole = of_line(1, {tips(), step("r", "resample", {{"by", "count"}, {"count", 4}})});
    CHECK(of_knots<std::uint8_t>(whole, "r", "tips") == Array<std::uint8_t>{1, 1, 0, 0, 0});
    // A closed curve's last piece leads back to the first knot's value.
    const Tried ring = tried({step("c", "rectangle", {{"width", 1}, {"height", 1}}),
                              step("n", "formula", {{"on", "knots"}, {"rows", formula_rows("number", "index")}}),
                              step("r", "resample", {{"by", "count"}, {"count", 8}})});
    const auto round = of_knots<float>(ring, "r", "number");
    REQUIRE(round.size() == 8);
    CHECK(round[7] == Approx(1.5));
    CHECK(round[1] == Approx(0.5));
}

TEST_CASE("what is swept, turned or filled has the values of its knots", "[knots][sweep]") {
    const Tried swept = of_line(3, {step("s", "sweep", {{"radius", 0.1}, {"caps", "round"}})});
    const auto* heat = swept.mesh("s").attributes.values<float>(Domain::vertex, "heat");
    REQUIRE(heat);
    for (std::size_t v = 0; v < heat->size(); ++v) {
        const double x = std::clamp(static_cast<double>((*swept.mesh("s").positions)[v].x), 0.0, 2.0);
        CHECK((*heat)[v] == Approx(x / 2).margin(1e-5));
    }
    const Json profile = step("profile", "line", {{"from", {1, 0, 0}}, {"to", {1, 0, 2}}, {"pieces", 4}});
    const Json high = step("high", "formula", {{"on", "knots"}, {"rows", formula_rows("heat", "z * 3")}});
    for (const double angle : {360.0, 90.0}) {
        const Tried turned = tried({profile, high, step("l", "lathe", {{"segments", 12}, {"angle", angle}})});
        const auto* z = turned.mesh("l").attributes.values<float>(Domain::vertex, "heat");
        REQUIRE(z);
        for (std::size_t v = 0; v < z->size(); ++v)
            CHECK((*z)[v] == Approx(static_cast<double>((*turned.mesh("l").positions)[v].z) * 3).margin(1e-5));
    }
    const Tried filled =
        tried({step("c", "polygon", {{"radius", 1}, {"sides", 6}}),
               step("n", "formula", {{"on", "knots"}, {"rows", formula_rows("level", "x + 10")}}), step("f", "fill")});
    const auto* level = filled.mesh("f").attributes.values<float>(Domain::vertex, "level");
    REQUIRE(level);
    for (std::size_t i = 0; i < level->size(); ++i)
        CHECK((*level)[i] == Approx(static_cast<double>((*filled.mesh("f").positions)[i].x) + 10));
}

TEST_CASE("copies on knots and along a curve stand as the knots' values say", "[knots][copies]") {
    const Json box = step("b", "box", {{"size", {0.1, 0.1, 0.1}}});
    const auto on_knots = [&](const Json& settings) {
        Json place = step("p", "place_copies", settings);
        place["in"] = {{"shape", "way"}, {"copy", "b"}};
        std::vector<Json> steps{box};
        for (const Json& one : warm_line(4)) steps.push_back(one);
        steps.push_back(tips());
        steps.push_back(step("big", "formula", {{"on", "knots"}, {"rows", formula_rows("size", "1 + heat")}}));
        steps.push_back(step("way", "attribute",
                             {{"attribute", "facing"}, {"on", "knots"}, {"type", "vector"}, {"vector", {0, 1, 0}}}));
        steps.push_back(place);
        return tried(recipe_of(Json(steps)));
    };
    const Tried all = on_knots({{"on", "knots"}});
    REQUIRE(all.step("p").shape->instances.size() == 1);
    const Array<glm::mat4>& places = all.step("p").shape->instances[0].places;
    REQUIRE(places.size() == 5);
    for (std::size_t i = 0; i < 5; ++i) {
        CHECK(glm::length(Vec3(places[i][2])) == Approx(1 + static_cast<double>(i) / 4));
        CHECK(glm::normalize(Vec3(places[i][2])).y == Approx(1));
    }
    CHECK(on_knots({{"on", "knots"}, {"only", "tips"}}).step("p").shape->instances[0].count() == 3);

    std::vector<Json> steps{box};
    for (const Json& one : warm_line(1)) steps.push_back(one);
    Json along = step("a", "along_curve", {{"by", "count"}, {"count", 5}});
    along["in"] = {{"shape", "warm"}, {"copy", "b"}};
    steps.push_back(along);
    const Tried row = tried(recipe_of(Json(steps)));
    const Instances& group = row.step("a").shape->instances[0];
    const auto* heat = group.attributes.values<float>(Domain::instance, "heat");
    REQUIRE(heat);
    for (std::size_t i = 0; i < heat->size(); ++i)
        CHECK((*heat)[i] == Approx(static_cast<double>(group.places[i][3].x) / 2).margin(1e-6));
}

TEST_CASE("points and edges keep their values as knots", "[knots][curves]") {
    const Json hot = step("hot", "formula", {{"on", "vertices"}, {"rows", formula_rows("heat", "x + 2 * y")}});
    const Tried threaded = tried({step("g", "grid"), hot, step("t", "thread_points", {{"order", "given"}})});
    const Tried border = tried({step("g", "grid"), hot, step("t", "curve_from_edges")});
    for (const Tried* made : {&threaded, &border}) {
        const auto heat = of_knots<float>(*made, "t", "heat");
        std::size_t i = 0;
        for (const Curve& curve : made->step("t").shape->curves)
            for (const Knot& knot : curve.knots) CHECK(heat[i++] == Approx(knot.at.x + 2 * knot.at.y).margin(1e-6));
        CHECK(i == heat.size());
    }
    const Attributes carried = columns_of_knots(threaded.step("t").shape->curves);
    CHECK(carried.find(Domain::knot, "NORMAL") == nullptr);
}

TEST_CASE("each knot hands what it carries to the steps inside a loop, those of a set alone", "[knots][loops]") {
    const Json box = step("b", "box", {{"size", {0.1, 0.1, "= 1 + heat"}}});
    const Json kit = {{"bricol", 1},
                      {"dials", Json::array({{{"name", "heat"}, {"value", 9}, {"min", 0}, {"max", 10}}})},
                      {"parts", Json::array({Json{{"name", "one"}, {"steps", Json::array({box})}}})}};
    for (const bool some : {false, true}) {
        INFO(some);
        const Tried made =
            of_line(4, {tips(), step("e", "each", {{"by", "point"}, {"kit", kit}, {"only", some ? "tips" : ""}})});
        REQUIRE(made.clean("e"));
        const auto bounds = box_of(*made.step("e").shape);
        REQUIRE(bounds);
        CHECK(bounds->size().z == Approx(2));  // the last knot's heat is 1
        CHECK(measured(*made.step("e").shape).pieces + measured(*made.step("e").shape).instances >= (some ? 3 : 5));
        // Boxes of heights 1, 1.25, 1.5, 1.75 and 2, or of every second knot.
        CHECK(measured(*made.step("e").shape).volume.value() == Approx(0.01 * (some ? 4.5 : 7.5)).epsilon(1e-5));
    }
}

TEST_CASE("lofted outlines give their points the values of their knots", "[knots][loft]") {
    Json second = step("high", "polygon", {{"radius", 0.5}, {"sides", 6}});
    second["in"] = {{"shape", ""}};
    Json both = step("m", "merge");
    both["in"] = {{"shape", "low1"}, {"with", "high2"}};
    const Tried made =
        tried(recipe_of(Json::array({step("low", "polygon", {{"radius", 1}, {"sides", 6}}),
                                     step("low1", "formula", {{"on", "knots"}, {"rows", formula_rows("level", "x")}}),
                                     second, step("high1", "transform", {{"move", {0, 0, 1}}}),
                                     step("high2", "formula", {{"on", "knots"}, {"rows", formula_rows("level", "10")}}),
                                     both, step("l", "loft")})));
    REQUIRE(made.clean("l"));
    const auto* level = made.mesh("l").attributes.values<float>(Domain::vertex, "level");
    REQUIRE(level);
    std::size_t seen = 0;
    for (std::size_t v = 0; v < level->size(); ++v) {
        const Vec3& p = (*made.mesh("l").positions)[v];
        if (p.z != 1 && p.z != 0) continue;
        CHECK((*level)[v] == Approx(p.z == 1 ? 10 : static_cast<double>(p.x)));
        ++seen;
    }
    CHECK(seen >= 12);
}

TEST_CASE("jitter and the mixer keep to a set of knots", "[knots]") {
    const Json blocks = Json::array({{{"id", "p"}, {"block", "read"}, {"what", "position"}},
                                     {{"id", "v"}, {"block", "vector"}, {"x", 0}, {"y", 0}, {"z", 3}},
                                     {{"id", "s"}, {"block", "add"}, {"a", "p"}, {"b", "v"}},
                                     {{"id", "o"}, {"block", "write"}, {"what", "position"}, {"value", "s"}}});
    const Tried made =
        of_line(4, {tips(), step("j", "jitter", {{"only", "tips"}, {"by", {0, 0.2, 0}}, {"hold_ends", false}}),
                    step("x", "mixer", {{"on", "knots"}, {"only", "tips"}, {"blocks", blocks}})});
    REQUIRE(made.clean("j"));
    const std::vector<Knot>&before = made.step("tips").shape->curves[0].knots,
          &after = made.step("j").shape->curves[0].knots;
    for (std::size_t i = 0; i < 5; ++i) CHECK((before[i].at != after[i].at) == (i % 2 == 0));
    REQUIRE(made.clean("x"));
    for (std::size_t i = 0; i < 5; ++i)
        CHECK(made.step("x").shape->curves[0].knots[i].at.z == Approx(i % 2 == 0 ? 3 : 0));
}

TEST_CASE("the numbers on knots are read by formulas of other steps and in the table", "[knots][made]") {
    const Tried made =
        of_line(4, {step("box", "box", {{"size", {"= warm.made.most.heat", "= warm.made.mean.heat", 1}}})});
    CHECK(made.clean("box"));
    CHECK(made.mesh("box").positions->at(0).x == Approx(-0.5));
    CHECK(std::abs(made.mesh("box").positions->at(0).y) == Approx(0.25));
    const ElementValues values(made.step("warm").shape, Domain::knot);
    REQUIRE(values.rows().size() == 5);
    std::map<std::string, double> last;
    for (std::size_t c = 0; c < values.columns(); ++c) last[values.name(c)] = values.value(4, c);
    CHECK(last.at("x") == Approx(2));
    CHECK(last.at("heat") == Approx(1));
    CHECK(last.at("radius") == Approx(1));
    CHECK(last.at("curve") == 0);
    const Tried chosen = of_line(4, {tips()});
    CHECK(ElementValues(chosen.step("tips").shape, Domain::knot, "tips").rows().size() == 3);
    CHECK_FALSE(ElementValues(chosen.step("tips").shape, Domain::knot, "tops").has_set());
    const auto sets = sets_on(*chosen.step("tips").shape);
    REQUIRE(sets.size() == 1);
    CHECK(sets[0].domain == Domain::knot);
    CHECK(sets[0].size == 3);
}

TEST_CASE("where two curves are joined the knot carries what both ends did", "[knots][curves]") {
    for (const bool back : {false, true}) {
        INFO(back);
        Json second = step("b", "line", {{"from", {1, 0, 0}}, {"to", {2, 0, 0}}});
        if (back) second = step("b", "line", {{"from", {2, 0, 0}}, {"to", {1, 0, 0}}});
        second["in"] = {{"shape", ""}};
        const Json inside = Json::array({{{"target", "level"}, {"formula", "6"}}});
        Json both = step("m", "merge");
        both["in"] = {{"shape", "a2"}, {"with", "b2"}};
        const Tried made = tried(recipe_of(Json::array(
            {step("a", "line", {{"from", {0, 0, 0}}, {"to", {1, 0, 0}}}),
             step(
                 "a1", "choose",
                 {{"set", "end"}, {"what", "knots"}, {"rule", "formula"}, {"rows", formula_rows("chosen", "x > 0.5")}}),
             step("a2", "formula", {{"on", "knots"}, {"rows", formula_rows("level", "2")}}), second,
             step("b2", "formula", {{"on", "knots"}, {"rows", inside}}), both, step("j", "join")})));
        REQUIRE(made.step("j").shape->curves.size() == 1);
        const auto level = of_knots<float>(made, "j", "level");
        const auto end = of_knots<std::uint8_t>(made, "j", "end");
        REQUIRE(level.size() == 3);
        CHECK(level[1] == Approx(4));
        CHECK(level[0] + level[2] == Approx(8));
        CHECK(end == Array<std::uint8_t>{0, 1, 0});
    }
}

TEST_CASE("a blend of curves keeps to a set of knots", "[knots]") {
    Json high = step("h", "transform", {{"move", {0, 0, 2}}});
    high["in"] = {{"shape", "tips"}};
    Json blend = step("b", "blend", {{"amount", 0.5}, {"only", "tips"}});
    blend["in"] = {{"shape", "tips"}, {"other", "h"}};
    const Tried made = of_line(4, {tips(), high, blend});
    REQUIRE(made.clean("b"));
    for (std::size_t i = 0; i < 5; ++i)
        CHECK(made.step("b").shape->curves[0].knots[i].at.z == Approx(i % 2 == 0 ? 1 : 0));
}

TEST_CASE("values of knots that end are told", "[knots][findings]") {
    const Tried offset = of_line(2, {step("o", "offset_curve", {{"distance", 0.1}})});
    REQUIRE(offset.finding("o", "values-end"));
    CHECK(offset.finding("o", "values-end")->text.find("“heat”") != std::string::npos);
    const Tried kept = of_line(2, {step("s", "sweep")});
    CHECK(kept.finding("s", "values-end") == nullptr);
}

TEST_CASE("rows of knots with other types and names come together in one column", "[knots]") {
    const std::vector<KnotValues> rows{{{"a", 1.5f}},
                                       {{"a", std::uint8_t(1)}, {"COLOR_0", Vec4(0.5f)}},
                                       {{"b", Vec2(1, 2)}},
                                       {{"a", std::int32_t(-3)}, {"b", 4.0f}}};
    const Attributes all = columns_of(rows, Domain::knot);
    CHECK(*all.values<float>(Domain::knot, "a") == Array<float>{1.5f, 1, 0, -3});
    CHECK(*all.values<Vec4>(Domain::knot, "COLOR_0") == Array<Vec4>{Vec4(1), Vec4(0.5f), Vec4(1), Vec4(1)});
    CHECK(*all.values<Vec2>(Domain::knot, "b") == Array<Vec2>{Vec2(0), Vec2(0), Vec2(1, 2), Vec2(4)});
    const KnotValues middle = blended(rows[1], {{"c", 1.0f}}, 0.25);
    REQUIRE(middle.size() == 3);
    CHECK(middle[0].value == decltype(KnotValue::value)(std::uint8_t(1)));
    CHECK(std::get<Vec4>(middle[1].value).x == Approx(0.625));  // towards white, which a knot without a colour has
    CHECK(std::get<float>(middle[2].value) == Approx(0.25));
}
