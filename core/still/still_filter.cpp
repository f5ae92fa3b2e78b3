// SPDX-License-Identifier: GPL-3.0-or-later
// Less noise, and light as screen values.
#include <algorithm>
#include <cmath>
#include <tbb/blocked_range.h>

#include "core/ground/parallel.h"
#include "core/ground/stop.h"
#include "core/still/numbers.h"
#include "core/still/still.h"

namespace bricol {

namespace {

/// What is filtered: light without albedo, and the square of its error.
struct BareLight {
    std::vector<Vec3> light;
    std::vector<float> variance;
};

std::size_t pixel(const StillPicture& p, int x, int y) {
    return static_cast<std::size_t>(y) * static_cast<std::size_t>(p.width) + static_cast<std::size_t>(x);
}

/// The errors of single pixels are guesses themselves: those round one count too.
float variance_near(const StillPicture& p, const BareLight& from, int x, int y) {
    float sum = 0, weight = 0;
    for (int v = std::max(0, y - 1); v <= std::min(p.height - 1, y + 1); ++v)
        for (int u = std::max(0, x - 1); u <= std::min(p.width - 1, x + 1); ++u) {
            const float w = (u == x ? 2.0f : 1.0f) * (v == y ? 2.0f : 1.0f);
            sum += w * from.variance[pixel(p, u, v)];
            weight += w;
        }
    return sum / weight;
}

float power_of_64(float x) {
    for (int k = 0; k < 6; ++k) x *= x;
    return x;
}

/// How alike two pixels are, apart from their distance: 0 to 1.
float likeness(const StillPicture& p, std::size_t i, std::size_t j, int step, float differs) {
    // What a pixel shows of several surfaces is told by the means over its samples: at an outline they lie in between,
    // and only pixels of the same mixture are alike. Numbers of parts would make outlines jagged.
    const float deep = std::abs(p.depth[i] - p.depth[j]) /
                       (0.02f * std::max(p.depth[i], 1e-6f) * static_cast<float>(step)),
                mixed = 24 * std::abs(p.cover[i] - p.cover[j]) + 16 * glm::length(p.albedo[i] - p.albedo[j]),
                turned = p.cover[i] <= 0 ? 1.0f : power_of_64(std::max(0.0f, glm::dot(p.normal[i], p.normal[j])));
    return turned * std::exp(-std::min(deep + mixed + differs, 30.0f));
}

/// One round of the filter: a 5 x 5 B-spline with holes of `step` pixels, weighed by likeness.
BareLight filtered_once(const StillPicture& p, const BareLight& from, int step) {
    constexpr float kernel[3] = {3.0f / 8, 1.0f / 4, 1.0f / 16};
    constexpr float errors = 3;  // as many standard errors apart counts as unlike
    BareLight out = from;
    parallel::each(tbb::blocked_range<int>(0, p.height, 8), [&](const auto& rows) {
        for (int y = rows.begin(); y != rows.end(); ++y) {
            stop_point();
            for (int x = 0; x < p.width; ++x) {
                const std::size_t i = pixel(p, x, y);
                const float own = brightness(from.light[i]),
                            spread = errors * std::sqrt(variance_near(p, from, x, y)) + 1e-6f;
                Vec3 sum(0);
                float weight = 0, variance = 0;
                for (int dy = -2; dy <= 2; ++dy)
                    for (int dx = -2; dx <= 2; ++dx) {
                        const int u = x + dx * step, v = y + dy * step;
                        if (u < 0 || v < 0 || u >= p.width || v >= p.height) continue;
                        const std::size_t j = pixel(p, u, v);
                        const float w = kernel[std::abs(dx)] * kernel[std::abs(dy)] *
                                        likeness(p, i, j, step, std::abs(own - brightness(from.light[j])) / spread);
                        sum += w * from.light[j];
                        variance += w * w * from.variance[j];
                        weight += w;
                    }
                if (!(weight > 0)) continue;
                out.light[i] = sum / weight;
                out.variance[i] = variance / (weight * weight);
            }
        }
    });
    return out;
}

}  // namespace

void filter_noise(StillPicture& p) {
    if (p.samples < 2) return;
    BareLight bare;
    const auto albedo = [&](std::size_t i) { return glm::max(p.albedo[i] + Vec3(1 - p.cover[i]), Vec3(0.02f)); };
    for (std::size_t i = 0; i < p.colour.size(); ++i) {
        bare.light.push_back(p.colour[i] / albedo(i));
        const float error = p.error[i] / brightness(albedo(i));
        bare.variance.push_back(error * error);
    }
    for (const int step : {1, 2, 4, 8}) bare = filtered_once(p, bare, step);
    for (std::size_t i = 0; i < p.colour.size(); ++i) p.colour[i] = bare.light[i] * albedo(i);
}

Vec3 screen_colour(const Vec3& light, StillCurve curve) {
    Vec3 c = glm::max(light, Vec3(0));
    if (curve == StillCurve::filmic) c = c * (2.51f * c + 0.03f) / (c * (2.43f * c + 0.59f) + 0.14f);
    c = glm::clamp(c, 0.0f, 1.0f);
    // IEC 61966-2-1.
    const auto encoded = [](float v) { return v <= 0.0031308f ? 12.92f * v : 1.055f * std::pow(v, 1 / 2.4f) - 0.055f; };
    return {encoded(c.x), encoded(c.y), encoded(c.z)};
}

}  // namespace bricol
