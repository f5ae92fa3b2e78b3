// SPDX-License-Identifier: GPL-3.0-or-later
// Curves by formula, against lengths and curvatures known in closed form.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>
#include <tbb/global_control.h>

#include "core/kernels/cubic.h"
#include "core/kernels/curve_edit.h"
#include "core/kernels/transform.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

Tried law(std::initializer_list<std::pair<const char*, const char*>> lines, const Json& settings = Json::object()) {
    Json all{{"rows", rows(lines)}};
    all.update(settings);
    return tried({step("c", "formula_curve", all)});
}

const Curve& curve_of(const Tried& tried) {
    REQUIRE(tried.clean("c"));
    REQUIRE(tried.step("c").shape->curves.size() == 1);
    return tried.step("c").shape->curves[0];
}

/// Curvature in the middle of a span: |P' × P''| / |P'|³.
double curvature(const Curve& curve, std::size_t span) {
    const Knot &a = curve.knots[span], &b = curve.knots[span + 1];
    const DVec3 p0(a.at), p1 = p0 + DVec3(a.out), p3(b.at), p2 = p3 + DVec3(b.in);
    const DVec3 first = 0.75 * ((p1 - p0) + 2.0 * (p2 - p1) + (p3 - p2));
    const DVec3 second = 3.0 * ((p2 - 2.0 * p1 + p0) + (p3 - 2.0 * p2 + p1));
    return glm::length(glm::cross(first, second)) / std::pow(glm::length(first), 3);
}

}  // namespace

TEST_CASE("a circle, an involute and a spiral by formula are as long as they should be", "[formula_curve]") {
    // Circle: 2 π r.
    const Tried circle =
        law({{"x", "0.3 * cos(360 * t)"}, {"y", "0.3 * sin(360 * t)"}}, {{"closed", true}, {"pieces", 48}});
    CHECK(curve_of(circle).closed);
    CHECK(curve_of(circle).knots.size() == 48);
    CHECK(length_of(curve_of(circle)) == Approx(2 * pi * 0.3).epsilon(1e-5));
    // In the middle of a span of θ a cubic with a circle's slopes is flatter by θ²/24: 7e-4 at 7.5°.
    for (std::size_t k = 0; k + 1 < 48; ++k) CHECK(curvature(curve_of(circle), k) == Approx(1 / 0.3).epsilon(2e-3));
    // Involute of a circle of radius r unwound by φ: r φ² / 2; its curvature 1 / (r φ).
    const Tried involute =
        law({{"_a", "t * 180 / pi"}, {"x", "0.1 * (cos(_a) + t * sin(_a))"}, {"y", "0.1 * (sin(_a) - t * cos(_a))"}},
            {{"to", 6}, {"pieces", 120}});
    CHECK(length_of(curve_of(involute)) == Approx(0.1 * 6 * 6 / 2).epsilon(1e-5));
    CHECK(curvature(curve_of(involute), 80) == Approx(1 / (0.1 * 6 * 80.5 / 120)).epsilon(2e-3));
    // Spiral r = a φ of Archimedes: a/2 (φ √(1 + φ²) + arsinh φ).
    const double turns = 3, end = 2 * pi * turns;
    const Tried spiral = law({{"distance", "0.02 * t"}, {"angle", "t * 180 / pi"}, {"height", "0.5"}},
                             {{"to", "= 6 * pi"}, {"pieces", 200}});
    CHECK(length_of(curve_of(spiral)) ==
          Approx(0.02 / 2 * (end * std::sqrt(1 + end * end) + std::asinh(end))).epsilon(1e-5));
    CHECK(box_of(*spiral.step("c").shape)->low.z == Approx(0.5));
    // Helix: √((2 π r)² + pitch²) a turn.
    const Tried helix =
        law({{"distance", "0.2"}, {"angle", "360 * t"}, {"height", "0.1 * t"}}, {{"to", 4}, {"pieces", 160}});
    CHECK(length_of(curve_of(helix)) == Approx(4 * std::hypot(2 * pi * 0.2, 0.1)).epsilon(1e-5));
    // Cycloid: 8 r an arch; it ends in cusps, where its slope is nothing.
    const Tried cycloid =
        law({{"x", "0.1 * (2 * pi * t - sin(360 * t))"}, {"z", "0.1 * (1 - cos(360 * t))"}}, {{"pieces", 200}});
    CHECK(length_of(curve_of(cycloid)) == Approx(0.8).epsilon(1e-5));
}

TEST_CASE("a knot on a torus is as long as its integral says", "[formula_curve]") {
    // The trefoil wound (2, 3) on a torus of radii R and r: ∫ √((3 r)² + 4 (R + r cos 3u)²) du over a round. The
    // integrand is smooth and periodic: the trapezoid rule is exact to the last digits.
    constexpr double R = 0.5, r = 0.2;
    double wanted = 0;
    constexpr int many = 4096;
    for (int i = 0; i < many; ++i) {
        const double ring = R + r * std::cos(3 * 2 * pi * i / many);
        wanted += std::sqrt(9 * r * r + 4 * ring * ring) * 2 * pi / many;
    }
    const Tried trefoil = law(
        {{"distance", "0.5 + 0.2 * cos(3 * 360 * t)"}, {"angle", "2 * 360 * t"}, {"height", "0.2 * sin(3 * 360 * t)"}},
        {{"closed", true}, {"pieces", 240}});
    CHECK(curve_of(trefoil).closed);
    CHECK(length_of(curve_of(trefoil)) == Approx(wanted).epsilon(1e-5));
}

TEST_CASE("radius and roll run along, and dials and other steps are seen", "[formula_curve]") {
    const Tried made = tried(recipe_of(Json::array({step("c", "formula_curve",
                                                         {{"rows", rows({{"z", "tall * t"},
                                                                         {"radius", "1 - share / 2"},
                                                                         {"roll", "180 * share"},
                                                                         {"x", "index / count"}})},
                                                          {"pieces", 4}}),
                                                    step("rod", "sweep", {{"radius", 0.1}})}),
                                       Json::array({{{"name", "tall"}, {"value", 2}, {"min", 1}, {"max", 4}}})));
    REQUIRE(made.clean("rod"));
    const auto& knots = curve_of(made).knots;
    REQUIRE(knots.size() == 5);
    CHECK(knots[4].at.z == 2);
    CHECK(knots[2].radius == 0.75f);
    CHECK(static_cast<double>(knots[4].roll) == Approx(pi));
    CHECK(static_cast<double>(knots[3].at.x) == Approx(3.0 / 5));
}

TEST_CASE("dials called like what a curve has are told, all of them, and the curve's own counts", "[formula_curve]") {
    const Json dials = {{{"name", "share"}, {"value", 7}}, {{"name", "count"}, {"value", 9}}};
    const Tried t = tried(recipe_of(
        Json::array({step("c", "formula_curve", {{"rows", rows({{"x", "share"}, {"y", "count"}})}})}), dials));
    std::string told;
    for (const Finding& f : t.step("c").findings)
        if (f.code == "hidden-dial") told += f.text;
    CHECK(told.find("“share”") != std::string::npos);
    CHECK(told.find("“count”") != std::string::npos);
    CHECK(t.step("c").shape->curves[0].knots.back().at.x == Approx(1));
    const Tried both =
        tried(recipe_of(Json::array({step("c", "formula_curve", {{"rows", rows({{"x", "share * count"}})}})}), dials));
    REQUIRE(both.finding("c", "hidden-dial"));
    CHECK(both.finding("c", "hidden-dial")->text.find("“count”, “share”") != std::string::npos);
}

TEST_CASE("laws with corners are laid straight, and threads change nothing", "[formula_curve]") {
    const auto make = [] {
        return law({{"x", "t"}, {"z", "abs(t)"}}, {{"from", -1}, {"between", "straight"}, {"pieces", 1000}});
    };
    const Tried vee = make();
    CHECK(length_of(curve_of(vee)) == Approx(2 * std::sqrt(2.0)).epsilon(1e-6));
    for (const Knot& knot : curve_of(vee).knots) CHECK(knot.kind == KnotKind::corner);
    const tbb::global_control one(tbb::global_control::max_allowed_parallelism, 1);
    const Tried again = make();
    for (std::size_t k = 0; k < 1001; ++k) CHECK(curve_of(again).knots[k].at == curve_of(vee).knots[k].at);
}

TEST_CASE("rows that cannot be are told, one by one", "[formula_curve][bad input]") {
    CHECK(tried({step("c", "formula_curve")}).finding("c", "no-rows"));
    const Tried root = law({{"x", "sqrt(t - 0.5)"}});
    REQUIRE(root.finding("c", "bad-value"));
    CHECK(root.finding("c", "bad-value")->text.find("t = 0") != std::string::npos);
    CHECK(root.step("c").shape->empty());
    const Tried name = law({{"x", "tt"}});
    REQUIRE(name.finding("c", "unknown-name"));
    CHECK(name.finding("c", "unknown-name")->text.find("“t”") != std::string::npos);
    // The button does what it says.
    CHECK(mended(name, "c", "unknown-name").clean("c"));
    CHECK(law({{"rust", "t"}}).finding("c", "bad-target"));
    CHECK(law({{"x", "t"}, {"distance", "t"}}).finding("c", "bad-target"));
    CHECK(law({{"z", "t"}, {"height", "t"}}).finding("c", "bad-target"));
    CHECK(law({{"x", "t +"}}).finding("c", "bad-formula"));
    const Tried total = law({{"x", "t / total(t)"}});
    REQUIRE(total.finding("c", "bad-formula"));
    CHECK(total.finding("c", "bad-formula")->text.find("“total”") != std::string::npos);
    CHECK(law({{"x", "t"}}, {{"to", 0}}).finding("c", "no-range"));
    const Tried apart = law({{"x", "cos(300 * t)"}, {"y", "sin(300 * t)"}}, {{"closed", true}});
    CHECK(apart.finding("c", "ends-apart"));
    CHECK(curve_of(apart).knots.size() == 65);
}
