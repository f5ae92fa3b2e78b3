// SPDX-License-Identifier: GPL-3.0-or-later
#include <catch2/catch.hpp>
#include <numbers>

#include "core/kernels/flatten.h"
#include "core/kernels/mirror.h"
#include "core/kernels/resample.h"
#include "tests/support/shapes.h"

using namespace bricol;
using namespace bricol::test;

TEST_CASE("four cubic spans follow a circle to 2.8e-4", "[curves]") {
    // 4/3 (sqrt 2 - 1) is the classic handle; its largest radial error is 2.7253e-4 (Riskus 2006).
    CHECK(arc_handle(pi / 2) == Approx(4.0 / 3 * (std::sqrt(2.0) - 1)).epsilon(1e-12));
    Curve circle;
    circle.closed = true;
    circle.sampling.per_span = 200;
    const float h = static_cast<float>(arc_handle(pi / 2));
    for (const auto& [x, y] : {std::pair{1.f, 0.f}, {0.f, 1.f}, {-1.f, 0.f}, {0.f, -1.f}}) {
        Knot knot;
        knot.at = {x, 0, y};
        knot.kind = KnotKind::free;
        knot.out = {-y * h, 0, x * h};
        knot.in = -knot.out;
        circle.knots.push_back(knot);
    }
    double worst = 0;
    for (const Vec3& p : flatten(circle).points) worst = std::max(worst, std::abs(glm::length(DVec3(p)) - 1));
    CHECK(worst == Approx(2.7253e-4).epsilon(1e-3));
}

TEST_CASE("a fillet touches both sides at its radius", "[curves]") {
    for (const double angle : {20.0, 60.0, 90.0, 120.0, 150.0}) {  // turn at the corner
        Curve curve = profile({{-1, 0}, {0, 0}, {std::cos(angle * pi / 180), std::sin(angle * pi / 180)}});
        curve.knots[1].fillet = 0.1f;
        curve.sampling.per_span = 32;
        const Polyline line = flatten(curve);
        const double reach = 0.1 * std::tan(angle * pi / 360);
        CHECK(line.points[1].x == Approx(-reach).margin(1e-6));
        const DVec3 centre(-reach, 0, 0.1);
        for (std::size_t i = 1; i + 1 < line.points.size(); ++i)
            CHECK(glm::distance(DVec3(line.points[i]), centre) == Approx(0.1).epsilon(1e-3));
        CHECK(std::count(line.sharp.begin(), line.sharp.end(), 1) == 0);
    }
}

TEST_CASE("fillets that do not fit are held, and share a side", "[curves]") {
    Curve curve = profile({{0, 0}, {1, 0}, {1, 0.2}, {2, 0.2}});
    curve.knots[1].fillet = curve.knots[2].fillet = 0.5f;
    std::vector<HeldFillet> held;
    const Polyline line = flatten(curve, &held);
    REQUIRE(held.size() == 2);
    CHECK(held[0].used == Approx(0.1).epsilon(1e-4));
    for (std::size_t i = 1; i < line.points.size(); ++i) CHECK(line.points[i].x >= line.points[i - 1].x - 1e-6f);
}

TEST_CASE("straight runs stay one piece, bends follow the tolerance", "[curves]") {
    Curve curve = profile({{0, 0}, {1, 0}, {2, 1}});
    CHECK(flatten(curve).points.size() == 3);
    curve.knots[2].kind = KnotKind::free;
    curve.knots[2].in = {-1, 0, 0};
    curve.sampling.per_span = 10;
    CHECK(flatten(curve).points.size() == 2 + 10);
    for (const float tolerance : {0.01f, 0.001f}) {
        curve.sampling.tolerance = tolerance;
        const Polyline coarse = flatten(curve);
        Curve exact = curve;
        exact.sampling = {512, 0};
        for (const Vec3& p : flatten(exact).points) {
            double nearest = 1e9;
            for (std::size_t i = 1; i < coarse.points.size(); ++i) {
                const DVec3 a(coarse.points[i - 1]), d = DVec3(coarse.points[i]) - a;
                const double t = std::clamp(glm::dot(DVec3(p) - a, d) / glm::dot(d, d), 0.0, 1.0);
                nearest = std::min(nearest, glm::distance(DVec3(p), a + d * t));
            }
            CHECK(nearest <= tolerance);
        }
    }
}

TEST_CASE("resampling keeps corners and makes even pieces", "[curves]") {
    ResampleOptions options;
    options.by = ResampleOptions::By::length;
    options.longest = 0.3;
    const Curve out = resampled(profile({{0, 0}, {1, 0}, {1, 2}}), options);
    CHECK(out.knots.size() == 1 + 4 + 7);
    CHECK(glm::distance(out.knots[4].at, Vec3(1, 0, 0)) < 1e-6f);
    for (std::size_t i = 1; i < out.knots.size(); ++i)
        CHECK(glm::distance(out.knots[i].at, out.knots[i - 1].at) <= 0.3f + 1e-6f);
    options.by = ResampleOptions::By::count;
    options.count = 12;
    CHECK(resampled(profile({{0, 0}, {1, 0}, {1, 2}}), options).knots.size() == 13);
    options.by = ResampleOptions::By::tolerance;
    options.tolerance = 0.001;
    CHECK(resampled(profile({{0, 0}, {0.5, 0}, {1, 0}}), options).knots.size() == 2);
}

TEST_CASE("half a profile and its reflection are one curve", "[curves][mirror]") {
    Shape shape;
    shape.curves.push_back(profile({{0, 0.5}, {0.3, 0.5}, {0.4, 0}}));
    MirrorOptions options;
    options.axis = 2;
    const MirrorResult result = mirrored(shape, options);
    REQUIRE(result.shape.curves.size() == 1);
    const Curve& whole = result.shape.curves[0];
    REQUIRE(whole.knots.size() == 5);
    CHECK(whole.knots.front().at.z == Approx(0.5));
    CHECK(whole.knots.back().at.z == Approx(-0.5));
    for (std::size_t i = 0; i < 5; ++i) CHECK(whole.knots[i].at.z == Approx(-whole.knots[4 - i].at.z).margin(1e-7));
    shape.curves[0] = profile({{0, 0}, {0.3, 0.2}, {0, 0.4}});
    options.axis = 0;
    const MirrorResult ring = mirrored(shape, options);
    CHECK(ring.shape.curves[0].closed);
    CHECK(ring.shape.curves[0].knots.size() == 4);
}

TEST_CASE("smooth knots take their direction from their neighbours", "[curves]") {
    Curve curve = profile({{0, 0}, {1, 1}, {2, 0}});
    curve.knots[1].kind = KnotKind::smooth;
    const auto knots = with_handles(curve);
    CHECK(knots[1].out.z == Approx(0).margin(1e-7));
    CHECK(knots[1].out.x == Approx(std::sqrt(2.0) / 3));
    CHECK(knots[1].in.x == Approx(-std::sqrt(2.0) / 3));
}
