// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/still/occlusion.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/ground/parallel.h"
#include "core/still/numbers.h"

namespace bricol {

namespace {

constexpr int samples = 8, turns = 5;  // taps on a spiral, and how often it goes round
constexpr float most_reach = 0.16f;    // of the picture's height, so that what is very near stays quick
constexpr float strength = 3.4f;       // so that a square crease is about as dark as light from all around leaves it
constexpr float lean = 0.08f;          // what stands out of the plane by less counts as rounding

/// Where a pixel looks, in shares of the reach: four by four pixels turn the spiral each in their own way, and the
/// blend afterwards is as wide.
struct Spirals {
    std::array<std::array<Vec2, samples>, 16> at;
    Spirals() {
        for (std::size_t k = 0; k < at.size(); ++k)
            for (std::size_t i = 0; i < samples; ++i) {
                const float share = (static_cast<float>(i) + 0.5f) / samples,
                            angle = share * turns * 2 * float_pi + static_cast<float>(k) * (2 * float_pi / 16);
                at[k][i] = Vec2(std::cos(angle), std::sin(angle)) * share;
            }
    }
};
const Spirals& spirals() {
    static const Spirals all;
    return all;
}

/// Every second pixel both ways.
struct Half {
    int width, height;
    std::vector<Vec3> at;      // seen from the eye: right, down, ahead; ahead 0 for nothing
    std::vector<float> light;  // what reaches it
    std::size_t place(int x, int y) const {
        return static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x);
    }
    const Vec3& held(int x, int y) const {
        return at[place(std::clamp(x, 0, width - 1), std::clamp(y, 0, height - 1))];
    }
};

Half halved(const DepthView& view) {
    Half half{(view.width + 1) / 2, (view.height + 1) / 2, {}, {}};
    const float pixel = 2 * view.half_height / static_cast<float>(view.height);
    half.at.reserve(static_cast<std::size_t>(half.width) * static_cast<std::size_t>(half.height));
    for (int y = 0; y < half.height; ++y)
        for (int x = 0; x < half.width; ++x) {
            const float d = view.depth[static_cast<std::size_t>(2 * y) * static_cast<std::size_t>(view.width) +
                                       static_cast<std::size_t>(2 * x)];
            const float spread = view.flat ? 1.0f : d;
            half.at.emplace_back((static_cast<float>(2 * x) - static_cast<float>(view.width) / 2) * pixel * spread,
                                 (static_cast<float>(2 * y) - static_cast<float>(view.height) / 2) * pixel * spread, d);
        }
    half.light.assign(half.at.size(), 1);
    return half;
}

/// Across the smaller step of depth to either side, so that an outline does not bend the plane.
Vec3 slope(const Half& half, int x, int y, int dx, int dy) {
    const Vec3 here = half.held(x, y), ahead = half.held(x + dx, y + dy) - here,
               behind = here - half.held(x - dx, y - dy);
    return std::abs(ahead.z) < std::abs(behind.z) ? ahead : behind;
}

float light_at(const Half& half, const DepthView& view, int x, int y, float radius) {
    const Vec3 here = half.at[half.place(x, y)];
    if (!(here.z > 0)) return 1;
    const Vec3 across = glm::cross(slope(half, x, y, 1, 0), slope(half, x, y, 0, 1));
    const float length = glm::length(across);
    if (!(length > 0)) return 1;
    const Vec3 normal = across * ((glm::dot(across, here) > 0 ? -1.0f : 1.0f) / length);
    const float pixels = std::min(radius / (view.half_height * (view.flat ? 1.0f : here.z)), 2 * most_reach) *
                         static_cast<float>(half.height) / 2;
    if (pixels < 1) return 1;
    const float most2 = radius * radius;
    float sum = 0;
    for (const Vec2& share : spirals().at[static_cast<std::size_t>((x % 4 * 4 + y % 4 * 7) % 16)]) {
        const int u = static_cast<int>(static_cast<float>(x) + share.x * pixels + 0.5f),
                  v = static_cast<int>(static_cast<float>(y) + share.y * pixels + 0.5f);
        if (u < 0 || v < 0 || u >= half.width || v >= half.height) continue;
        const Vec3& other = half.at[half.place(u, v)];
        if (!(other.z > 0)) continue;
        const Vec3 off = other - here;
        const float far2 = glm::dot(off, off), within = 1 - far2 / most2;
        if (within <= 0) continue;
        const float stands_out = glm::dot(off, normal) / std::sqrt(std::max(far2, 1e-12f)) - lean;
        sum += within * within * std::max(0.0f, stands_out);
    }
    return std::max(0.0f, 1 - strength * sum / samples);
}

/// Four by four pixels of about the same depth.
std::vector<float> blended(const Half& half) {
    std::vector<float> out(half.light.size());
    parallel::each(parallel::Numbers<int>(0, half.height, 16), [&](const auto& rows) {
        for (int y = rows.begin(); y != rows.end(); ++y)
            for (int x = 0; x < half.width; ++x) {
                const float depth = half.at[half.place(x, y)].z;
                float sum = 0, weight = 0;
                for (int v = std::max(0, y - 2); v < std::min(half.height, y + 2); ++v)
                    for (int u = std::max(0, x - 2); u < std::min(half.width, x + 2); ++u) {
                        const std::size_t i = half.place(u, v);
                        if (std::abs(half.at[i].z - depth) > 0.02f * std::max(depth, 1e-6f)) continue;
                        sum += half.light[i], ++weight;
                    }
                out[half.place(x, y)] = weight > 0 ? sum / weight : 1;
            }
    });
    return out;
}

}  // namespace

std::vector<float> occlusion(const DepthView& view, float radius) {
    Half half = halved(view);
    parallel::each(parallel::Numbers<int>(0, half.height, 8), [&](const auto& rows) {
        for (int y = rows.begin(); y != rows.end(); ++y)
            for (int x = 0; x < half.width; ++x) half.light[half.place(x, y)] = light_at(half, view, x, y, radius);
    });
    const std::vector<float> light = blended(half);
    std::vector<float> out(view.depth.size(), 1);
    parallel::each(parallel::Numbers<int>(0, view.height, 16), [&](const auto& rows) {
        for (int y = rows.begin(); y != rows.end(); ++y)
            for (int x = 0; x < view.width; ++x) {
                const std::size_t i =
                    static_cast<std::size_t>(y) * static_cast<std::size_t>(view.width) + static_cast<std::size_t>(x);
                if (!(view.depth[i] > 0)) continue;
                // Of the four nearest those on the same surface.
                float sum = 0, weight = 0;
                for (const auto& [u, v] : {std::array{x / 2, y / 2},
                                           {(x + 1) / 2, y / 2},
                                           {x / 2, (y + 1) / 2},
                                           {(x + 1) / 2, (y + 1) / 2}}) {
                    if (u >= half.width || v >= half.height) continue;
                    const std::size_t j = half.place(u, v);
                    if (std::abs(half.at[j].z - view.depth[i]) > 0.03f * view.depth[i]) continue;
                    sum += light[j], ++weight;
                }
                if (weight > 0) out[i] = sum / weight;
            }
    });
    return out;
}

}  // namespace bricol
