// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/shadow_sources.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace bricol {

namespace {

constexpr double golden_angle = 2.399963229728653;  // radians

struct LampAxes {
    DVec3 forward, right, up;
};

LampAxes axes_of(const StageLamp& lamp) {
    const DVec3 way = lamp.aim - lamp.at;
    LampAxes axes;
    axes.forward = glm::length(way) > 0 ? glm::normalize(way) : DVec3(0, 0, -1);
    // Level, as the paths of light have it: a rectangle's width lies along the ground.
    const DVec3 level = glm::cross(axes.forward, DVec3(0, 0, 1));
    axes.right = glm::length(level) > 1e-6 ? glm::normalize(level) : DVec3(1, 0, 0);
    axes.up = glm::cross(axes.right, axes.forward);
    return axes;
}

/// Watts a square metre on level ground.
double irradiance(const StageLamp& lamp, const DVec3& foot) {
    const LampAxes axes = axes_of(lamp);
    if (lamp.kind == StageLamp::Kind::sun) return std::max(0.0, -axes.forward.z) * lamp.strength;
    const DVec3 off = lamp.at - foot;
    const double distance = glm::length(off);
    if (lamp.at.z <= 0 || distance < 1e-9) return 0;
    const double on_ground = off.z / distance, from_lamp = -glm::dot(off / distance, axes.forward);
    const double square = distance * distance;
    switch (lamp.kind) {
        case StageLamp::Kind::point:
            return lamp.strength / (4 * std::numbers::pi) * on_ground / square;
        case StageLamp::Kind::spot: {
            const double cone = std::cos(lamp.angle / 2 * std::numbers::pi / 180);
            return from_lamp > cone
                       ? lamp.strength / (2 * std::numbers::pi * std::max(1e-6, 1 - cone)) * on_ground / square
                       : 0;
        }
        default:
            return lamp.strength / std::numbers::pi * std::max(0.0, from_lamp) * on_ground / square;
    }
}

double brightness(const DVec3& colour) { return (colour.x + colour.y + colour.z) / 3; }

/// The k-th of n places on a disc of radius 1, evenly spread: H. Vogel, "A better way to construct the sunflower head",
/// 1979.
glm::dvec2 on_disc(int k, int n) {
    const double r = std::sqrt((k + 0.5) / n), a = k * golden_angle;
    return {r * std::cos(a), r * std::sin(a)};
}

ShadowSource place_on(const StageLamp& lamp, const LampAxes& axes, int k, int n) {
    switch (lamp.kind) {
        case StageLamp::Kind::sun: {
            const glm::dvec2 at = on_disc(k, n) * std::tan(std::min(lamp.angle, 170.0) / 2 * std::numbers::pi / 180);
            return {glm::normalize(-axes.forward + axes.right * at.x + axes.up * at.y), true};
        }
        case StageLamp::Kind::disc: {
            const glm::dvec2 at = on_disc(k, n) * lamp.radius;
            return {lamp.at + axes.right * at.x + axes.up * at.y};
        }
        case StageLamp::Kind::rectangle: {
            // One to each of n rows, its place along the row by the golden section: even along both sides.
            const double u = std::fmod(0.5 + k * std::numbers::phi, 1.0) - 0.5, v = (k + 0.5) / n - 0.5;
            return {lamp.at + axes.right * (u * lamp.width) + axes.up * (v * lamp.height)};
        }
        default:
            return {lamp.at};
    }
}

}  // namespace

ShadowSources shadow_sources(std::span<const StageLamp> lamps, const StageSky& sky, const DVec3& foot, int count) {
    std::vector<double> given;
    double all = 0;
    for (const StageLamp& lamp : lamps) given.push_back(irradiance(lamp, foot));
    for (const double one : given) all += one;
    const double from_sky =
        sky.strength * std::numbers::pi * (sky.picture ? 1 : (brightness(sky.above) + brightness(sky.horizon)) / 2);
    ShadowSources out;
    if (all <= 0) return out;
    all += from_sky;
    out.all_around = from_sky / all;
    for (std::size_t i = 0; i < lamps.size(); ++i) {
        const double share = given[i] / all;
        if (share < 0.02) continue;
        const bool small = lamps[i].kind == StageLamp::Kind::point || lamps[i].kind == StageLamp::Kind::spot;
        const int n = small ? 1 : std::max(4, static_cast<int>(std::lround(share * count)));
        const LampAxes axes = axes_of(lamps[i]);
        for (int k = 0; k < n; ++k) {
            ShadowSource source = place_on(lamps[i], axes, k, n);
            source.weight = share / n;
            if (source.at.z > 1e-3) out.places.push_back(source);
        }
    }
    return out;
}

DVec3 thrown(const ShadowSource& source, const DVec3& p) {
    if (source.far) return {p.x - source.at.x * p.z / source.at.z, p.y - source.at.y * p.z / source.at.z, 0};
    const double w = source.at.z - p.z;
    return {(source.at.z * p.x - p.z * source.at.x) / w, (source.at.z * p.y - p.z * source.at.y) / w, 0};
}

}  // namespace bricol
