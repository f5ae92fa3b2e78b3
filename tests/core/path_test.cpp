// SPDX-License-Identifier: GPL-3.0-or-later
// Paths against closed formulas: lengths, curvature, frames that turn least, and NURBS against a handbook.
#include <catch2/catch.hpp>
#include <numbers>

#include "core/kernels/along_path.h"
#include "core/kernels/nurbs.h"
#include "core/kernels/path.h"
#include "tests/support/occt_check.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

/// A line of points on a curve, with the curve's own directions.
Polyline sampled(int pieces, double from, double to, const std::function<DVec3(double)>& place,
                 const std::function<DVec3(double)>& slope) {
    Polyline line;
    for (int i = 0; i <= pieces; ++i) {
        const double t = from + (to - from) * i / pieces;
        line.points.push_back(Vec3(place(t)));
        line.tangent.push_back(glm::normalize(slope(t)));
        line.sharp.push_back(0);
        line.knot.push_back(-1);
    }
    return line;
}

Polyline helix(int pieces, double radius, double rise, double turns) {
    return sampled(
        pieces, 0, 2 * pi * turns,
        [=](double t) { return DVec3(radius * std::cos(t), radius * std::sin(t), rise * t); },
        [=](double t) { return DVec3(-radius * std::sin(t), radius * std::cos(t), rise); });
}

Curve one_curve(const Json& step_json) {
    const Tried made = tried({step_json});
    REQUIRE(made.clean(step_json["id"]));
    REQUIRE(made.step(step_json["id"]).shape->curves.size() == 1);
    return made.step(step_json["id"]).shape->curves[0];
}

/// Where a least-turn frame has turned to against the frame of normal and binormal, which itself turns by the torsion.
double turned_against_frenet(const Path& path, double radius, double rise, double t) {
    const Station& s = path.points.back();
    const DVec3 normal(-std::cos(t), -std::sin(t), 0),
        along = glm::normalize(DVec3(-radius * std::sin(t), radius * std::cos(t), rise)),
        binormal = glm::cross(along, normal);
    return std::atan2(glm::dot(s.up, binormal), glm::dot(s.up, normal));
}

}  // namespace

TEST_CASE("lengths of known curves", "[path]") {
    // Circle and helix: 2 pi r, and the hypotenuse of the unrolled turn.
    CHECK(make_path(one_curve(step("c", "circle", {{"radius", 0.5}})), {}, 256).whole ==
          Approx(2 * pi * 0.5).epsilon(3e-4));  // four cubics: 2.7e-4 of the radius
    const Path spring =
        make_path(one_curve(step("h", "helix", {{"radius", 0.15}, {"pitch", 0.08}, {"turns", 4}})), {}, 64);
    CHECK(spring.whole == Approx(4 * std::hypot(2 * pi * 0.15, 0.08)).epsilon(1e-5));
    // Parabola y = x^2 from 0 to 1: sqrt(5)/2 + asinh(2)/4 (Bronstein and Semendjajew, arcs of parabolas). One cubic
    // holds it exactly.
    const Path parabola = make_path(
        one_curve(step(
            "d", "drawn_curve",
            {{"pieces", 512},
             {"curves",
              Json::parse(
                  R"([{"knots":[{"at":[0,0],"kind":"free","out":[0.3333333333,0]},{"at":[1,1],"kind":"free","in":[-0.3333333333,-0.6666666667]}]}])")}})),
        {});
    CHECK(parabola.whole == Approx(std::sqrt(5) / 2 + std::asinh(2) / 4).epsilon(1e-5));
    // Its curvature at the vertex is 2, so the circle there has radius 1/2.
    const double near_vertex = parabola.bend_at(1);
    CHECK(near_vertex == Approx(0.5).epsilon(0.01));
    // Clothoid: Fresnel integrals at 1 (M. Abramowitz and I. Stegun, table 7.7): C = 0.77989 34, S = 0.43825 91; its
    // curvature at length s is pi s.
    Polyline clothoid;
    const int pieces = 4000;
    DVec3 at(0);
    clothoid.points.push_back(Vec3(at));
    for (int i = 0; i < pieces; ++i) {
        const double s = (i + 0.5) / pieces;
        at += DVec3(std::cos(pi * s * s / 2), std::sin(pi * s * s / 2), 0) / static_cast<double>(pieces);
        clothoid.points.push_back(Vec3(at));
    }
    const Path spiral = make_path(clothoid, {});
    CHECK(spiral.points.back().at.x == Approx(0.7798934).margin(2e-6));
    CHECK(spiral.points.back().at.y == Approx(0.4382591).margin(2e-6));
    CHECK(spiral.whole == Approx(1).epsilon(1e-5));
    const Path coarse = make_path(
        [&] {
            Polyline some;  // float places of near points say little about curvature
            for (std::size_t i = 0; i < clothoid.points.size(); i += 40) some.points.push_back(clothoid.points[i]);
            return some;
        }(),
        {});
    for (const std::size_t i : {20u, 50u, 80u})
        CHECK(coarse.bend_at(i) == Approx(1 / (pi * coarse.length[i])).epsilon(2e-3));
}

TEST_CASE("least-turn frames turn by the torsion of a helix, with an error of fourth order", "[path]") {
    // A frame that does not turn about its path turns against normal and binormal by minus the integral of the torsion
    // (R. Bishop, "There is more than one way to frame a curve", 1975); a helix has torsion b / (a^2 + b^2).
    const double a = 0.3, b = 0.1, turns = 1.3;
    const double wanted = -b / (a * a + b * b) * std::hypot(a, b) * 2 * pi * turns;
    double last = 0;
    for (const int pieces : {16, 32, 64}) {
        const Path path = make_path(helix(pieces, a, b, turns), {});
        const double start = [&] {
            Path first = path;
            first.points.resize(1);
            return turned_against_frenet(first, a, b, 0);
        }();
        const double turned = turned_against_frenet(path, a, b, 2 * pi * turns) - start;
        const double error = std::abs(std::remainder(turned - wanted, 2 * pi));
        INFO(pieces << " pieces: off by " << error);
        if (last > 0)
            CHECK(last / error >
                  12);  // halving the step: 16 times in the limit (Wang, Jüttler, Zheng and Liu 2008, theorem 1)
        CHECK(error < 2e-2 * std::pow(16.0 / pieces, 4));
        last = error;
    }
    for (const Station& s : make_path(helix(64, a, b, turns), {}).points) {
        CHECK(std::abs(glm::dot(s.up, s.along)) < 1e-12);
        CHECK(glm::length(s.right - glm::cross(s.along, s.up)) < 1e-12);
    }
}

TEST_CASE("frames of closed paths meet themselves, fixed frames stay upright", "[path]") {
    // A tilted, wavy ring that a least-turn frame would miss.
    Polyline ring;
    ring.closed = true;
    for (int i = 0; i < 240; ++i) {
        const double t = 2 * pi * i / 240;
        ring.points.push_back(Vec3(std::cos(t), std::sin(t), 0.4 * std::sin(2 * t) + 0.2 * std::cos(3 * t)));
    }
    const Path path = make_path(ring, {});
    CHECK(std::abs(path.closing_turn) > 0.01);
    double worst = 0;
    for (std::size_t i = 0; i < path.size(); ++i)
        worst = std::max(worst, glm::distance(path.points[i].up, path.points[(i + 1) % path.size()].up));
    CHECK(worst < 0.1);  // no jump where it closes
    const Path upright = make_path(ring, {true, {0, 0, 1}});
    for (const Station& s : upright.points) {
        CHECK(std::abs(s.right.z) < 1e-12);
        CHECK(s.up.z > 0.5);
    }
    // Straight up there is no upright: the frame before is kept, and told.
    Polyline mast;
    mast.points = {Vec3(0, 0, 0), Vec3(1, 0, 0), Vec3(1, 0, 1), Vec3(1, 0, 2)};
    const Path climbing = make_path(mast, {true, {0, 0, 1}});
    CHECK(climbing.upright.size() == 2);
    for (const Station& s : climbing.points) CHECK(std::isfinite(s.up.x + s.right.y));
}

TEST_CASE("repeated, single and missing points make no path or a shorter one", "[path]") {
    Polyline line;
    CHECK(make_path(line, {}).empty());
    line.points = {Vec3(1)};
    CHECK(make_path(line, {}).empty());
    line.points = {Vec3(1), Vec3(1), Vec3(1)};
    CHECK(make_path(line, {}).empty());
    line.points = {Vec3(0), Vec3(0), Vec3(1, 0, 0), Vec3(1, 0, 0), Vec3(2, 0, 0)};
    const Path path = make_path(line, {});
    CHECK(path.size() == 3);
    CHECK(path.repeats == 2);
    CHECK(path.at(1.5).at == DVec3(1.5, 0, 0));
    CHECK(path.at(-1).at == DVec3(-1, 0, 0));
    CHECK(path.at(3).at == DVec3(3, 0, 0));
}

TEST_CASE("stiff pieces follow one another by straight distance", "[path]") {
    // Chords of a circle: a regular polygon of n sides has sides 2 r sin(pi / n).
    const Path circle = make_path(one_curve(step("c", "circle", {{"radius", 1}})), {}, 512);
    AlongOptions options;
    options.stiff = true;
    options.by = AlongOptions::By::touching;
    options.own = 2 * std::sin(pi / 12) * (1 - 1e-3);
    const AlongPlaces chain = places_along(circle, options);
    REQUIRE(chain.places.size() == 12);
    for (std::size_t i = 0; i < 12; ++i) {
        CHECK(glm::distance(chain.places[i].a, chain.places[i].b) == Approx(options.own).epsilon(1e-6));
        if (i > 0) CHECK(glm::distance(chain.places[i].a, chain.places[i - 1].b) < 1e-9);
    }
    options.by = AlongOptions::By::count;
    options.count = 5;
    const AlongPlaces five = places_along(circle, options);
    REQUIRE(five.places.size() == 5);
    CHECK(five.piece == Approx(2 * std::sin(pi / 5)).epsilon(1e-3));
    CHECK(five.left_over < 1e-6);
    options.stiff = false;
    options.by = AlongOptions::By::spacing;
    options.spacing = 1;
    const AlongPlaces spaced = places_along(circle, options);
    CHECK(spaced.places.size() == 7);  // 6.28 metres
    CHECK(spaced.left_over == Approx(2 * pi - 6).epsilon(1e-2));
}

TEST_CASE("NURBS points, slopes and basis functions", "[path][nurbs]") {
    // Worked example of L. Piegl and W. Tiller, "The NURBS Book", Ex2.3 (from memory): degree 2, U = {0 0 0 1 2 3 4 4 5
    // 5 5}, u = 5/2.
    Nurbs example;
    example.degree = 2;
    example.knots = {0, 0, 0, 1, 2, 3, 4, 4, 5, 5, 5};
    example.points.assign(8, DVec3(0));
    const std::size_t span = knot_span(example, 2.5);
    CHECK(span == 4);
    const auto basis = basis_functions(example, span, 2.5);
    REQUIRE(basis.size() == 3);
    CHECK(basis[0] == Approx(1.0 / 8));
    CHECK(basis[1] == Approx(6.0 / 8));
    CHECK(basis[2] == Approx(1.0 / 8));
    // A quarter circle is a rational curve of degree 2 with weights 1, cos 45°, 1: every point lies on it, and x''
    // follows from the closed form.
    Nurbs quarter{2, {{1, 0, 0}, {1, 1, 0}, {0, 1, 0}}, {1, std::sqrt(0.5), 1}, {0, 0, 0, 1, 1, 1}};
    for (const double u : {0.0, 0.2, 0.5, 0.77, 1.0}) {
        const NurbsPoint p = nurbs_point(quarter, u);
        CHECK(glm::length(p.at) == Approx(1).epsilon(1e-14));
        CHECK(std::abs(glm::dot(p.at, p.slope)) < 1e-14);
        // d2/du2 of |p|^2 = 1: p.p'' + |p'|^2 = 0.
        CHECK(glm::dot(p.at, p.bend) + glm::dot(p.slope, p.slope) == Approx(0).margin(1e-12));
        const double h = 1e-5;
        if (u > 0 && u < 1) {
            const DVec3 slope = (nurbs_point(quarter, u + h).at - nurbs_point(quarter, u - h).at) / (2 * h);
            CHECK(glm::distance(slope, p.slope) < 1e-9);
        }
    }
    // As spans: cubic without weights exactly, the weighted one to the fourth power.
    Nurbs cubic{3, {{0, 0, 0}, {1, 2, 0}, {2, -1, 1}, {3, 1, 0}, {4, 0, 2}}, {}, {}};
    cubic.knots = clamped_knots(5, 3);
    Curve spans = curve_of(cubic, 1, false);
    CHECK(spans.knots.size() == 3);
    spans.sampling.per_span = 8;
    const Polyline line = flatten(spans);
    for (std::size_t i = 0; i < line.points.size(); ++i)
        CHECK(glm::distance(DVec3(line.points[i]), nurbs_point(cubic, 2.0 * static_cast<double>(i) / 16).at) < 1e-6);
    double last = 0;
    for (const int pieces : {2, 4, 8}) {
        Curve round = curve_of(quarter, pieces, false);
        round.sampling.per_span = 16;
        double worst = 0;
        for (const Vec3& p : flatten(round).points) worst = std::max(worst, std::abs(glm::length(DVec3(p)) - 1));
        if (last > 1e-5) CHECK(last / std::max(worst, 1e-12) > 10);
        last = worst;
    }
    CHECK(last < 2e-5);
}

TEST_CASE("B-splines agree with OpenCASCADE, weights and repeated knots included", "[path][nurbs]") {
    std::mt19937 random(3);
    std::uniform_real_distribution<double> place(-1, 1), weight(0.2, 5);
    double worst = 0, worst_slope = 0, worst_bend = 0;
    for (int degree = 2; degree <= 6; ++degree)
        for (const bool weighted : {false, true})
            for (const bool repeated : {false, true}) {
                Nurbs curve;
                curve.degree = degree;
                for (int i = 0; i < degree + 6; ++i) {
                    curve.points.emplace_back(place(random), place(random), place(random));
                    if (weighted) curve.weights.push_back(weight(random));
                }
                curve.knots = clamped_knots(curve.points.size(), degree);
                if (repeated)
                    curve.knots[static_cast<std::size_t>(degree) + 2] =
                        curve.knots[static_cast<std::size_t>(degree) + 1];
                for (int k = 1; k < 60; ++k) {
                    const double u = last_parameter(curve) * k / 60.37;
                    const NurbsPoint ours = nurbs_point(curve, u), theirs = test::occt_point(curve, u);
                    worst = std::max(worst, glm::distance(ours.at, theirs.at));
                    worst_slope = std::max(worst_slope,
                                           glm::distance(ours.slope, theirs.slope) / (1 + glm::length(theirs.slope)));
                    worst_bend =
                        std::max(worst_bend, glm::distance(ours.bend, theirs.bend) / (1 + glm::length(theirs.bend)));
                }
            }
    INFO("place " << worst << ", slope " << worst_slope << ", bend " << worst_bend);
    CHECK(worst < 1e-12);
    CHECK(worst_slope < 1e-11);
    CHECK(worst_bend < 1e-10);
}
