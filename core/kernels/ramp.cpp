// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/ramp.h"

#include <algorithm>
#include <cmath>

#include "core/kernels/noise.h"

namespace bricol {

double smooth_share(double x, double low, double high) {
    if (!(high > low)) return x < low ? 0 : 1;
    const double t = std::min(std::max((x - low) / (high - low), 0.0), 1.0);
    return t * t * (3 - 2 * t);
}

double ramp_through(const double* numbers, int count) {
    const double x = numbers[0];
    if (count < 3) return 0;
    const int pairs = (count - 1) / 2;
    const double* at = numbers + 1;
    if (!(x > at[0])) return at[1];
    for (int i = 1; i < pairs; ++i) {
        const double a = at[2 * i - 2], b = at[2 * i];
        if (x < b) return at[2 * i - 1] + (at[2 * i + 1] - at[2 * i - 1]) * ((x - a) / (b - a));
    }
    return at[2 * pairs - 1];
}

double layered_noise(double x, double y, double z, double octaves) {
    double sum = 0, strength = 1, all = 0, scale = 1;
    const int n = static_cast<int>(std::min(std::max(octaves, 1.0), 16.0));
    for (int o = 0; o < n; ++o, strength *= 0.5, scale *= 2) {
        sum += strength *
               static_cast<double>(gradient_noise(static_cast<float>(x * scale), static_cast<float>(y * scale),
                                                  static_cast<float>(z * scale), static_cast<std::uint32_t>(o)));
        all += strength;
    }
    return sum / all;
}

namespace {

/// Slope at a knot by Fritsch and Carlson, weighted by the lengths of both sides (F. Fritsch and J. Butland, 1984).
double slope_at(const std::vector<RampKnot>& k, std::size_t i) {
    if (i == 0 || i + 1 == k.size()) return 0;
    const double h0 = k[i].at - k[i - 1].at, h1 = k[i + 1].at - k[i].at;
    if (h0 <= 0 || h1 <= 0) return 0;
    const double d0 = (k[i].value - k[i - 1].value) / h0, d1 = (k[i + 1].value - k[i].value) / h1;
    if (d0 * d1 <= 0) return 0;
    const double w0 = 2 * h1 + h0, w1 = h1 + 2 * h0;
    return (w0 + w1) / (w0 / d0 + w1 / d1);
}

}  // namespace

double DrawnRamp::value(double x) const {
    if (knots.empty()) return 0;
    if (!(x > knots.front().at)) return knots.front().value;
    if (x >= knots.back().at) return knots.back().value;
    std::size_t i = 1;
    while (x >= knots[i].at) ++i;
    const RampKnot &a = knots[i - 1], &b = knots[i];
    const double h = b.at - a.at, t = (x - a.at) / h;
    if (!smooth) return a.value + (b.value - a.value) * t;
    const double t2 = t * t, t3 = t2 * t;
    return (2 * t3 - 3 * t2 + 1) * a.value + (t3 - 2 * t2 + t) * h * slope_at(knots, i - 1) +
           (3 * t2 - 2 * t3) * b.value + (t3 - t2) * h * slope_at(knots, i);
}

DVec3 Gradient::colour(double x) const {
    if (stops.empty()) return DVec3(0);
    if (!(x > stops.front().at)) return stops.front().colour;
    if (x >= stops.back().at) return stops.back().colour;
    std::size_t i = 1;
    while (x >= stops[i].at) ++i;
    double t = (x - stops[i - 1].at) / (stops[i].at - stops[i - 1].at);
    if (smooth) t = t * t * (3 - 2 * t);
    return glm::mix(stops[i - 1].colour, stops[i].colour, t);
}

}  // namespace bricol
