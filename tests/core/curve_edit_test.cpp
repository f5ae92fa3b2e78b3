// SPDX-License-Identifier: GPL-3.0-or-later
// Curves changed as curves: trimmed, joined, offset, threaded, taken from edges.
#include <catch2/catch.hpp>
#include <numbers>

#include "core/kernels/curve_edit.h"
#include "core/kernels/path.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

double whole(const Curve& curve) { return make_path(curve, {}, 256).whole; }

double area_of(const Polyline& line) {  // in the x, y plane
    double sum = 0;
    for (std::size_t i = 0; i < line.points.size(); ++i) {
        const DVec3 a(line.points[i]), b(line.points[(i + 1) % line.points.size()]);
        sum += (a.x * b.y - a.y * b.x) / 2;
    }
    return sum;
}

Polyline ring_line(int sides, double radius) {
    Polyline line;
    line.closed = true;
    for (int i = 0; i < sides; ++i)
        line.points.push_back(Vec3(radius * std::cos(2 * pi * i / sides), radius * std::sin(2 * pi * i / sides), 0));
    return line;
}

}  // namespace

TEST_CASE("trimming takes the length it says and keeps bends exact", "[curves]") {
    const Tried arc = tried({step("a", "arc", {{"radius", 1}, {"angle", 180}, {"from", 0}, {"plane", "top"}})});
    const Curve half = arc.step("a").shape->curves[0];
    const Curve cut = trimmed(half, 0.5, pi - 0.7);
    CHECK(whole(cut) == Approx(pi - 1.2).epsilon(1e-3));
    for (const Vec3& p : make_path(cut, {}, 64).empty() ? Array<Vec3>{} : flatten(cut).points)
        CHECK(glm::length(DVec3(p)) == Approx(1).margin(4e-4));
    CHECK(glm::distance(DVec3(cut.knots[0].at), DVec3(std::cos(0.5), std::sin(0.5), 0)) < 1e-3);
    // Led on, the ends go straight the way they left.
    const Curve longer = trimmed(half, -0.5, 100);
    CHECK(whole(longer) == Approx(100.5).epsilon(1e-6));
    CHECK(glm::distance(DVec3(longer.knots.front().at), DVec3(1, -0.5, 0)) < 1e-5);
    CHECK(longer.knots.back().at.x == Approx(-1).margin(1e-3));
    CHECK(longer.knots.back().at.y == Approx(pi - 100).epsilon(1e-4));
    // Over the start of a closed curve.
    const Tried circle = tried({step("c", "circle", {{"radius", 1}, {"plane", "top"}})});
    const Curve around = trimmed(circle.step("c").shape->curves[0], 6, 6 + 1);
    CHECK_FALSE(around.closed);
    CHECK(whole(around) == Approx(1).epsilon(2e-3));
    // Off both ends there is nothing.
    const Tried gone =
        tried({step("l", "line", {{"to", {1, 0, 0}}}), step("t", "trim", {{"start", 0.6}, {"end", 0.6}})});
    CHECK(gone.finding("t", "nothing-left"));
    const Tried shares = tried({step("l", "line", {{"to", {2, 0, 0}}}),
                                step("t", "trim", {{"by", "share"}, {"start_share", 0.25}, {"end_share", -0.5}})});
    CHECK(whole(shares.step("t").shape->curves[0]) == Approx(2.5));
}

TEST_CASE("a reversed curve is the same line run back", "[curves]") {
    const Tried made = tried(
        {drawn(
             "d",
             R"([{"knots":[{"at":[0,0],"kind":"free","out":[0.3,0.4]},{"at":[1,0.2],"kind":"smooth"},{"at":[2,1],"fillet":0.1},{"at":[2,2]}]}])"),
         step("r", "reverse"), step("again", "reverse")});
    const Polyline a = flatten(made.step("d").shape->curves[0]), b = flatten(made.step("r").shape->curves[0]),
                   c = flatten(made.step("again").shape->curves[0]);
    REQUIRE(a.points.size() == b.points.size());
    for (std::size_t i = 0; i < a.points.size(); ++i) {
        CHECK(glm::distance(a.points[i], b.points[a.points.size() - 1 - i]) < 1e-6f);
        CHECK(glm::distance(a.points[i], c.points[i]) < 1e-6f);
    }
}

TEST_CASE("ends that meet are joined, corners rounded by a radius that stays a number", "[curves]") {
    // Four separate sides of a square, drawn in any order and direction.
    const char* sides =
        R"([{"knots":[{"at":[0,0]},{"at":[2,0]}]},{"knots":[{"at":[2,2]},{"at":[2,0]}]},{"knots":[{"at":[0,2]},{"at":[0,0]}]},{"knots":[{"at":[0,2]},{"at":[2,2]}]}])";
    const Tried made = tried({drawn("sides", sides), step("j", "join", {{"radius", 0.3}})});
    REQUIRE(made.step("j").shape->curves.size() == 1);
    const Curve& one = made.step("j").shape->curves[0];
    CHECK(one.closed);
    REQUIRE(one.knots.size() == 4);
    for (const Knot& knot : one.knots) CHECK(knot.fillet == Approx(0.3f));
    CHECK(whole(one) == Approx(8 - 8 * 0.3 + 2 * pi * 0.3).epsilon(1e-3));
    // Sides that stop short or cross are led to their corner, and a fillet put there.
    const char* loose = R"([{"knots":[{"at":[0.2,0]},{"at":[2.3,0]}]},{"knots":[{"at":[2,-0.2]},{"at":[2,1.8]}]}])";
    const Tried corner = tried({drawn("sides", loose), step("j", "join", {{"reach", 0.5}, {"radius", 0.25}})});
    REQUIRE(corner.step("j").shape->curves.size() == 1);
    REQUIRE(corner.step("j").shape->curves[0].knots.size() == 3);
    CHECK(glm::distance(DVec3(corner.step("j").shape->curves[0].knots[1].at), DVec3(2, 0, 0)) < 1e-6);
    CHECK(corner.step("j").shape->curves[0].knots[1].fillet == Approx(0.25f));
    // A near miss is told with its distance, and the button joins it.
    const char* miss = R"([{"knots":[{"at":[0,0]},{"at":[1,0]}]},{"knots":[{"at":[1.004,0]},{"at":[1.004,1]}]}])";
    const Tried near = tried({drawn("sides", miss), step("j", "join")});
    REQUIRE(near.finding("j", "near-miss"));
    CHECK(mended(near, "j", "near-miss").step("j").shape->curves.size() == 1);
}

TEST_CASE("offsets of circles and squares have the areas they should", "[curves]") {
    // Steiner: the outer parallel of a convex outline of area A and length L at distance d encloses A + L d + pi d^2
    // (round corners).
    Polyline square;
    square.closed = true;
    square.points = {Vec3(0, 0, 0), Vec3(2, 0, 0), Vec3(2, 1, 0), Vec3(0, 1, 0)};
    OffsetOptions options;
    options.distance = 0.25;
    CHECK(area_of(offset_lines(square, options).at(0)) == Approx(2.5 * 1.5));
    options.round = true;
    CHECK(area_of(offset_lines(square, options).at(0)) == Approx(2 + 6 * 0.25 + pi * 0.0625).epsilon(2e-3));
    options.distance = -0.25;
    CHECK(area_of(offset_lines(square, options).at(0)) == Approx(1.5 * 0.5));
    options.distance = -0.51;  // no room
    CHECK(offset_lines(square, options).empty());
    options.distance = 0.2;
    CHECK(area_of(offset_lines(ring_line(200, 1), options).at(0)) == Approx(pi * 1.44).epsilon(1e-3));
    // A dumb-bell inwards comes apart into two.
    Polyline bell;
    bell.closed = true;
    bell.points = {Vec3(0, 0, 0), Vec3(1, 0, 0), Vec3(1, 0.4, 0), Vec3(2, 0.4, 0), Vec3(2, 0, 0), Vec3(3, 0, 0),
                   Vec3(3, 1, 0), Vec3(2, 1, 0), Vec3(2, 0.6, 0), Vec3(1, 0.6, 0), Vec3(1, 1, 0), Vec3(0, 1, 0)};
    options.round = false;
    options.distance = -0.2;
    const auto parts = offset_lines(bell, options);
    REQUIRE(parts.size() == 2);
    for (const Polyline& part : parts) CHECK(area_of(part) == Approx(0.36));
    // An open line to its right, seen from above.
    Polyline line;
    line.points = {Vec3(0, 0, 0), Vec3(1, 0, 0), Vec3(1, 1, 0)};
    options.distance = 0.1;
    const auto right = offset_lines(line, options);
    REQUIRE(right.size() == 1);
    CHECK(glm::distance(right[0].points.front(), Vec3(0, -0.1f, 0)) < 1e-6f);
    CHECK(glm::distance(right[0].points.back(), Vec3(1.1f, 1, 0)) < 1e-6f);
}

TEST_CASE("points are threaded, edges give loops", "[curves]") {
    const Tried made =
        tried({step("pts", "points_and_faces", {{"points", {{2, 0, 0}, {0, 0, 0}, {1, 0, 0}, {3, 0, 0}}}}),
               step("by_axis", "thread_points", {{"order", "axis"}, {"smooth", false}})});
    const Curve& line = made.step("by_axis").shape->curves.at(0);
    for (std::size_t i = 0; i < 4; ++i) CHECK(line.knots[i].at.x == Approx(static_cast<float>(i)));
    const std::vector<Vec3> points = {Vec3(0), Vec3(5, 0, 0), Vec3(1, 0, 0), Vec3(2, 1, 0)};
    CHECK(threaded(points, ThreadOrder::nearest, 0) == std::vector<std::size_t>{0, 2, 3, 1});
    const Tried rim = tried({step("g", "grid"), step("rim", "curve_from_edges")});
    REQUIRE(rim.step("rim").shape->curves.size() == 1);
    CHECK(rim.step("rim").shape->curves[0].closed);
    const Tried box = tried({step("b", "box"), step("rim", "curve_from_edges")});
    CHECK(box.finding("rim", "no-edges"));
    CHECK(tried({step("pts", "points_and_faces", {{"points", {{2, 0, 0}}}}), step("t", "thread_points")})
              .finding("t", "too-few-points"));
}

TEST_CASE("ends held along an axis leave along it", "[curves]") {
    for (const char* kind : {"smooth_curve", "resample"}) {
        const Tried made =
            tried({drawn("d", R"([{"knots":[{"at":[0,0]},{"at":[0.3,0.1]},{"at":[0.5,0.5]},{"at":[1,0.6]}]}])"),
                   step("held", kind, {{"ends", "x"}})});
        const Path path = make_path(flatten(made.step("held").shape->curves.at(0)), {});
        INFO(kind);
        CHECK(glm::distance(path.points.front().along, DVec3(1, 0, 0)) < 1e-6);
        CHECK(glm::distance(path.points.back().along, DVec3(1, 0, 0)) < 1e-6);
    }
    // Evening out takes a zigzag towards its middle line and leaves the ends.
    Curve zigzag;
    for (int i = 0; i < 9; ++i) {
        Knot knot;
        knot.at = Vec3(i, i % 2 ? 0.5f : -0.5f, 0);
        zigzag.knots.push_back(knot);
    }
    const Curve even = relaxed(zigzag, 40, 0.5);
    CHECK(even.knots[0].at == zigzag.knots[0].at);
    for (std::size_t i = 2; i + 2 < even.knots.size(); ++i)
        CHECK(std::abs(even.knots[i].at.y - even.knots[i + 1].at.y) < 0.1f);
}

TEST_CASE("closing and opening", "[curves]") {
    const Tried made = tried({drawn("d", R"([{"knots":[{"at":[0,0]},{"at":[1,0]},{"at":[1,1]},{"at":[0,0]}]}])"),
                              step("c", "close_curve"), step("o", "close_curve", {{"as", "open"}, {"at", 1}})});
    CHECK(made.step("c").shape->curves[0].closed);
    CHECK(made.step("c").shape->curves[0].knots.size() == 3);  // ends in one place are one knot
    const Curve& open = made.step("o").shape->curves[0];
    CHECK_FALSE(open.closed);
    CHECK(open.knots.front().at == Vec3(1, 0, 0));
    CHECK(whole(open) == Approx(whole(made.step("c").shape->curves[0])));
    CHECK(tried({step("l", "line"), step("c", "close_curve")}).finding("c", "too-few-knots"));
}
