// SPDX-License-Identifier: GPL-3.0-or-later
// Fillets between spans that bend, and curves drawn in a plane of their own.
#include <catch2/catch.hpp>
#include <numbers>
#include <random>

#include "core/kernels/bent_fillet.h"
#include "core/kernels/path.h"
#include "core/kernels/transform.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

/// An arc of a circle in the ground plane, as one cubic span (good to 3e-4 of the radius over a quarter turn).
Cubic arc(DVec2 centre, double radius, double from, double to) {
    const double handle = radius * arc_handle(to - from);
    const auto at = [&](double a) { return DVec3(centre + radius * DVec2(std::cos(a), std::sin(a)), 0); };
    const auto way = [&](double a) { return DVec3(-std::sin(a), std::cos(a), 0); };
    return {at(from), at(from) + way(from) * handle, at(to) - way(to) * handle, at(to)};
}

Curve joined(const Cubic& a, const Cubic& b, float fillet) {
    Curve curve;
    curve.knots.resize(3);
    for (Knot& knot : curve.knots) knot.kind = KnotKind::free;
    curve.knots[0].at = Vec3(a[0]), curve.knots[0].out = Vec3(a[1] - a[0]);
    curve.knots[1].at = Vec3(a[3]), curve.knots[1].in = Vec3(a[2] - a[3]), curve.knots[1].out = Vec3(b[1] - b[0]);
    curve.knots[2].at = Vec3(b[3]), curve.knots[2].in = Vec3(b[2] - b[3]);
    curve.knots[1].fillet = fillet;
    return curve;
}

double rad(double degrees) { return degrees * pi / 180; }

}  // namespace

TEST_CASE("a fillet between two arcs touches both: centres as far apart as the radii add up to", "[curves][fillet]") {
    // Circles of radius 1 about (0, 0) and (1, 0), met at their upper crossing. A circle of radius r in the notch above
    // has its centre 1 + r from both: at x 0.5 and height sqrt((1 + r)^2 - 0.25), 1.2 for r 0.3.
    const Cubic left = arc({0, 0}, 1, rad(150), rad(60)), right = arc({1, 0}, 1, rad(120), rad(30));
    const TouchingCircle found = touching_circle(left, right, 0.3, 0, 1);
    CHECK(found.radius == 0.3);
    CHECK(found.centre.x == Approx(0.5).margin(5e-4));
    CHECK(found.centre.y == Approx(1.2).margin(5e-4));
    const DVec3 touch = DVec3(0.5, 1.2, 0) / 1.3;
    CHECK(glm::distance(cubic_at(left, found.arriving), touch) < 5e-4);
    CHECK(glm::distance(cubic_at(right, found.leaving), DVec3(1 - touch.x, touch.y, 0)) < 5e-4);

    const Curve curve = joined(left, right, 0.3f);
    std::vector<HeldFillet> held;
    Curve fine = with_fillets(curve, &held);
    CHECK(held.empty());
    fine.sampling.per_span = 64;
    const Polyline line = flatten(fine);
    for (const std::uint8_t sharp : line.sharp) CHECK_FALSE(sharp);  // it goes over into both spans without a break
    int on_arc = 0;
    for (const Vec3& p : line.points) {
        const DVec3 at(p);
        const double a = std::abs(glm::length(DVec2(at)) - 1), b = std::abs(glm::distance(DVec2(at), DVec2(1, 0)) - 1),
                     c = std::abs(glm::distance(DVec2(at), DVec2(0.5, 1.2)) - 0.3);
        CHECK(std::min({a, b, c}) < 5e-4);
        on_arc += c < 5e-4;
    }
    CHECK(on_arc > 60);
    // The curve's length: two arcs up to where the circle touches, and its own arc between.
    const double cut = std::atan2(touch.y, touch.x), own = 2 * std::atan2(0.5, 1.2);
    CHECK(make_path(line, {}).whole == Approx(2 * (rad(150) - cut) + 0.3 * own).epsilon(5e-4));
}

TEST_CASE("a fillet between a line and an arc, and the largest that fits", "[curves][fillet]") {
    // The ground line up to the origin, then a circle of radius 1 about (1, 0) upwards: 1 - x = sqrt(1 + 2 r) for the
    // centre (x, r).
    const auto line_to_arc = [](double length, float fillet) {
        Curve curve = joined({DVec3(-length, 0, 0), DVec3(-length, 0, 0), DVec3(0), DVec3(0)},
                             arc({1, 0}, 1, rad(180), rad(90)), fillet);
        return curve;
    };
    std::vector<HeldFillet> held;
    const Curve fits = with_fillets(line_to_arc(1, 0.5f), &held);
    CHECK(held.empty());
    REQUIRE(fits.knots.size() == 4);
    CHECK(fits.knots[1].at.x == Approx(1 - std::sqrt(2.0)).margin(5e-4));
    CHECK(fits.knots[1].at.y == Approx(0).margin(1e-6));
    CHECK(fits.knots[1].in == Vec3(0));  // the line stays a straight span
    CHECK(flatten(fits).points.size() == 2 + 8 + 8);
    // With only 0.2 of the line: (1.2^2 - 1) / 2 = 0.22 is the largest.
    const Curve tight = with_fillets(line_to_arc(0.2, 0.5f), &held);
    REQUIRE(held.size() == 1);
    CHECK(held[0].used == Approx(0.22f).margin(1.5e-3));
    CHECK(held[0].wanted == 0.5f);
    CHECK(tight.knots.size() == 4);
    // Ends that go over smoothly have nothing to round, and are no fault.
    held.clear();
    const Curve smooth =
        with_fillets(joined(arc({0, 0}, 1, rad(180), rad(90)), arc({0, 0}, 1, rad(90), rad(0)), 0.1f), &held);
    CHECK(held.empty());
    CHECK(smooth.knots.size() == 3);
    // A fillet in space leaves and reaches its spans along their own ways.
    Curve lifted = joined(arc({0, 0}, 1, rad(150), rad(60)), arc({1, 0}, 1, rad(120), rad(30)), 0.2f);
    lifted.knots[2].at.z = 0.4f;
    lifted.knots[0].at.z = -0.3f;
    const Polyline space = flatten(with_fillets(lifted));
    for (const std::uint8_t sharp : space.sharp) CHECK_FALSE(sharp);
}

TEST_CASE("neighbouring fillets between bends leave each other room, wherever they stand", "[curves][fillet]") {
    std::mt19937 random(11);
    std::uniform_real_distribution<float> number(-0.5f, 0.5f);
    int rounded_corners = 0;
    for (int trial = 0; trial < 60; ++trial) {
        Curve curve;
        curve.closed = trial % 2 == 0;
        for (int i = 0; i < 5; ++i) {
            Knot knot;
            knot.at = Vec3(std::cos(i * 2 * pi / 5), std::sin(i * 2 * pi / 5), 0) +
                      Vec3(number(random), number(random), number(random)) * 0.3f;
            knot.kind = i % 3 == 0 ? KnotKind::corner : KnotKind::free;
            if (i % 3 != 0)
                knot.in = Vec3(number(random), number(random), 0), knot.out = Vec3(number(random), number(random), 0);
            knot.fillet = 0.05f + 0.2f * std::abs(number(random));
            curve.knots.push_back(knot);
        }
        std::vector<HeldFillet> held;
        const Curve filleted = with_fillets(curve, &held);
        for (const HeldFillet& h : held) CHECK(h.used < h.wanted);
        rounded_corners += static_cast<int>(filleted.knots.size() > curve.knots.size());
        const double before = make_path(curve, {}, 64).whole, after = make_path(filleted, {}, 64).whole;
        CHECK(std::isfinite(after));
        CHECK(after < before * 1.6 + 1);
        for (const Knot& knot : filleted.knots)
            CHECK(std::isfinite(knot.at.x + knot.at.y + knot.at.z + knot.in.x + knot.out.x));
        CHECK(with_fillets(filleted).knots.size() == filleted.knots.size());  // nothing is rounded twice
    }
    CHECK(rounded_corners > 40);
}

TEST_CASE("curves that bend are joined with a fillet that stays a number", "[curves][fillet]") {
    const Json bow = Json::parse(
        R"([{"knots":[{"at":[-1,0],"kind":"free","out":[0.3,0.4]},{"at":[0,0.2],"kind":"free","in":[-0.3,-0.2]}]},{"knots":[{"at":[0,0.2],"kind":"free","out":[0.3,-0.4]},{"at":[1,0.5],"kind":"free","in":[-0.2,-0.4]}]}])");
    const Tried made = tried({step("d", "drawn_curve", {{"curves", bow}}), step("j", "join", {{"radius", 0.08}})});
    REQUIRE(made.step("j").shape->curves.size() == 1);
    const Curve& curve = made.step("j").shape->curves[0];
    REQUIRE(curve.knots.size() == 3);
    CHECK(curve.knots[1].fillet == Approx(0.08f));
    CHECK_FALSE(made.finding("j", "held-rounding"));
    for (const std::uint8_t sharp : flatten(curve).sharp) CHECK_FALSE(sharp);
    const Tried large = tried({step("d", "drawn_curve", {{"curves", bow}}), step("j", "join", {{"radius", 50}})});
    CHECK(large.finding("j", "held-rounding"));
    // The fillet step rounds such corners too, and only those that turn.
    const Tried all = tried({step("d", "drawn_curve", {{"curves", bow}}), step("j", "join"),
                             step("f", "fillet", {{"radius", 0.05}, {"over", 10}})});
    CHECK(all.step("f").shape->curves[0].knots[1].fillet == Approx(0.05f));
    CHECK_FALSE(all.finding("f", "unchanged"));
}

TEST_CASE("turns are read back from directions", "[transform]") {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> angle(-180, 180);
    for (int i = 0; i < 200; ++i) {
        const DVec3 turn = i < 8 ? DVec3(i & 1 ? 30 : 0, i & 2 ? 90 : -90, i & 4 ? 45 : 0)
                                 : DVec3(angle(random), angle(random), angle(random));
        const glm::dmat3 made(placement(DVec3(0), turn, DVec3(1), DVec3(0)));
        const glm::dmat3 again(placement(DVec3(0), turn_of(made), DVec3(1), DVec3(0)));
        for (int c = 0; c < 3; ++c) CHECK(glm::distance(made[c], again[c]) < 1e-9);
    }
}

TEST_CASE("a curve is drawn in a plane of its own", "[curves]") {
    // Turned 90 degrees about x and then about z the ground plane's x, y and z become y, z and x.
    const Tried made = tried({step(
        "d", "drawn_curve",
        {{"plane", "own"},
         {"plane_at", {1, 2, 3}},
         {"plane_turn", {90, 0, 90}},
         {"curves",
          Json::parse(
              R"([{"knots":[{"at":[0.5,0.25]},{"at":[0.5,1,0.1],"kind":"free","in":[0.2,0],"out":[0,0.3]}]}])")}})});
    const Curve& curve = made.step("d").shape->curves[0];
    CHECK(glm::distance(DVec3(curve.knots[0].at), DVec3(1, 2.5, 3.25)) < 1e-6);
    CHECK(glm::distance(DVec3(curve.knots[1].at), DVec3(1.1, 2.5, 4)) < 1e-6);
    CHECK(glm::distance(DVec3(curve.knots[1].in), DVec3(0, 0.2, 0)) < 1e-6);
    CHECK(glm::distance(DVec3(curve.knots[1].out), DVec3(0, 0, 0.3)) < 1e-6);
    CHECK(glm::distance(curve.plane.numbers(DVec3(1.1, 2.5, 4)), DVec3(0.5, 1, 0.1)) < 1e-6);
    // Without the word nothing of it counts.
    const Tried flat = tried({step("d", "drawn_curve",
                                   {{"plane", "top"},
                                    {"plane_at", {1, 2, 3}},
                                    {"curves", Json::parse(R"([{"knots":[{"at":[0.5,0.25]},{"at":[1,1]}]}])")}})});
    CHECK(glm::distance(DVec3(flat.step("d").shape->curves[0].knots[0].at), DVec3(0.5, 0.25, 0)) < 1e-7);
}

TEST_CASE("paths too coarse or too fine for a screen are told", "[path][findings]") {
    const auto swept = [](int segments, double radius) {
        return tried({step("c", "circle", {{"radius", radius}, {"segments", segments}, {"plane", "top"}}),
                      step("s", "sweep", {{"radius", radius / 50}})});
    };
    // The pieces of a circle of 12 stand off it by radius x (1 - cos 15 degrees), 12 pixels when its box of 2.83 radii
    // spans 1 000.
    REQUIRE(swept(12, 1).finding("s", "coarse-path"));
    CHECK(swept(12, 1).finding("s", "coarse-path")->text.find(" 12 pixels") != std::string::npos);
    CHECK(swept(12, 0.01).finding("s", "coarse-path"));  // however large it is
    CHECK_FALSE(swept(48, 1).finding("s", "coarse-path"));
    CHECK_FALSE(swept(48, 1).finding("s", "fine-path"));
    CHECK(swept(4000, 1).finding("s", "fine-path"));
}
