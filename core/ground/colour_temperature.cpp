// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ground/colour_temperature.h"

#include <algorithm>
#include <cmath>

namespace bricol {

namespace {

double lobe(double nanometres, double peak, double below, double above) {
    const double t = (nanometres - peak) * (nanometres < peak ? below : above);
    return std::exp(-0.5 * t * t);
}

DVec3 matching(double w) {
    return {1.056 * lobe(w, 599.8, 0.0264, 0.0323) + 0.362 * lobe(w, 442.0, 0.0624, 0.0374) -
                0.065 * lobe(w, 501.1, 0.0490, 0.0382),
            0.821 * lobe(w, 568.8, 0.0213, 0.0247) + 0.286 * lobe(w, 530.9, 0.0613, 0.0322),
            1.217 * lobe(w, 437.0, 0.0845, 0.0278) + 0.681 * lobe(w, 459.0, 0.0385, 0.0725)};
}

}  // namespace

DVec2 black_body_xy(double kelvin) {
    const double t = std::clamp(kelvin, 800.0, 40000.0);
    DVec3 sum(0);
    for (double w = 380; w <= 780; w += 5) {
        const double metres = w * 1e-9;
        const double glow = std::pow(metres, -5) / std::expm1(1.438776877e-2 / (metres * t)) * 1e-30;
        sum += matching(w) * glow;
    }
    return DVec2(sum.x, sum.y) / (sum.x + sum.y + sum.z);
}

DVec3 temperature_colour(double kelvin) {
    const DVec2 xy = black_body_xy(kelvin);
    const DVec3 xyz(xy.x / xy.y, 1, (1 - xy.x - xy.y) / xy.y);
    // IEC 61966-2-1.
    const DVec3 rgb(3.2406 * xyz.x - 1.5372 * xyz.y - 0.4986 * xyz.z, -0.9689 * xyz.x + 1.8758 * xyz.y + 0.0415 * xyz.z,
                    0.0557 * xyz.x - 0.2040 * xyz.y + 1.0570 * xyz.z);
    const DVec3 cut = glm::max(rgb, DVec3(0));
    return cut / std::max({cut.x, cut.y, cut.z});
}

}  // namespace bricol
