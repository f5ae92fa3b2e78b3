// SPDX-License-Identifier: GPL-3.0-or-later
// Gradient noise: its mean, range and spectrum, and the same bytes whatever the instructions and threads.
#include <catch2/catch.hpp>
#include <tbb/global_control.h>

#include "core/kernels/noise.h"
#include "core/kernels/ramp.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

std::vector<Vec3> spread(std::size_t n, float reach) {
    std::mt19937 random(4);
    std::uniform_real_distribution<float> range(-reach, reach);
    std::vector<Vec3> out(n);
    for (Vec3& p : out) p = {range(random), range(random), range(random)};
    return out;
}

/// Mean square of the part of a signal in one octave of frequencies, by a discrete Fourier sum.
double octave_power(const std::vector<float>& signal, int from) {
    double power = 0;
    const double n = static_cast<double>(signal.size());
    for (int k = from; k < 2 * from; ++k) {
        double re = 0, im = 0;
        for (std::size_t i = 0; i < signal.size(); ++i) {
            const double a = 2 * std::numbers::pi * k * static_cast<double>(i) / n;
            re += static_cast<double>(signal[i]) * std::cos(a), im += static_cast<double>(signal[i]) * std::sin(a);
        }
        power += (re * re + im * im) / (n * n);
    }
    return power;
}

}  // namespace

TEST_CASE("noise has mean 0, is 0 at whole numbers and stays in its range", "[noise][outside]") {
    for (int x = -3; x < 3; ++x)
        for (int y = -3; y < 3; ++y) CHECK(gradient_noise(static_cast<float>(x), static_cast<float>(y), 1, 9) == 0.0f);
    const std::vector<Vec3> p = spread(200000, 40);
    std::vector<float> out(p.size());
    NoiseOptions one;
    one.octaves = 1;
    fractal_noise(p, one, out);
    double sum = 0, squares = 0;
    float low = 9, high = -9;
    for (const float v : out)
        sum += static_cast<double>(v), squares += static_cast<double>(v) * static_cast<double>(v),
            low = std::min(low, v), high = std::max(high, v);
    CHECK(std::abs(sum / 200000) < 0.005);
    // K. Perlin's three-dimensional noise with these gradients reaches +-1.04 at most and has a deviation near 0.25
    // (measured values in the literature lie between 0.24 and 0.28; from memory).
    CHECK(low < -0.7f);
    CHECK(low >= -1.04f);
    CHECK(high > 0.7f);
    CHECK(high <= 1.04f);
    CHECK(std::sqrt(squares / 200000) == Approx(0.25).margin(0.04));
}

TEST_CASE("each layer of noise has half the strength at twice the frequency", "[noise][outside][wide]") {
    // Fractal noise with gain 1/2 falls off by the square of it per octave: a spectral exponent of 2 above the first
    // bump (D. Ebert et al., "Texturing and Modeling", 2002; J. Tumblin and J. Turk on fBm with H = 1).
    constexpr std::size_t n = 2048;
    std::vector<double> power(7, 0);
    for (int line = 0; line < 24; ++line) {
        std::vector<Vec3> p(n);
        for (std::size_t i = 0; i < n; ++i)
            p[i] = Vec3(static_cast<float>(i) * 16.0f / n, static_cast<float>(line) * 7.31f + 0.4f,
                        static_cast<float>(line) * 3.77f + 0.6f);
        std::vector<float> out(n);
        NoiseOptions options;
        options.octaves = 6;
        fractal_noise(p, options, out);
        for (std::size_t o = 0; o < power.size(); ++o) power[o] += octave_power(out, 8 << o);
    }
    // 16 bumps of size 1 on the line: frequencies 16, 32, 64 … are its octaves. Ratios of neighbouring ones in the
    // middle.
    for (std::size_t o = 1; o < 4; ++o) CHECK(power[o] / power[o + 1] == Approx(4).epsilon(0.35));
}

TEST_CASE("noise gives the same bytes with wide and plain instructions and on any number of threads", "[noise]") {
    const std::vector<Vec3> p = spread(30011, 3000);
    NoiseOptions options;
    options.size = 0.7;
    options.seed = 77;
    std::vector<float> wide(p.size()), plain(p.size()), alone(p.size());
    fractal_noise(p, options, wide, Instructions::widest);
    fractal_noise(p, options, plain, Instructions::plain);
    CHECK(wide == plain);
    tbb::global_control one(tbb::global_control::max_allowed_parallelism, 1);
    fractal_noise(p, options, alone);
    CHECK(alone == wide);
    options.seed = 78;
    fractal_noise(p, options, alone);
    CHECK_FALSE(alone == wide);
}

TEST_CASE("noise is continuous, also far out and across whole numbers", "[noise]") {
    for (const float base : {0.0f, -1.0f, 1000.0f, -123.0f})
        for (const float x : {base - 0.001f, base, base + 0.001f})
            CHECK(std::abs(gradient_noise(x, 0.3f, 0.7f, 3) - gradient_noise(x + 0.001f, 0.3f, 0.7f, 3)) < 0.01f);
    CHECK(std::isfinite(gradient_noise(1e30f, -1e30f, 1e20f, 1)));
}

TEST_CASE("random shares are spread evenly", "[noise][outside]") {
    // Chi-square over 64 boxes: 63 degrees of freedom, 0.1 % point 103.4 (standard tables).
    for (const std::uint32_t stream : {0u, 1u, 99u}) {
        std::vector<int> boxes(64, 0);
        for (std::uint32_t i = 0; i < 64000; ++i) ++boxes[static_cast<std::size_t>(random_share(i, stream) * 64)];
        double chi = 0;
        for (const int n : boxes) chi += (n - 1000.0) * (n - 1000.0) / 1000;
        CHECK(chi < 103.4);
        CHECK(chi > 30);  // nor more even than chance (0.1 % point from below: 34.0, with room)
    }
}

TEST_CASE("ramps pass through their knots and do not overshoot", "[ramp]") {
    DrawnRamp ramp{{{0, 0}, {0.3, 1}, {0.5, 1}, {1, 0.2}}, true};
    for (const RampKnot& k : ramp.knots) CHECK(ramp.value(k.at) == Approx(k.value).margin(1e-12));
    for (int i = 0; i <= 1000; ++i) {
        CHECK(ramp.value(i / 1000.0) <= 1 + 1e-12);
        CHECK(ramp.value(i / 1000.0) >= -1e-12);
    }
    ramp.smooth = false;
    CHECK(ramp.value(0.15) == Approx(0.5));
    CHECK(ramp.value(-4) == 0);
    CHECK(ramp.value(4) == 0.2);
    const double numbers[] = {0.25, 0, 10, 0.5, 20};
    CHECK(ramp_through(numbers, 5) == 15);
}

TEST_CASE("roughening moves no farther than its height, by weight and in its set", "[noise]") {
    const Tried rough =
        tried({step("s", "geodesic_sphere", {{"origin", "centre"}, {"radius", 1}, {"frequency", 12}}),
               step("w", "attribute", {{"attribute", "weight"}, {"by", "axis"}}),
               step("r", "roughen", {{"height", 0.2}, {"size", 0.4}, {"weight", "weight"}, {"seed", 3}})});
    REQUIRE(rough.clean("r"));
    const auto &before = *rough.mesh("s").positions, &after = *rough.mesh("r").positions;
    const auto& weight = column<float>(rough.mesh("w"), Domain::vertex, "weight");
    double most = 0;
    for (std::size_t i = 0; i < before.size(); ++i) {
        const double moved = glm::distance(DVec3(before[i]), DVec3(after[i]));
        CHECK(moved <= 0.2 * static_cast<double>(weight[i]) * 1.05 + 1e-6);
        most = std::max(most, moved);
    }
    CHECK(most > 0.05);
}
