// SPDX-License-Identifier: GPL-3.0-or-later
// Dark corners against what is known of planes and corners.
#include <catch2/catch.hpp>
#include <cmath>

#include "core/still/occlusion.h"

namespace bricol::test {

namespace {

/// A flat view, two metres high, of a surface whose depth is given over its width and height (metres).
template <class Depth>
DepthView seen(const Depth& depth) {
    DepthView view;
    view.width = 240, view.height = 200;
    view.flat = true, view.half_height = 1;
    for (int y = 0; y < view.height; ++y)
        for (int x = 0; x < view.width; ++x)
            view.depth.push_back(static_cast<float>(depth((x - 120) * 0.01, (y - 100) * 0.01)));
    return view;
}
float at(const std::vector<float>& light, int x, int y) { return light[static_cast<std::size_t>(y * 240 + x)]; }

}  // namespace

TEST_CASE("occlusion: a plane, level or aslant, loses nothing", "[occlusion]") {
    for (const double lean : {0.0, 0.5, 2.0}) {
        const std::vector<float> light = occlusion(seen([&](double x, double) { return 5 + lean * x; }), 0.2f);
        for (const int x : {60, 120, 180}) CHECK(at(light, x, 100) == Approx(1).margin(1e-3));
    }
    // Nor what stands alone before nothing.
    const std::vector<float> light =
        occlusion(seen([](double x, double y) { return std::hypot(x, y) < 0.5 ? 5 : 0; }), 0.2f);
    CHECK(at(light, 120, 100) == Approx(1).margin(1e-3));
    CHECK(at(light, 5, 5) == 1);
}

TEST_CASE("occlusion: a corner is dark in its crease, fades within the radius, and a ridge is light", "[occlusion]") {
    const std::vector<float> crease = occlusion(seen([](double x, double) { return 5 - std::abs(x); }), 0.3f);
    CHECK(at(crease, 120, 100) < 0.75f);
    CHECK(at(crease, 120, 100) < at(crease, 130, 100));
    CHECK(at(crease, 130, 100) < at(crease, 138, 100));
    CHECK(at(crease, 165, 100) == Approx(1).margin(0.01));  // 0.45 m away, more than the radius on the slope
    const std::vector<float> ridge = occlusion(seen([](double x, double) { return 5 + std::abs(x); }), 0.3f);
    CHECK(at(ridge, 120, 100) == Approx(1).margin(0.02));
    // What lies far behind does not darken what is before it: a step of more than the radius.
    const std::vector<float> step = occlusion(seen([](double x, double) { return x < 0 ? 5 : 9; }), 0.3f);
    CHECK(at(step, 112, 100) == Approx(1).margin(1e-3));
    CHECK(at(step, 130, 100) == Approx(1).margin(1e-3));
}

}  // namespace bricol::test
