// SPDX-License-Identifier: GPL-3.0-or-later
// The lathe against closed formulas (Pappus of Alexandria and Guldin) and against three.js.
#include <catch2/catch.hpp>
#include <numbers>

#include "core/kernels/lathe.h"
#include "core/kernels/primitives.h"
#include "core/kernels/profile_check.h"
#include "tests/support/node.h"
#include "tests/support/shapes.h"

using namespace bricol;
using namespace bricol::test;

namespace {

struct Solid {
    const char* name;
    std::vector<std::pair<double, double>> profile;
    bool closed;
    double volume, area;
};

// Volumes and areas: Bronstein and Semendjajew, Handbook of Mathematics, solids of revolution.
const std::vector<Solid> solids = {
    {"cylinder", {{0, 0}, {0.5, 0}, {0.5, 2}, {0, 2}}, false, pi * 0.25 * 2, 2 * pi * 0.5 * 2 + 2 * pi * 0.25},
    {"cone", {{0, 0}, {0.6, 0}, {0, 0.8}}, false, pi * 0.36 * 0.8 / 3, pi * 0.36 + pi * 0.6 * 1.0},
    {"frustum",
     {{0, 0}, {0.6, 0}, {0.3, 0.4}, {0, 0.4}},
     false,
     pi * 0.4 / 3 * (0.36 + 0.18 + 0.09),
     pi*(0.36 + 0.09) + pi * 0.9 * 0.5},
    {"square ring", {{0.9, -0.1}, {1.1, -0.1}, {1.1, 0.1}, {0.9, 0.1}}, true, 0.04 * 2 * pi * 1.0, 0.8 * 2 * pi * 1.0}};

LatheOptions turning(int segments) {
    LatheOptions options;
    options.segments = segments;
    return options;
}

}  // namespace

TEST_CASE("turned solids converge to Pappus and Guldin with the square of the segments", "[lathe]") {
    for (const Solid& solid : solids) {
        double last_volume = 0, last_area = 0;
        for (const int segments : {32, 64, 128}) {
            const Mesh mesh = lathe(flatten(profile(solid.profile, solid.closed)), turning(segments));
            const Measures m = measure(mesh);
            INFO(solid.name << " with " << segments << " segments");
            REQUIRE(sound(mesh));
            REQUIRE(m.closed);
            REQUIRE(m.turned_edges == 0);
            REQUIRE(m.euler == (solid.closed ? 0 : 2));
            // A regular polygon has the area sin(x)/x of its circle (x = 2 pi / n): exact for straight profiles.
            const double x = 2 * pi / segments;
            CHECK(*m.volume == Approx(solid.volume * std::sin(x) / x).epsilon(1e-5));
            const double volume_error = solid.volume - *m.volume, area_error = std::abs(solid.area - m.area);
            if (last_volume > 0) {
                CHECK(last_volume / volume_error == Approx(4).epsilon(0.02));
                CHECK(last_area / area_error == Approx(4).epsilon(0.05));
            }
            last_volume = volume_error;
            last_area = area_error;
        }
    }
}

TEST_CASE("sphere and torus converge in both directions", "[lathe]") {
    double last_sphere = 0, last_torus = 0;
    for (const int n : {16, 32, 64}) {
        const double sphere = 4.0 / 3 * pi * 0.027 - *measure(make_sphere(0.3, 2 * n, n)).volume;
        const double torus = 2 * pi * pi * 0.5 * 0.01 - *measure(make_torus(0.5, 0.1, 2 * n, n)).volume;
        if (last_sphere > 0) {
            CHECK(last_sphere / sphere == Approx(4).epsilon(0.03));
            CHECK(last_torus / torus == Approx(4).epsilon(0.03));
        }
        last_sphere = sphere;
        last_torus = torus;
    }
}

TEST_CASE("faces point outwards whichever way the profile was drawn", "[lathe]") {
    for (const Solid& solid : solids)
        for (const bool reversed : {false, true})
            for (const double angle : {360.0, -360.0, 120.0, -75.0})
                for (const AxisSide side : {AxisSide::as_drawn, AxisSide::inner}) {
                    auto places = solid.profile;
                    if (reversed) std::reverse(places.begin(), places.end());
                    LatheOptions options = turning(24);
                    options.angle = angle;
                    options.side = side;
                    const Measures m = measure(lathe(flatten(profile(places, solid.closed)), options));
                    INFO(solid.name << " reversed " << reversed << " angle " << angle);
                    REQUIRE(m.closed);
                    CHECK(*m.volume > 0);
                    CHECK(m.turned_edges == 0);
                }
}

TEST_CASE("a wedge has its share of the volume and flat caps", "[lathe]") {
    LatheOptions options = turning(720);
    options.angle = 90;
    const Measures m = measure(lathe(flatten(profile({{0, 0}, {0.5, 0}, {0.5, 2}, {0, 2}})), options));
    REQUIRE(m.closed);
    CHECK(m.euler == 2);
    CHECK(*m.volume == Approx(pi * 0.5 / 4).epsilon(1e-4));
    CHECK(m.area == Approx((2 * pi * 0.5 * 2 + 2 * pi * 0.25) / 4 + 2 * 0.5 * 2).epsilon(1e-4));
}

TEST_CASE("a spring is as long as a helix", "[lathe]") {
    // Length of a helix: turns * sqrt((2 pi R)^2 + pitch^2). The section stands upright in the profile's plane, so by
    // Cavalieri its volume is area * 2 pi R * turns whatever the rise.
    Curve section;
    section.closed = true;
    for (int i = 0; i < 64; ++i) {
        Knot knot;
        knot.at = Vec3(static_cast<float>(0.2 + 0.01 * std::cos(2 * pi * i / 64)), 0,
                       static_cast<float>(0.01 * std::sin(2 * pi * i / 64)));
        section.knots.push_back(knot);
    }
    LatheOptions options = turning(256);
    options.turns = 5;
    options.rise = 0.05;
    const Mesh mesh = lathe(flatten(section), options);
    const Measures m = measure(mesh);
    REQUIRE(m.closed);
    CHECK(m.euler == 2);
    const double area = 64 / 2.0 * 1e-4 * std::sin(2 * pi / 64);
    CHECK(*m.volume == Approx(area * 2 * pi * 0.2 * 5).epsilon(2e-3));
    // The outermost vertex of each column follows the helix of radius 0.21.
    double length = 0;
    const std::size_t columns = 5 * 256 + 1;
    for (std::size_t j = 1; j < columns; ++j)
        length += glm::distance(DVec3((*mesh.positions)[j]), DVec3((*mesh.positions)[j - 1]));
    CHECK(length == Approx(5 * std::hypot(2 * pi * 0.21, 0.05)).epsilon(1e-4));
}

TEST_CASE("an angle of zero with a rise pulls straight, with an angle it twists", "[lathe]") {
    Curve plan = profile({}, true);
    for (const auto& [x, y] : {std::pair{0.2f, 0.1f}, {-0.2f, 0.1f}, {-0.2f, -0.1f}, {0.2f, -0.1f}}) {
        Knot knot;
        knot.at = {x, y, 0};
        plan.knots.push_back(knot);
    }
    for (const bool reversed : {false, true}) {
        if (reversed) std::reverse(plan.knots.begin(), plan.knots.end());
        LatheOptions options = turning(10);
        options.angle = 0;
        options.rise = 3;
        Measures m = measure(lathe(flatten(plan), options));
        REQUIRE(m.closed);
        CHECK(*m.volume == Approx(0.4 * 0.2 * 3).epsilon(1e-5));
        CHECK(m.faces == 4 * 10 + 2);
        options.rise = -3;
        CHECK(*measure(lathe(flatten(plan), options)).volume == Approx(0.24).epsilon(1e-5));
        options.rise = 3;
        options.angle = 90;
        // Cavalieri: every level keeps the plan's area. The walls' quads are not flat, and cut along one diagonal they
        // miss the true surface by an angle's worth: the error is of first order in the steps.
        const auto error = [&](int segments) {
            options.segments = segments;
            const Measures twisted = measure(lathe(flatten(plan), options));
            REQUIRE(twisted.closed);
            return *twisted.volume - 0.24;
        };
        CHECK(error(200) / error(400) == Approx(2).epsilon(0.02));
        CHECK(std::abs(error(3200)) < 0.24 * 1e-3);
    }
}

TEST_CASE("points near the axis become one pole", "[lathe]") {
    LatheOptions options = turning(12);
    options.weld = 0.001f;
    options.caps = false;
    const Mesh mesh = lathe(flatten(profile({{0.0008, 0}, {0.3, 0}, {0.3, 0.2}, {0.0002, 0.2}})), options);
    CHECK(mesh.vertex_count() == 2 + 2 * 12);
    CHECK(measure(mesh).closed);
    options.weld = 0;
    const Measures open = measure(lathe(flatten(profile({{0.0008, 0}, {0.3, 0}, {0.3, 0.2}, {0.0002, 0.2}})), options));
    CHECK(open.border_edges == 24);
}

TEST_CASE("the lathe agrees with three.js point by point", "[lathe][outside]") {
    // three 0.187, LatheGeometry: turns about y, its z is our x.
    const std::vector<std::pair<double, double>> places = {{0.1, 0}, {0.4, 0.1}, {0.35, 0.5}, {0.15, 0.8}, {0.2, 1.0}};
    const int segments = 24;
    const auto json =
        node("three_lathe.mjs", "'" + nlohmann::json{{"points", places}, {"segments", segments}}.dump() + "'");
    LatheOptions options = turning(segments);
    options.caps = false;
    const Mesh mesh = lathe(flatten(profile(places)), options);
    REQUIRE(json.size() == 3 * (segments + 1) * places.size());
    for (std::size_t i = 0; i < json.size(); i += 3) {
        const Vec3 theirs(json[i + 2].get<float>(), json[i].get<float>(), json[i + 1].get<float>());
        const std::size_t row = i / 3 % places.size(), column = i / 3 / places.size() % segments;
        CHECK(glm::distance((*mesh.positions)[row * segments + column], theirs) < 1e-6f);
    }
}

TEST_CASE("generated profiles give sound closed solids", "[lathe][generated]") {
    std::mt19937 random(7);
    std::uniform_real_distribution<double> radius(0.05, 1), step(0.02, 0.3);
    for (int round = 0; round < 60; ++round) {
        std::vector<std::pair<double, double>> places{{0, 0}};
        double height = 0;
        for (int i = 0; i < 3 + round % 9; ++i) places.emplace_back(radius(random), height += step(random));
        places.emplace_back(0, height + 0.1);
        Curve curve = profile(places);
        for (Knot& knot : curve.knots) knot.fillet = 0.02f;
        LatheOptions options = turning(5 + round);
        options.angle = round % 3 == 0 ? 360 : 30 + 5 * round;
        const Mesh mesh = lathe(flatten(curve), options);
        INFO("round " << round);
        REQUIRE(sound(mesh));
        const Measures m = measure(mesh);
        CHECK(m.closed);
        CHECK(m.euler == 2);
        CHECK(*m.volume > 0);
        CHECK(m.turned_edges == 0);
    }
}

TEST_CASE("normals point away from the inside and have unit length", "[lathe]") {
    const Mesh mesh = lathe(flatten(profile({{0, 0}, {0.5, 0}, {0.5, 2}, {0, 2}})), turning(16));
    const auto* normals = mesh.attributes.values<Vec3>(Domain::corner, attribute_name::normal);
    REQUIRE(normals);
    for (std::size_t c = 0; c < normals->size(); ++c) {
        const Vec3 p = (*mesh.positions)[mesh.topology->corner_vertex[c]];
        CHECK(glm::length((*normals)[c]) == Approx(1).epsilon(1e-4));
        CHECK(glm::dot((*normals)[c], p - Vec3(0, 0, 1)) > 0);
    }
    const Mesh ball = make_sphere(1, 32, 16);
    const auto* on_ball = ball.attributes.values<Vec3>(Domain::vertex, attribute_name::normal);
    REQUIRE(on_ball);
    for (std::size_t v = 0; v < on_ball->size(); ++v) CHECK(glm::distance((*on_ball)[v], (*ball.positions)[v]) < 0.02f);
}

TEST_CASE("profile faults are found where they are", "[lathe][findings]") {
    const auto near = check_profile(flatten(profile({{0.0008, 0}, {0.5, 0}, {0.5, 1}, {0, 1}})), turning(16));
    REQUIRE(near.near_axis.size() == 1);
    CHECK(near.near_axis[0].amount == Approx(0.0008).epsilon(1e-4));
    CHECK(near.near_axis[0].knot == 0);
    const auto across = check_profile(flatten(profile({{-0.1, 0}, {0.5, 0}, {0.5, 1}, {0, 1}})), turning(16));
    REQUIRE(across.across.size() == 1);
    CHECK(across.across[0].amount == Approx(0.1).epsilon(1e-4));
    const auto itself =
        check_profile(flatten(profile({{0.1, 0}, {0.5, 0}, {0.2, 0.5}, {0.5, 0.5}, {0.3, -0.2}})), turning(16));
    CHECK(itself.crossings.size() >= 1);
    const auto straight =
        check_profile(flatten(profile({{0, 0}, {0.5, 0}, {0.5, 0.3}, {0.5, 1}, {0, 1}})), turning(16));
    REQUIRE(straight.needless.size() == 1);
    CHECK(straight.needless[0].knot == 2);
    const auto clean = check_profile(flatten(profile({{0, 0}, {0.5, 0}, {0.5, 1}, {0, 1}})), turning(16));
    CHECK((clean.near_axis.empty() && clean.across.empty() && clean.crossings.empty() && clean.needless.empty()));
}
