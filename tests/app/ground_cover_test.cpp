// SPDX-License-Identifier: GPL-3.0-or-later
// What lies in shadow on the ground, against closed formulas, without a window.
#include <catch2/catch.hpp>
#include <cmath>
#include <glm/gtc/matrix_transform.hpp>
#include <numbers>
#include <numeric>

#include "app/viewport/ground_cover.h"
#include "app/viewport/grounds.h"
#include "core/kernels/primitives.h"
#include "core/kernels/solids.h"
#include "tests/support/shapes.h"

using namespace bricol;
using namespace bricol::test;

namespace {

const GroundSquare square{{-2, -2, 0}, 4, 512};
constexpr double pixel = 4.0 / 512;  // metres

ShadowCaster standing(const Mesh& mesh, std::vector<glm::mat4> places = {glm::mat4(1)}) {
    return {mesh.positions, opaque_triangles(mesh),
            std::make_shared<const Array<glm::mat4>>(places.begin(), places.end())};
}

/// Square metres in shadow.
double area(const Mesh& mesh, const std::optional<ShadowSource>& source,
            std::vector<glm::mat4> places = {glm::mat4(1)}) {
    const std::vector casters{standing(mesh, std::move(places))};
    const auto cover = ground_cover(casters, source, square);
    return pixel * pixel * std::accumulate(cover.begin(), cover.end(), 0.0);
}

Mesh plate(double height) { return placed(make_box(DVec3(1, 1, 0.002), {1, 1, 1}), {0, 0, height}); }

}  // namespace

TEST_CASE("a plate's shadow has the size and the place that its rays give it", "[shadow]") {
    // From a point at H a plate at h grows by H / (H - h), here 4 / 3; from above it stays as large as it is.
    CHECK(area(plate(1), ShadowSource{{0, 0, 4}}) == Approx(16.0 / 9).epsilon(0.01));
    CHECK(area(plate(1), std::nullopt) == Approx(1).epsilon(0.01));
    // A sun far away throws it as large as it is, one metre aside for one of height at 45 degrees.
    const std::vector casters{standing(plate(1))};
    const auto cover = ground_cover(casters, ShadowSource{glm::normalize(DVec3(-1, 0, 1)), true}, square);
    double sum = 0, along = 0;
    for (int y = 0; y < square.pixels; ++y)
        for (int x = 0; x < square.pixels; ++x)
            if (cover[static_cast<std::size_t>(y * square.pixels + x)]) ++sum, along += -2 + (x + 0.5) * pixel;
    CHECK(sum * pixel * pixel == Approx(1).epsilon(0.01));
    CHECK(along / sum == Approx(1).margin(0.01));
}

TEST_CASE("what is below the ground or above the lamp throws no shadow", "[shadow]") {
    const ShadowSource lamp{{0, 0, 4}}, sun{{0, 0, 1}, true};
    CHECK(area(plate(-0.5), lamp) == 0);
    CHECK(area(plate(-0.5), sun) == 0);
    CHECK(area(plate(5), lamp) == 0);
    CHECK(area(plate(5), sun) == Approx(1).epsilon(0.01));
    CHECK(area(plate(-0.5), std::nullopt) == Approx(1).epsilon(0.01));
    // A wall a metre wide that goes through the ground, thrown at 45 degrees along x: as long as it stands out of it.
    const Mesh wall = placed(make_box(DVec3(0.001, 1, 2), {1, 1, 1}), {0, 0, -0.4});
    CHECK(area(wall, ShadowSource{glm::normalize(DVec3(-1, 0, 1)), true}) == Approx(0.6).epsilon(0.02));
    // One that reaches over a low lamp half a metre before it: rays past its edges spread, so that its shadow is
    // 2 x + 1 wide at x, and from x = 1.5 on as wide as the square.
    const Mesh high = placed(make_box(DVec3(0.001, 1, 4), {1, 1, 1}), {0, 0, 1});
    CHECK(area(high, ShadowSource{{-0.5, 0, 0.5}}) == Approx(1.5 * 1.5 + 1.5 + 0.5 * 4).epsilon(0.01));
}

TEST_CASE("a sea under a quay is a ground, a table top under cups is none", "[viewport]") {
    const Box sea{{-300, -2, -0.85}, {300, 598, -0.85}}, quay{{-4, -3, -0.8}, {7, 2, 1.1}}, post{{1, 0, 0}, {2, 1, 3}};
    CHECK(grounds_among(std::vector{sea, quay, post}) == std::vector<std::uint8_t>{1, 0, 0});
    CHECK(grounds_among(std::vector{sea}) == std::vector<std::uint8_t>{0});
    const Box table{{-1, -1, -0.01}, {1, 1, 0}}, cup{{0, 0, 0}, {0.4, 0.3, 0.4}}, bead{{0, 0, 0}, {0.01, 0.01, 0.01}};
    CHECK(grounds_among(std::vector{table, cup}) == std::vector<std::uint8_t>{0, 0});
    // A large shape beside a small one is no ground when it has a height.
    CHECK(grounds_among(std::vector{quay, bead}) == std::vector<std::uint8_t>{0, 0});
    CHECK(grounds_among(std::vector<Box>{}).empty());
}

TEST_CASE("glass throws no shadow, and the rest of its mesh does", "[shadow]") {
    Mesh box = make_box(DVec3(1, 1, 1), {1, 1, 1});
    Material glass;
    glass.transmission = 1;
    const std::int32_t number = material_number(glass);
    box.materials = std::make_shared<const MaterialList>(MaterialList{{number, glass}});
    const std::size_t whole = opaque_triangles(box)->size();
    REQUIRE(whole == 36);
    Array<std::int32_t> column(6, number);
    box.attributes.set(Domain::face, attribute_name::material, column);
    CHECK(opaque_triangles(box)->empty());
    column[2] = 0;
    box.attributes.set(Domain::face, attribute_name::material, column);
    CHECK(opaque_triangles(box)->size() == 6);
}

TEST_CASE("copies of fine meshes throw the shadow that coarse ones do", "[shadow]") {
    // 40 000 faces to a ball whose shadow is a disc of some 800 pixels: only some of its points are looked at.
    const Mesh ball = make_geodesic_sphere(0.125, 45);
    REQUIRE(ball.face_count() > 40000);
    std::vector<glm::mat4> places;
    for (int i = 0; i < 9; ++i) places.push_back(glm::translate(glm::mat4(1), glm::vec3(i % 3 - 1, i / 3 - 1, 0.5f)));
    const double discs = 9 * std::numbers::pi * 0.125 * 0.125;
    CHECK(standing(ball, places).work() < 0.3 * 9 * static_cast<double>(ball.face_count()));
    // Pixels that are only touched count as well there: the discs are wider by half a pixel.
    const double wider = std::pow((0.125 + 0.6 * pixel) / 0.125, 2);
    const double sampled = area(ball, ShadowSource{{0, 0, 1}, true}, places);
    CHECK(sampled > discs);
    CHECK(sampled < wider * discs);
    CHECK(area(ball, ShadowSource{{0, 0, 1}, true}, {places[4]}) == Approx(discs / 9).epsilon(0.03));
}
