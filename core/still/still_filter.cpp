// SPDX-License-Identifier: GPL-3.0-or-later
// Less noise, and light as screen values.
#include <algorithm>
#include <cmath>

#include "core/ground/colour.h"
#include "core/ground/parallel.h"
#include "core/ground/stop.h"
#include "core/still/numbers.h"
#include "core/still/still.h"

namespace bricol {

namespace {

/// What is filtered: light without albedo, how bright it is, and the square of its error.
struct BareLight {
    Vec3 light;
    float bright, variance;
};

/// What tells surfaces apart; of one pixel side by side, as it is read.
struct Seen {
    Vec3 normal, albedo;
    float depth, cover;
};

struct Canvas {
    int width, height;
    std::vector<Seen> seen;

    std::size_t pixel(int x, int y) const {
        return static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x);
    }
    /// Calls `of` with each pixel's number and place, rows on all threads.
    template <class Of>
    void each_pixel(const Of& of) const {
        parallel::each(parallel::Numbers<int>(0, height, 8), [&](const auto& rows) {
            for (int y = rows.begin(); y != rows.end(); ++y) {
                stop_point();
                for (int x = 0; x < width; ++x) of(pixel(x, y), x, y);
            }
        });
    }
};

/// The errors of single pixels are guesses themselves: those round one count too.
float variance_near(const Canvas& c, const std::vector<BareLight>& from, int x, int y) {
    float sum = 0, weight = 0;
    for (int v = std::max(0, y - 1); v <= std::min(c.height - 1, y + 1); ++v)
        for (int u = std::max(0, x - 1); u <= std::min(c.width - 1, x + 1); ++u) {
            const float w = (u == x ? 2.0f : 1.0f) * (v == y ? 2.0f : 1.0f);
            sum += w * from[c.pixel(u, v)].variance;
            weight += w;
        }
    return sum / weight;
}

float power_of_64(float x) {
    for (int k = 0; k < 6; ++k) x *= x;
    return x;
}

/// How alike two pixels are, apart from their distance: 0 to 1. `per_depth` is one over the distance in depth that
/// counts as unlike, `differs` how far their lights are apart, in errors.
float likeness(const Seen& a, const Seen& b, float per_depth, float differs) {
    constexpr float unlike = 20;  // e^-20 of a pixel is not seen
    // What a pixel shows of several surfaces is told by the means over its samples: at an outline they lie in between,
    // and only pixels of the same mixture are alike. Numbers of parts would make outlines jagged.
    const float apart = std::abs(a.depth - b.depth) * per_depth + 24 * std::abs(a.cover - b.cover) + differs;
    if (!(apart < unlike)) return 0;
    const float facing = a.cover <= 0 ? 1.0f : glm::dot(a.normal, b.normal);
    if (facing < 0.7f) return 0;  // 0.7 to the 64th: 1e-10
    const float all = apart + 16 * glm::length(a.albedo - b.albedo);
    return all < unlike ? power_of_64(facing) * std::exp(-all) : 0.0f;
}

/// One round of the filter: a 5 x 5 B-spline with holes of `step` pixels, weighed by likeness.
std::vector<BareLight> filtered_once(const Canvas& c, const std::vector<BareLight>& from, int step) {
    constexpr float kernel[3] = {3.0f / 8, 1.0f / 4, 1.0f / 16};
    constexpr float errors = 3;  // as many standard errors apart counts as unlike
    std::vector<BareLight> out = from;
    c.each_pixel([&](std::size_t i, int x, int y) {
        const Seen& own = c.seen[i];
        const float per_spread = 1 / (errors * std::sqrt(variance_near(c, from, x, y)) + 1e-6f),
                    per_depth = 1 / (0.02f * std::max(own.depth, 1e-6f) * static_cast<float>(step));
        Vec3 sum(0);
        float weight = 0, variance = 0;
        for (int dy = -2; dy <= 2; ++dy) {
            const int v = y + dy * step;
            if (v < 0 || v >= c.height) continue;
            for (int dx = -2; dx <= 2; ++dx) {
                const int u = x + dx * step;
                if (u < 0 || u >= c.width) continue;
                const std::size_t j = c.pixel(u, v);
                const BareLight& other = from[j];
                const float differs = std::abs(from[i].bright - other.bright) * per_spread,
                            w = kernel[std::abs(dx)] * kernel[std::abs(dy)] *
                                likeness(own, c.seen[j], per_depth, differs);
                sum += w * other.light;
                variance += w * w * other.variance;
                weight += w;
            }
        }
        if (!(weight > 0)) return;
        const Vec3 light = sum / weight;
        out[i] = {light, brightness(light), variance / (weight * weight)};
    });
    return out;
}

}  // namespace

void filter_noise(StillPicture& p) {
    if (p.samples < 2) return;
    Canvas canvas{p.width, p.height, std::vector<Seen>(p.colour.size())};
    std::vector<BareLight> bare(p.colour.size());
    const auto albedo = [&](std::size_t i) { return glm::max(p.albedo[i] + Vec3(1 - p.cover[i]), Vec3(0.02f)); };
    canvas.each_pixel([&](std::size_t i, int, int) {
        canvas.seen[i] = {p.normal[i], p.albedo[i], p.depth[i], p.cover[i]};
        const Vec3 light = p.colour[i] / albedo(i);
        const float error = p.error[i] / brightness(albedo(i));
        bare[i] = {light, brightness(light), error * error};
    });
    for (const int step : {1, 2, 4, 8}) bare = filtered_once(canvas, bare, step);
    canvas.each_pixel([&](std::size_t i, int, int) { p.colour[i] = bare[i].light * albedo(i); });
}

Vec3 screen_colour(const Vec3& light, StillCurve curve) {
    Vec3 c = glm::max(light, Vec3(0));
    if (curve == StillCurve::filmic) c = c * (2.51f * c + 0.03f) / (c * (2.43f * c + 0.59f) + 0.14f);
    c = glm::clamp(c, 0.0f, 1.0f);
    return Vec3(screen_from_linear(DVec3(c)));
}

}  // namespace bricol
