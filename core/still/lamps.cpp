// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/still/lamps.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace bricol {

namespace {

constexpr float far_away = 1e20f;

Vec3 hue_of(const DVec3& colour) {
    const double bright = 0.2126 * colour.x + 0.7152 * colour.y + 0.0722 * colour.z;
    return bright > 0 ? Vec3(colour / bright) : Vec3(0);
}

float half_angle_cosine(double degrees) {
    return static_cast<float>(std::cos(std::clamp(degrees, 1e-3, 360.0) / 360 * std::numbers::pi));
}

Vec3 unit_across(const Vec3& forward) {
    const Vec3 side = glm::cross(forward, Vec3(0, 0, 1));
    return glm::dot(side, side) > 1e-8f ? glm::normalize(side) : Vec3(1, 0, 0);
}

/// A direction evenly out of the cone round `forward`.
Vec3 in_cone(const Vec3& forward, const Vec3& right, const Vec3& up, float cosine, const Vec2& two) {
    const float z = 1 - two.x * (1 - cosine), r = std::sqrt(std::max(0.0f, 1 - z * z)), phi = 2 * float_pi * two.y;
    return glm::normalize(right * (r * std::cos(phi)) + up * (r * std::sin(phi)) + forward * z);
}

}  // namespace

Lamps::Lamps(const std::vector<StageLamp>& lights, const StageSky& sky, std::vector<ShiningTriangle> shining)
    : sky_(sky), sky_shines_(sky.strength > 0), shining_(std::move(shining)) {
    for (const StageLamp& light : lights)
        if (light.strength > 0) lamps_.push_back(lamp_of(light));
    if (sky_shines_ && sky.picture) map_.emplace(sky.picture, sky.turn);
    double sum = 0;
    for (const ShiningTriangle& t : shining_) {
        sum += static_cast<double>(brightness(t.light) * glm::length(glm::cross(t.a, t.b))) / 2;
        up_to_.push_back(static_cast<float>(sum));
    }
    if (!(sum > 0)) shining_.clear(), up_to_.clear();
}

Lamps::Lamp Lamps::lamp_of(const StageLamp& light) {
    Lamp lamp{};
    lamp.kind = light.kind;
    lamp.at = Vec3(light.at);
    const DVec3 way = light.aim - light.at;
    lamp.forward = glm::length(way) > 0 ? Vec3(glm::normalize(way)) : Vec3(0, 0, -1);
    lamp.right = unit_across(lamp.forward);
    lamp.up = glm::cross(lamp.right, lamp.forward);
    lamp.half_width = static_cast<float>(std::max(light.width, 1e-4) / 2);
    lamp.half_height = static_cast<float>(std::max(light.height, 1e-4) / 2);
    lamp.radius = static_cast<float>(std::max(light.radius, 1e-4));
    lamp.cosine = half_angle_cosine(light.angle);
    lamp.inner_cosine = half_angle_cosine(light.angle * (1 - std::clamp(light.soft, 0.0, 1.0)));
    const auto strength = static_cast<float>(light.strength);
    switch (light.kind) {
        case StageLamp::Kind::rectangle:
        case StageLamp::Kind::disc:
            lamp.area = light.kind == StageLamp::Kind::disc ? float_pi * lamp.radius * lamp.radius
                                                            : 4 * lamp.half_width * lamp.half_height;
            lamp.light = hue_of(light.colour) * (strength / (float_pi * lamp.area));
            break;
        case StageLamp::Kind::sun:
            lamp.light = hue_of(light.colour) * (strength / (float_pi * (1 - lamp.cosine * lamp.cosine)));
            break;
        case StageLamp::Kind::point:
            lamp.light = hue_of(light.colour) * (strength / (4 * float_pi));
            break;
        case StageLamp::Kind::spot: {
            // What the cone lets out, its faded rim included, is the whole flux.
            double sum = 0;
            constexpr int steps = 512;
            for (int i = 0; i < steps; ++i)
                sum += fading(lamp, 1 - (1 - lamp.cosine) * (static_cast<float>(i) + 0.5f) / steps);
            lamp.light = hue_of(light.colour) *
                         static_cast<float>(strength / (2 * std::numbers::pi * (1 - lamp.cosine) * sum / steps));
            break;
        }
    }
    return lamp;
}

float Lamps::fading(const Lamp& lamp, float cosine) {
    if (cosine <= lamp.cosine) return 0;
    if (cosine >= lamp.inner_cosine) return 1;
    const float u = (cosine - lamp.cosine) / (lamp.inner_cosine - lamp.cosine);
    return u * u * (3 - 2 * u);
}

std::optional<LampHit> Lamps::hit_by(const Lamp& lamp, const Vec3& from, const Vec3& way, float reach) const {
    if (lamp.kind == StageLamp::Kind::sun) {
        if (reach < far_away || glm::dot(way, -lamp.forward) < lamp.cosine) return std::nullopt;
        return LampHit{lamp.light, 1 / (2 * float_pi * (1 - lamp.cosine)) / choices()};
    }
    if (lamp.kind != StageLamp::Kind::rectangle && lamp.kind != StageLamp::Kind::disc) return std::nullopt;
    const float toward = -glm::dot(way, lamp.forward);
    if (toward <= 1e-6f) return std::nullopt;  // it shines to its front only
    const float distance = glm::dot(from - lamp.at, lamp.forward) / toward;
    if (distance <= 0 || distance >= reach) return std::nullopt;
    const Vec3 off = from + way * distance - lamp.at;
    const float x = glm::dot(off, lamp.right), y = glm::dot(off, lamp.up);
    const bool inside = lamp.kind == StageLamp::Kind::disc
                            ? x * x + y * y < lamp.radius * lamp.radius
                            : std::abs(x) < lamp.half_width && std::abs(y) < lamp.half_height;
    if (!inside) return std::nullopt;
    return LampHit{lamp.light, distance * distance / (toward * lamp.area) / choices()};
}

WayToLamp Lamps::way_to(const Lamp& lamp, const Vec3& from, const Vec2& two) const {
    WayToLamp out;
    if (lamp.kind == StageLamp::Kind::sun) {
        out.way = in_cone(-lamp.forward, lamp.right, lamp.up, lamp.cosine, two);
        out.distance = far_away;
        out.light = lamp.light;
        out.density = 1 / (2 * float_pi * (1 - lamp.cosine));
        return out;
    }
    Vec3 to = lamp.at;
    if (lamp.kind == StageLamp::Kind::rectangle)
        to += lamp.right * ((2 * two.x - 1) * lamp.half_width) + lamp.up * ((2 * two.y - 1) * lamp.half_height);
    if (lamp.kind == StageLamp::Kind::disc) {
        const float r = lamp.radius * std::sqrt(two.x), phi = 2 * float_pi * two.y;
        to += lamp.right * (r * std::cos(phi)) + lamp.up * (r * std::sin(phi));
    }
    const Vec3 off = to - from;
    const float distance2 = std::max(glm::dot(off, off), 1e-12f);
    out.distance = std::sqrt(distance2);
    out.way = off * (1 / out.distance);
    const float toward = -glm::dot(out.way, lamp.forward);
    switch (lamp.kind) {
        case StageLamp::Kind::point:
            out.light = lamp.light / distance2;
            break;
        case StageLamp::Kind::spot:
            out.light = lamp.light * (fading(lamp, toward) / distance2);
            break;
        default:
            if (toward > 1e-6f) {
                out.light = lamp.light;
                out.density = distance2 / (toward * lamp.area);
            }
    }
    return out;
}

std::optional<WayToLamp> Lamps::sampled(const Vec3& from, PathNumbers& numbers) const {
    if (empty()) return std::nullopt;
    const float count = choices();
    // The number that chooses the lamp is, over what it chose, one of the place on it too.
    Vec2 two = numbers.two();
    const float at = two.x * count;
    const auto which = std::min(static_cast<std::size_t>(at), static_cast<std::size_t>(count) - 1);
    two.x = std::min(at - static_cast<float>(which), 0x1.fffffep-1f);
    WayToLamp out = which < lamps_.size()                   ? way_to(lamps_[which], from, two)
                    : which == lamps_.size() && sky_shines_ ? way_to_sky(two)
                                                            : way_to_shining(from, numbers.one(), two);
    if (out.light == Vec3(0)) return std::nullopt;
    if (out.density > 0)
        out.density /= count;
    else
        out.light *= count;
    return out;
}

WayToLamp Lamps::way_to_sky(const Vec2& two) const {
    WayToLamp out;
    out.distance = far_away;
    if (map_) {
        out.way = map_->sampled(two, out.density);
    } else {
        const float z = 2 * two.x - 1, r = std::sqrt(std::max(0.0f, 1 - z * z)), phi = 2 * float_pi * two.y;
        out.way = {r * std::cos(phi), r * std::sin(phi), z};
        out.density = 1 / (4 * float_pi);
    }
    out.light = sky_light(out.way);
    return out;
}

WayToLamp Lamps::way_to_shining(const Vec3& from, float which, const Vec2& two) const {
    const auto found = std::ranges::upper_bound(up_to_, which * up_to_.back());
    const ShiningTriangle& t =
        shining_[std::min(static_cast<std::size_t>(found - up_to_.begin()), shining_.size() - 1)];
    const float root = std::sqrt(two.x), u = 1 - root, v = two.y * root;
    const Vec3 off = t.at + t.a * u + t.b * v - from, across = glm::cross(t.a, t.b);
    WayToLamp out;
    out.distance = std::max(glm::length(off), 1e-9f);
    out.way = off / out.distance;
    out.light = t.light;
    out.of_shape = true;
    out.density = shining_density(t.light, out.distance,
                                  std::abs(glm::dot(out.way, across)) / std::max(glm::length(across), 1e-20f)) *
                  choices();
    if (!(out.density > 0)) out.light = Vec3(0);
    return out;
}

float Lamps::shining_density(const Vec3& light, float distance, float cosine) const {
    if (shining_.empty() || !(cosine > 1e-6f)) return 0;
    return brightness(light) / up_to_.back() * distance * distance / cosine / choices();
}

Vec3 Lamps::sky_light(const Vec3& way) const {
    if (map_) return static_cast<float>(sky_.strength) * map_->light(way);
    const float share = std::sqrt(std::abs(way.z));
    return static_cast<float>(sky_.strength) *
           glm::mix(Vec3(sky_.horizon), Vec3(way.z > 0 ? sky_.above : sky_.below), share);
}

LampHit Lamps::sky(const Vec3& way) const {
    if (!sky_shines_) return {};
    return {sky_light(way), (map_ ? map_->density(way) : 1 / (4 * float_pi)) / choices()};
}

}  // namespace bricol
