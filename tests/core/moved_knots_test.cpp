// SPDX-License-Identifier: GPL-3.0-or-later
// Steps that move points, on a set of the knots of curves or of copies.
#include <catch2/catch.hpp>
#include <functional>

#include "tests/support/warm_line.h"

using namespace bricol;
using namespace bricol::test;

TEST_CASE("steps that move points move the knots of a set and no others", "[knots][deform]") {
    // What each does to a point at (x, 0, 0) of the two metres, in closed form.
    struct Case {
        std::string step;
        Json settings;
        std::function<DVec3(double)> goes;
    };
    const Json half_turn = {{"axis", "x"}, {"toward", "z"}, {"angle", 90}};
    const double radius = 2 / glm::radians(90.0);
    const std::vector<Case> cases{
        {"transform", {{"move", {0, 0, 1}}, {"turn", {0, 0, 90}}}, [](double x) { return DVec3(0, x, 1); }},
        {"transform",
         {{"whole", 3}, {"about", "point"}, {"pivot", {1, 0, 0}}},
         [](double x) { return DVec3(1 + 3 * (x - 1), 0, 0); }},
        {"bend", half_turn,
         [&](double x) { return DVec3(radius * std::sin(x / radius), 0, radius * (1 - std::cos(x / radius))); }},
        {"shear", {{"axis", "x"}, {"toward", "y"}, {"angle", 45}}, [](double x) { return DVec3(x, x, 0); }},
        {"stretch",
         {{"axis", "x"}, {"factor", 2}, {"keep_volume", false}},
         [](double x) { return DVec3(2 * x, 0, 0); }},
        {"lattice",
         {{"points", Json::parse(R"([{"point": [1, 0, 0], "move": [0, 0, 4]}, {"point": [1, 1, 0],
            "move": [0, 0, 4]}, {"point": [1, 0, 1], "move": [0, 0, 4]}, {"point": [1, 1, 1], "move": [0, 0, 4]}])")}},
         [](double x) { return DVec3(x, 0, 2 * x); }}};
    for (const Case& one : cases) {
        INFO(one.step << one.settings.dump());
        Json settings = one.settings;
        settings["only"] = "tips";
        const Tried made = of_line(4, {tips(), step("d", one.step, settings)});
        REQUIRE(made.clean("d"));
        const std::vector<Knot>& knots = made.step("d").shape->curves[0].knots;
        for (std::size_t i = 0; i < 5; ++i) {
            const double x = static_cast<double>(i) / 2;
            CHECK(glm::distance(DVec3(knots[i].at), i % 2 == 0 ? one.goes(x) : DVec3(x, 0, 0)) < 1e-6);
        }
    }
}

TEST_CASE("knots of a set are led onto a surface, along a path and over ground", "[knots][deform]") {
    Json ground = step("ground", "grid", {{"width", 10}, {"depth", 10}});
    ground["in"] = {{"shape", ""}};
    const auto height = [](const Tried& made, std::size_t i) { return made.step("d").shape->curves[0].knots[i].at.z; };
    const auto lifted = step("up", "transform", {{"move", {0, 0, 3}}});
    Json project = step("d", "project_onto", {{"by", "nearest"}, {"only", "tips"}});
    project["in"] = {{"shape", "up"}, {"onto", "ground"}};
    const Tried onto = of_line(4, {tips(), lifted, ground, project});
    REQUIRE(onto.clean("d"));
    for (std::size_t i = 0; i < 5; ++i) CHECK(height(onto, i) == Approx(i % 2 == 0 ? 0 : 3));
    // By what knots carry: a share of the way.
    project["only"] = "";
    project["weight"] = "heat";
    const Tried share = of_line(4, {lifted, ground, project});
    REQUIRE(share.clean("d"));
    for (std::size_t i = 0; i < 5; ++i) CHECK(height(share, i) == Approx(3 - 3 * static_cast<double>(i) / 4));

    Json path = step("path", "line", {{"from", {0, 0, 5}}, {"to", {0, 8, 5}}});
    path["in"] = {{"shape", ""}};
    Json follow = step("d", "follow_curve", {{"axis", "x"}, {"only", "tips"}});
    follow["in"] = {{"shape", "tips"}, {"path", "path"}};
    const Tried led = of_line(4, {tips(), path, follow});
    REQUIRE(led.step("d").shape);
    for (std::size_t i = 0; i < 5; ++i) {
        const auto x = static_cast<float>(i) / 2;
        CHECK(glm::distance(led.step("d").shape->curves[0].knots[i].at, i % 2 == 0 ? Vec3(0, x, 5) : Vec3(x, 0, 0)) <
              1e-5f);
    }
    path["from"] = {0, 0, 0};
    path["to"] = {0, 8, 0};
    Json lay = step("d", "alignment", {{"axis", "x"}, {"only", "tips"}});
    lay["in"] = {{"shape", "tips"}, {"plan", "path"}};
    const Tried laid = of_line(4, {tips(), path, lay});
    REQUIRE(laid.step("d").shape);
    for (std::size_t i = 0; i < 5; ++i) {
        const auto x = static_cast<float>(i) / 2;
        CHECK(glm::distance(laid.step("d").shape->curves[0].knots[i].at, i % 2 == 0 ? Vec3(0, x, 0) : Vec3(x, 0, 0)) <
              1e-5f);
    }
}

TEST_CASE("what carries no such set stays, and is told", "[knots][deform][findings]") {
    Json box = step("box", "box");
    box["in"] = {{"shape", ""}};
    Json both = step("both", "merge");
    both["in"] = {{"shape", "tips"}, {"with", "box"}};
    const Json move = {{"only", "tips"}, {"move", {0, 0, 9}}};
    for (const std::string moved : {"transform", "jitter", "project_onto"}) {
        INFO(moved);
        Json last = step("d", moved, {{"only", "tips"}});
        if (moved == "transform") last["move"] = {0, 0, 9};
        if (moved == "project_onto") last["in"] = {{"shape", "both"}, {"onto", "box"}};
        const Tried made = of_line(4, {tips(), box, both, last});
        REQUIRE(made.finding("d", "mesh-stays"));
        REQUIRE(made.step("d").shape);
        CHECK(*made.step("d").shape->mesh.positions == *made.step("both").shape->mesh.positions);
        if (moved == "transform") CHECK(made.step("d").shape->curves[0].knots[2].at == Vec3(1, 0, 9));
    }
    // Chosen on neither, or nobody chosen: said once, and nothing moves.
    const Tried unknown = of_line(4, {tips(), box, both, step("d", "transform", {{"only", "nobody"}})});
    CHECK(unknown.finding("d", "unknown-set"));
    CHECK(unknown.step("d").findings.size() == 1);
    CHECK(*unknown.step("d").shape->mesh.positions == *unknown.step("both").shape->mesh.positions);
    CHECK(unknown.step("d").shape->curves[0].knots[2].at == Vec3(1, 0, 0));
    const Json none =
        step("tips", "choose",
             {{"set", "tips"}, {"what", "knots"}, {"rule", "formula"}, {"rows", formula_rows("chosen", "x > 99")}});
    const Tried empty = of_line(4, {none, step("d", "transform", move)});
    REQUIRE(empty.finding("d", "empty-set"));
    CHECK(empty.finding("d", "empty-set")->text.find("has no knots here") != std::string::npos);
    CHECK(empty.step("d").shape->curves[0].knots[2].at == Vec3(1, 0, 0));
}

TEST_CASE("copies of a set are moved alone", "[copies][deform]") {
    Json peg = step("peg", "box");
    peg["in"] = {{"shape", ""}};
    Json place = step("place", "place_copies", {{"on", "knots"}});
    place["in"] = {{"shape", "warm"}, {"copy", "peg"}};
    const Json odd = step("odd", "choose", {{"set", "odd"}, {"what", "instances"}, {"rule", "nth"}, {"n", 2}});
    const Tried made = of_line(
        4, {peg, place, odd, step("d", "transform", {{"only", "odd"}, {"turn", {0, 0, 90}}, {"about", "origin"}})});
    REQUIRE(made.step("d").shape);
    REQUIRE(made.step("d").shape->instances.size() == 1);
    const auto& places = made.step("d").shape->instances[0].places;
    REQUIRE(places.size() == 5);
    for (std::size_t i = 0; i < 5; ++i) {
        const auto x = static_cast<float>(i) / 2;
        CHECK(glm::distance(Vec3(places[i][3]), i % 2 == 0 ? Vec3(0, x, 0) : Vec3(x, 0, 0)) < 1e-6f);
        CHECK(glm::distance(Vec3(places[i][0]), i % 2 == 0 ? Vec3(0, 1, 0) : Vec3(1, 0, 0)) < 1e-6f);
    }
}

TEST_CASE("a step that does not work on a set of knots says so", "[knots][findings]") {
    Json box = step("box", "box");
    box["in"] = {{"shape", ""}};
    Json both = step("both", "merge");
    both["in"] = {{"shape", "tips"}, {"with", "box"}};
    const Tried made = of_line(2, {tips(), box, both, step("t", "smooth", {{"only", "tips"}})});
    REQUIRE(made.finding("t", "unknown-set"));
    CHECK(made.finding("t", "unknown-set")->text.find("“tips” is a set of knots") != std::string::npos);
}
