// SPDX-License-Identifier: GPL-3.0-or-later
// Steps that move points, plain curves and value blocks, each setting against a closed formula.
#include <catch2/catch.hpp>
#include <numbers>

#include "core/kernels/flatten.h"
#include "core/kernels/nudge.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

const Json top_points =
    step("top", "choose",
         {{"set", "top"}, {"what", "vertices"}, {"rule", "box"}, {"low", {-2, -2, 0.9}}, {"high", {2, 2, 2}}});

Box box_after(std::initializer_list<Json> steps) {
    const Tried t = tried(steps);
    REQUIRE(t.part().measures.box);
    CHECK_FALSE(t.made.has_errors());
    return *t.part().measures.box;
}

const Curve& only_curve(const Tried& t, const std::string& id) {
    REQUIRE(t.step(id).shape->curves.size() == 1);
    return t.step(id).shape->curves[0];
}

}  // namespace

TEST_CASE("shear: angle, axis, direction, limits and set", "[steps]") {
    const double lean = std::tan(30 * pi / 180);
    Box box = box_after({cube, step("s", "shear", {{"angle", 30}})});
    CHECK(box.high.x == Approx(0.5 + lean));
    CHECK(box.low.x == Approx(-0.5));
    CHECK(box.size().z == Approx(1));
    CHECK(*tried({cube, step("s", "shear", {{"angle", 30}})}).part().measures.volume == Approx(1));
    box = box_after({cube, step("s", "shear", {{"angle", 30}, {"toward", "y"}})});
    CHECK(box.high.y == Approx(0.5 + lean));
    box = box_after({cube, step("s", "shear", {{"angle", 30}, {"axis", "x"}, {"toward", "z"}})});
    CHECK(box.high.z == Approx(1 + lean));
    box = box_after({cube, step("s", "shear", {{"angle", 30}, {"limits", "given"}, {"low", 0}, {"high", 0.5}})});
    CHECK(box.high.x == Approx(0.5 + lean / 2));
    box = box_after({cube, top_points, step("s", "shear", {{"angle", 30}, {"only", "top"}})});
    CHECK(box.high.x == Approx(0.5 + lean));
}

TEST_CASE("taper: both factors, the axis, the ramps and the line it keeps", "[steps]") {
    const auto volume = [](const Json& settings) {
        const Tried t = tried({step("a", "box", {{"size", {1, 1, 1}}, {"along_z", 64}}), step("t", "taper", settings)});
        REQUIRE(t.part().measures.volume);
        return *t.part().measures.volume;
    };
    // The frustum of a pyramid: h/3 (A + a + sqrt(A a)); a wedge for one factor: the mean of both ends.
    CHECK(volume({{"first", 0.5}, {"second", 0.5}}) == Approx((1 + 0.25 + 0.5) / 3));
    CHECK(volume({{"first", 0.5}, {"second", 1}}) == Approx(0.75));
    CHECK(volume({{"first", 0.5}, {"second", 1}, {"axis", "x"}}) == Approx(0.75));
    // Eased by 3t² - 2t³, whose mean over 0..1 is one half, as that of the straight ramp is.
    CHECK(volume({{"first", 0.5}, {"second", 1}, {"ramp", "eased"}}) == Approx(0.75).epsilon(1e-3));
    CHECK(volume({{"first", 1}, {"second", 1}, {"ramp", "bulge"}, {"bulge", 0.5}}) > 1.2);
    const Box off = box_after(
        {cube, step("t", "taper", {{"first", 0.5}, {"second", 0.5}, {"about", "point"}, {"centre", {-0.5, -0.5, 0}}})});
    CHECK(off.low.x == Approx(-0.5));
    CHECK(off.high.x == Approx(0.5));
}

TEST_CASE("push: amount, way, weight and set", "[steps]") {
    // Corners of a cube move along the diagonal of their three normals.
    const Box out = box_after({cube, step("p", "push", {{"amount", 0.3}})});
    CHECK(out.high.x == Approx(0.5 + 0.3 / std::sqrt(3.0)));
    const Box up =
        box_after({cube, step("p", "push", {{"amount", 0.3}, {"along", "direction"}, {"direction", {0, 0, 5}}})});
    CHECK(up.low.z == Approx(0.3));
    CHECK(up.size().z == Approx(1));
    const Box away =
        box_after({cube, step("p", "push", {{"amount", 1}, {"along", "centre"}, {"centre", {0, 0, 0.5}}})});
    CHECK(away.high.x == Approx(0.5 + 1 / std::sqrt(3.0)));
    const Json half = step("w", "attribute", {{"attribute", "w"}, {"value", 0.5}});
    const Box less =
        box_after({cube, half, step("p", "push", {{"amount", 0.3}, {"along", "direction"}, {"weight", "w"}})});
    CHECK(less.low.z == Approx(0.15));
    const Box some =
        box_after({cube, top_points, step("p", "push", {{"amount", 0.3}, {"along", "direction"}, {"only", "top"}})});
    CHECK(some.low.z == Approx(0).margin(1e-7));
    CHECK(some.high.z == Approx(1.3));
}

TEST_CASE("jitter: stays within its amounts, holds an axis, follows its seed", "[steps]") {
    const Json grid = step("g", "grid", {{"across", 20}, {"deep", 20}});
    const auto moved = [&](const Json& settings) { return tried({grid, step("j", "jitter", settings)}).mesh("j"); };
    const Mesh plain = tried({grid}).mesh("g"), one = moved({{"by", {0.01, 0, 0.02}}});
    double widest = 0, highest = 0;
    for (std::size_t v = 0; v < plain.vertex_count(); ++v) {
        const DVec3 by = DVec3((*one.positions)[v]) - DVec3((*plain.positions)[v]);
        widest = std::max(widest, std::abs(by.x)), highest = std::max(highest, std::abs(by.z));
        REQUIRE(std::abs(by.y) < 1e-7);
    }
    CHECK((widest > 0.008 && widest <= 0.01 + 1e-6));
    CHECK((highest > 0.016 && highest <= 0.02 + 1e-6));
    CHECK(*moved({{"seed", 2}}).positions != *moved({{"seed", 1}}).positions);
    CHECK(*moved({{"seed", 1}}).positions == *moved({{"seed", 1}}).positions);
    // Ends of an open curve stay while they are held.
    const auto ends = [&](bool hold) {
        const Tried t = tried({step("l", "line", {{"pieces", 8}}), step("j", "jitter", {{"hold_ends", hold}})});
        const Tried before = tried({step("l", "line", {{"pieces", 8}})});
        return glm::distance(only_curve(t, "j").knots.front().at, only_curve(before, "l").knots.front().at);
    };
    CHECK(ends(true) == 0);
    CHECK(ends(false) > 0);
}

TEST_CASE("feather: the mean stays between its values, strength and rounds widen it, a set keeps its soft form",
          "[steps]") {
    const Json grid = step("g", "grid", {{"across", 10}, {"deep", 1}});
    const Json weight =
        step("w", "attribute",
             {{"attribute", "w"}, {"by", "formula"}, {"rows", Json::array({{{"target", "w"}, {"formula", "x > 0"}}})}});
    const auto spread = [&](const Json& settings) {
        Json all = {{"attribute", "w"}};
        for (const auto& [key, value] : settings.items()) all[key] = value;
        const Tried t = tried({grid, weight, step("f", "feather", all)});
        const auto* w = t.mesh("f").attributes.values<float>(Domain::vertex, settings.value("as", "w"));
        REQUIRE(w);
        std::size_t between = 0;
        for (const float v : *w) {
            REQUIRE((v >= 0 && v <= 1));
            between += v > 0.01f && v < 0.99f;
        }
        return between;
    };
    CHECK(spread({{"rounds", 0}}) == 0);
    CHECK(spread({{"rounds", 2}}) > 0);
    CHECK(spread({{"rounds", 12}}) > spread({{"rounds", 2}}));
    CHECK(spread({{"rounds", 2}, {"strength", 0}}) == 0);
    CHECK(spread({{"rounds", 2}, {"as", "soft"}}) == spread({{"rounds", 2}}));
}

TEST_CASE("lattice: a corner point moves the shape's corner, straight or smooth, and its counts", "[steps]") {
    const Json lift = Json::array({{{"point", {1, 1, 1}}, {"move", {0, 0, 0.5}}}});
    const Box box = box_after({cube, step("l", "lattice", {{"points", lift}, {"between", "straight"}})});
    CHECK(box.high.z == Approx(1.5));
    CHECK(box.low.z == Approx(0).margin(1e-7));
    // Trilinear: the middle of the top goes up by a quarter.
    const Tried fine = tried({step("a", "box", {{"size", {1, 1, 1}}, {"along_x", 2}, {"along_y", 2}}),
                              step("l", "lattice", {{"points", lift}, {"between", "straight"}})});
    bool found = false;
    for (const Vec3& p : *fine.mesh("l").positions)
        if (std::abs(p.x) < 1e-6f && std::abs(p.y) < 1e-6f && p.z > 0.9f) found = std::abs(p.z - 1.125f) < 1e-5f;
    CHECK(found);
    // With three points along x the middle one is nobody's corner: the box's corners stay.
    const Json bulge = Json::array({{{"point", {1, 0, 0}}, {"move", {0, -1, 0}}}});
    const Box still =
        box_after({cube, step("l", "lattice", {{"counts", {3, 2, 2}}, {"points", bulge}, {"between", "straight"}})});
    CHECK(still.low.y == Approx(-0.5));
}

TEST_CASE("nudge: moves, turns and sizes what is picked, softly or not", "[steps]") {
    const auto nudged = [](const Json& settings, const Json& move) {
        Json all = {{"places", Json::array({{{"face", {0, 0, 1}}, {"facing", {0, 0, 1}}, {"move", move}}})}};
        for (const auto& [key, value] : settings.items()) all[key] = value;
        return box_after({cube, step("n", "nudge", all)});
    };
    CHECK(nudged(Json::object(), {0, 0, 0.25}).high.z == Approx(1.25));
    CHECK(nudged({{"size", {2, 2, 1}}}, {0, 0, 0}).high.x == Approx(1));
    CHECK(nudged({{"turn", {0, 0, 45}}}, {0, 0, 0}).high.x == Approx(std::sqrt(0.5)));
    // A soft radius takes the bottom along a little.
    CHECK(nudged({{"soft", 3}}, {0, 0, 0.25}).low.z > 0.01);
}

TEST_CASE("nudge: a soft turn bends a stretch in a bow, and what lies beyond its reach stays", "[steps]") {
    // A row of points up a trunk, 10 cm apart; the top one picked and turned about a place at its foot.
    Array<Vec3> points;
    for (int i = 0; i <= 20; ++i) points.emplace_back(0, 0, 0.1f * static_cast<float>(i));
    const Pull top{20, {0, 0, 0}};
    NudgeOptions options;
    options.turn = {0, 30, 0};
    options.soft = 1.5;
    const Array<Vec3> bent = nudged(points, std::span(&top, 1), options);
    for (std::size_t i = 0; i < points.size(); ++i) {
        // Turned by its own share about the foot: the height above it stays, the angle is smoothstep of the distance.
        const double z = 0.1 * static_cast<double>(i), u = std::max(0.0, 1 - (2 - z) / 1.5),
                     angle = 30 * u * u * (3 - 2 * u) * pi / 180;
        CHECK(bent[i].x == Approx(z * std::sin(angle)).margin(1e-6));
        CHECK(bent[i].z == Approx(z * std::cos(angle)).margin(1e-6));
    }
    CHECK(soft_share(0, 1) == 1);
    CHECK(soft_share(0.5, 1) == Approx(0.5));
    CHECK(soft_share(1, 1) == 0);
    CHECK(soft_share(0.2, 0) == 0);
    // The same about a place, in the step.
    const Json box = step("b", "box", {{"size", {0.2, 0.2, 2}}, {"along_z", 16}});
    const Json lid = Json::array({{{"face", {0, 0, 2}}, {"facing", {0, 0, 1}}, {"move", {0, 0, 0}}}});
    const Box about_foot = box_after(
        {box, step("n", "nudge", {{"places", lid}, {"turn", {0, 30, 0}}, {"about", "place"}, {"place", {0, 0, 0}}})});
    CHECK(about_foot.high.x == Approx(2 * std::sin(pi / 6) + 0.1 * std::cos(pi / 6)).epsilon(1e-5));
    CHECK(about_foot.low.z == Approx(0).margin(1e-6));
}

TEST_CASE("ellipse: sizes, place, plane and segments", "[steps]") {
    const Tried t =
        tried({step("e", "ellipse", {{"width", 2}, {"height", 1}, {"across", 3}, {"up", 4}, {"segments", 256}})});
    const Box box = *t.part().measures.box;
    CHECK(box.centre().x == Approx(3));
    CHECK(box.centre().z == Approx(4));
    CHECK(box.size().x == Approx(2).epsilon(1e-3));
    CHECK(box.size().z == Approx(1).epsilon(1e-3));
    // Ramanujan's second approximation of the perimeter, good to 1e-9 here.
    const double a = 1, b = 0.5, h = (a - b) * (a - b) / ((a + b) * (a + b));
    const double perimeter = pi * (a + b) * (1 + 3 * h / (10 + std::sqrt(4 - 3 * h)));
    CHECK(length_of(flatten(only_curve(t, "e"))) == Approx(perimeter).epsilon(1e-3));
    CHECK(flatten(only_curve(tried({step("e", "ellipse", {{"segments", 8}})}), "e")).points.size() == 8);
    CHECK(tried({step("e", "ellipse", {{"plane", "top"}})}).part().measures.box->size().z == Approx(0).margin(1e-7));
}

TEST_CASE("nurbs_curve: degree, closing, weights and pieces", "[steps]") {
    const Json square = Json::array({{0, 0, 0}, {1, 0, 0}, {1, 1, 0}, {0, 1, 0}});
    const auto curve = [&](const Json& settings) {
        Json all = {{"points", square}};
        for (const auto& [key, value] : settings.items()) all[key] = value;
        return tried({step("n", "nurbs_curve", all)});
    };
    // Degree 1 is the control polygon; a higher one reaches its ends and stays inside its hull.
    CHECK(length_of(flatten(only_curve(curve({{"degree", 1}}), "n"))) == Approx(3));
    const Tried cubic = curve({{"pieces", 64}});
    CHECK(glm::distance(only_curve(cubic, "n").knots.back().at, Vec3(0, 1, 0)) < 1e-6f);
    CHECK(length_of(flatten(only_curve(cubic, "n"))) < 3);
    // A Bézier cubic at its middle: (P0 + 3 P1 + 3 P2 + P3) / 8 lies at x = 6/8.
    CHECK(cubic.part().measures.box->high.x == Approx(0.75).epsilon(1e-3));
    CHECK(only_curve(curve({{"closed", true}}), "n").closed);
    const Json heavy = Json::array({{1, 0, 0}, {9, 0, 0}, {9, 0, 0}, {1, 0, 0}});
    CHECK(curve({{"weights", heavy}, {"spans", 8}}).part().measures.box->high.x > 0.9);
}

TEST_CASE("offset_curve: an even distance, mitred or round, with or without its source", "[steps]") {
    const Json square = step("r", "rectangle", {{"width", 1}, {"height", 1}});
    const auto length = [&](const Json& settings) {
        const Tried t = tried({square, step("o", "offset_curve", settings)});
        double sum = 0;
        for (const Curve& c : t.step("o").shape->curves) sum += length_of(flatten(c));
        return sum;
    };
    CHECK(length({{"distance", 0.1}}) == Approx(4.8));
    CHECK(length({{"distance", -0.1}}) == Approx(3.2));
    CHECK(length({{"distance", 0.1}, {"corners", "round"}}) == Approx(4 + 2 * pi * 0.1).epsilon(2e-3));
    CHECK(length({{"distance", 0.1}, {"keep", true}}) == Approx(8.8));
}

TEST_CASE("switch: chooses an input by number, and starts over when asked", "[steps]") {
    const auto faces = [](const Json& settings) {
        Json pick = step("s", "switch", settings);
        pick["in"] = {{"shape", "a"}, {"second", "b"}};
        const Tried t = tried({cube, step("b", "geodesic_sphere", {{"frequency", 1}}), pick});
        return t.step("s").shape->mesh.face_count();
    };
    CHECK(faces({{"which", 0}}) == 6);
    CHECK(faces({{"which", 1}}) == 20);
    CHECK(faces({{"which", 2}, {"wrap", true}}) == 6);
}

TEST_CASE("pick_number: gives the number at its place, within its entries", "[steps]") {
    const auto size = [](const Json& settings) {
        return box_after({step("n", "pick_number", settings), step("a", "box", {{"size", {"= n.value", 1, 1}}})})
            .size()
            .x;
    };
    CHECK(size({{"which", 0}, {"a", 2}, {"b", 3}}) == Approx(2));
    CHECK(size({{"which", 1}, {"a", 2}, {"b", 3}}) == Approx(3));
    CHECK(size({{"which", 2}, {"count", 3}, {"c", 4}}) == Approx(4));
    CHECK(size({{"which", 5}, {"count", 2}, {"a", 2}, {"b", 3}}) == Approx(3));  // held at the last entry
}

TEST_CASE("real_geometry: copies become faces of their own, as many and as large", "[steps]") {
    const Tried t =
        tried({cube, step("r", "array", {{"count", 5}, {"offset", {2, 0, 0}}}), step("g", "real_geometry")});
    CHECK(t.step("r").shape->instances.size() == 1);
    CHECK(t.step("g").shape->instances.empty());
    CHECK(t.mesh("g").face_count() == 30);
    CHECK(*t.part().measures.volume == Approx(5));
    CHECK(t.part().measures.box->size().x == Approx(9));
}
