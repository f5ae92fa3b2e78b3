// SPDX-License-Identifier: GPL-3.0-or-later
// Hanging ropes against the catenary in closed form.
#include <catch2/catch.hpp>
#include <cmath>

#include "core/kernels/catenary.h"
#include "core/kernels/curve_edit.h"
#include "core/kernels/transform.h"
#include "core/recipe/resolve.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

double number(const Tried& tried, const std::string& name) {
    Resolver resolver(tried.recipe);
    const auto value = resolver.name("p", name);
    INFO((value ? "" : value.problem().text()));
    REQUIRE(value);
    return *value;
}

const Curve& rope_of(const Tried& tried) {
    REQUIRE(tried.clean("rope"));
    REQUIRE(tried.step("rope").shape->curves.size() == 1);
    return tried.step("rope").shape->curves[0];
}

}  // namespace

TEST_CASE("a rope between level ends hangs as the hyperbolic cosine", "[hang]") {
    // With a = 1 and ends at u = ±1: length 2 sinh 1, sag cosh 1 - 1, pull at the ends w cosh 1, along the ground w.
    const double length = 2 * std::sinh(1.0);
    const auto rope = hung({-1, 0, 5}, {1, 0, 5}, length);
    REQUIRE(rope);
    CHECK(rope->a == Approx(1).epsilon(1e-12));
    CHECK(rope->lowest() == Approx(5 - (std::cosh(1.0) - 1)).epsilon(1e-12));
    CHECK(rope->pull_from() == Approx(std::cosh(1.0)).epsilon(1e-12));
    CHECK(rope->pull_to() == Approx(std::cosh(1.0)).epsilon(1e-12));
    for (const Knot& knot : knots_along(*rope, 24))
        CHECK(static_cast<double>(knot.at.z) ==
              Approx(5 - std::cosh(1.0) + std::cosh(static_cast<double>(knot.at.x))).epsilon(1e-6));
}

TEST_CASE("ropes of every slack and slope satisfy the equations of the catenary", "[hang]") {
    // Length, heights and pulls put back into y = a cosh(u / a), L = a (sinh - sinh), and the balance of the pulls with
    // the weight: the vertical parts of both pulls together carry the rope.
    for (const double slack : {1e-9, 1e-4, 0.02, 0.5, 3.0, 40.0})
        for (const double up : {0.0, 0.7, -2.5}) {
            const DVec3 from(0.3, -1, 2), to(1.5, 0.6, 2 + up);
            const double length = glm::distance(from, to) * (1 + slack);
            const auto rope = hung(from, to, length);
            INFO("slack " << slack << " up " << up);
            REQUIRE(rope);
            const double a = rope->a, u1 = rope->first, u2 = u1 + rope->across;
            // Over a taut rope the sines of nearly the same height cancel: a few digits of `a` are gone by then.
            const double digits = slack < 1e-6 ? 1e-6 : 1e-9;
            CHECK(a * (std::sinh(u2 / a) - std::sinh(u1 / a)) == Approx(length).epsilon(digits));
            CHECK(2 * a * std::sinh((u1 + u2) / (2 * a)) * std::sinh((u2 - u1) / (2 * a)) ==
                  Approx(up).margin(1e-9 * length).epsilon(digits));
            const double carried = a * (std::sinh(u2 / a) - std::sinh(u1 / a));
            CHECK(carried == Approx(length).epsilon(digits));
            CHECK(rope->pull_to() - rope->pull_from() == Approx(up).margin(1e-6 * a));  // T = w y
            Curve curve;
            curve.knots = knots_along(*rope, 200);
            CHECK(length_of(curve) == Approx(length).epsilon(2e-4));
            CHECK(curve.knots.front().at == Vec3(from));
            CHECK(curve.knots.back().at == Vec3(to));
        }
}

TEST_CASE("a rope over one spot hangs straight down, one too short is told", "[hang][bad input]") {
    const auto down = hung({1, 1, 4}, {1, 1, 3}, 5);
    REQUIRE(down);
    CHECK(down->lowest() == Approx(1));  // 3 down, 2 up
    CHECK(down->pull_from() == Approx(3));
    CHECK(down->pull_to() == Approx(2));
    CHECK(knots_along(*down, 10).size() == 3);
    CHECK_FALSE(hung({0, 0, 0}, {3, 4, 0}, 4.9));
    CHECK(hung({0, 0, 0}, {3, 4, 0}, 5));
    const Tried short_rope = tried({step("rope", "hang", {{"by", "length"}, {"length", 1.5}})});
    REQUIRE(short_rope.finding("rope", "too-short"));
    CHECK(short_rope.finding("rope", "too-short")->text.find("2 m at least") != std::string::npos);
    CHECK(short_rope.finding("rope", "too-short")->places.size() == 1);
    // Following the advice cures it.
    CHECK(tried({step("rope", "hang", {{"by", "length"}, {"length", 2}})}).clean("rope"));
}

TEST_CASE("the step gives the rope, its lowest point and its pulls", "[hang]") {
    const Tried made = tried({step("rope", "hang",
                                   {{"from", {-1, 0, 5}},
                                    {"to", {1, 0, 5}},
                                    {"by", "length"},
                                    {"length", "= exp(1) - exp(-1)"},
                                    {"weight", 12},
                                    {"pieces", 40}}),
                              step("line", "sweep", {{"radius", 0.01}})});
    REQUIRE(made.clean("line"));
    CHECK(length_of(rope_of(made)) == Approx(2 * std::sinh(1.0)).epsilon(1e-6));
    CHECK(number(made, "rope.lowest") == Approx(6 - std::cosh(1.0)));
    CHECK(number(made, "rope.pull_from") == Approx(12 * std::cosh(1.0)));
    CHECK(number(made, "rope.pull_to") == Approx(12 * std::cosh(1.0)));
    CHECK(number(made, "rope.rope") == Approx(2 * std::sinh(1.0)));
    CHECK(box_of(*made.step("rope").shape)->low.z == Approx(6 - std::cosh(1.0)).epsilon(1e-5));
}

TEST_CASE("from post to post it is one curve that touches every post", "[hang]") {
    const Tried made = tried({step("posts", "line", {{"to", {6, 0, 0}}, {"pieces", 3}}),
                              step("rope", "hang", {{"slack", 0.2}, {"pieces", 8}})});
    const Curve& rope = rope_of(made);
    CHECK(rope.knots.size() == 3 * 8 + 1);
    for (std::size_t post = 0; post < 4; ++post)
        CHECK(glm::distance(rope.knots[post * 8].at, Vec3(2 * static_cast<float>(post), 0, 0)) < 1e-6f);
    CHECK(length_of(rope) == Approx(6 * 1.2).epsilon(1e-4));
    // At a post it comes in upwards and leaves downwards.
    CHECK(rope.knots[8].in.z < 0);
    CHECK(rope.knots[8].out.z < 0);
    CHECK(tried({step("p", "points_and_faces", {{"points", Json::array({Json::array({0, 0, 0})})}}),
                 step("rope", "hang")})
              .finding("rope", "too-few-points"));
}
