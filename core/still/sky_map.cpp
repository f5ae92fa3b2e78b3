// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/still/sky_map.h"

#include <algorithm>
#include <cmath>

#include "core/still/numbers.h"

namespace bricol {

namespace {

/// The place of `share` in sums that grow, and how far it lies between the sum before it and its own.
std::size_t place_in(const float* sums, std::size_t count, float share, float& between) {
    const float wanted = share * sums[count - 1];
    const auto at = std::min(static_cast<std::size_t>(std::upper_bound(sums, sums + count, wanted) - sums), count - 1);
    const float before = at > 0 ? sums[at - 1] : 0, size = sums[at] - before;
    between = size > 0 ? std::clamp((wanted - before) / size, 0.0f, 0.99999f) : 0.5f;
    return at;
}

}  // namespace

SkyMap::SkyMap(std::shared_ptr<const SkyPicture> picture, double turn)
    : picture_(std::move(picture)), turn_(static_cast<float>(turn / 180 * std::numbers::pi)) {
    const auto width = static_cast<std::size_t>(picture_->width), height = static_cast<std::size_t>(picture_->height);
    pixels_.resize(width * height);
    for (std::size_t y = 0; y < height; ++y) {
        double row = 0;
        for (std::size_t x = 0; x < width; ++x) {
            row += std::max(0.0, static_cast<double>(brightness(picture_->pixels[y * width + x])));
            pixels_[y * width + x] = static_cast<float>(row);
        }
        // A row's share of the sphere, exactly: the difference of the cosines of its edges.
        const double from = std::cos(std::numbers::pi * static_cast<double>(y) / static_cast<double>(height)),
                     to = std::cos(std::numbers::pi * static_cast<double>(y + 1) / static_cast<double>(height));
        whole_ += row * (from - to) / static_cast<double>(width);
        rows_.push_back(static_cast<float>(whole_));
    }
}

std::size_t SkyMap::pixel_of(const Vec3& way) const {
    const float down = std::acos(std::clamp(way.z, -1.0f, 1.0f)) / float_pi;
    float across = 0.5f - (std::atan2(way.y, way.x) - turn_) / (2 * float_pi);
    across -= std::floor(across);
    const auto place = [](float share, int count) {
        return static_cast<std::size_t>(std::clamp(static_cast<int>(share * static_cast<float>(count)), 0, count - 1));
    };
    return place(down, picture_->height) * static_cast<std::size_t>(picture_->width) + place(across, picture_->width);
}

Vec3 SkyMap::light(const Vec3& way) const { return picture_->pixels[pixel_of(way)]; }

float SkyMap::density(const Vec3& way) const { return pixel_density(pixel_of(way)); }

/// Of directions within a pixel all alike: its brightness over the mean brightness, over the sphere.
float SkyMap::pixel_density(std::size_t pixel) const {
    if (!(whole_ > 0)) return 1 / (4 * float_pi);
    return brightness(picture_->pixels[pixel]) / static_cast<float>(whole_ * 2 * std::numbers::pi);
}

Vec3 SkyMap::sampled(const Vec2& two, float& density) const {
    const auto width = static_cast<std::size_t>(picture_->width), height = static_cast<std::size_t>(picture_->height);
    float down = 0, across = 0;
    if (!(whole_ > 0)) {
        density = 1 / (4 * float_pi);
        return {0, 0, 1};
    }
    const std::size_t y = place_in(rows_.data(), height, two.x, down);
    const std::size_t x = place_in(&pixels_[y * width], width, two.y, across);
    const float above = std::cos(float_pi * static_cast<float>(y) / static_cast<float>(height)),
                below = std::cos(float_pi * static_cast<float>(y + 1) / static_cast<float>(height));
    const float z = above + (below - above) * down, r = std::sqrt(std::max(0.0f, 1 - z * z));
    const float round = turn_ + 2 * float_pi * (0.5f - (static_cast<float>(x) + across) / static_cast<float>(width));
    density = pixel_density(y * width + x);
    return {r * std::cos(round), r * std::sin(round), z};
}

}  // namespace bricol
