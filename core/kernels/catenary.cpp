// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/catenary.h"

#include <algorithm>
#include <cmath>

namespace bricol {

namespace {

/// Nearer than this share of its length along the ground, and a rope hangs straight down.
constexpr double upright_below = 1e-9;

/// x > 0 with sinh x = s x, for s > 1.
double slackness(double s) {
    double x = s < 3 ? std::sqrt(6 * (s - 1)) : std::log(2 * s) + std::log(std::log(2 * s));
    for (int round = 0; round < 60; ++round) {
        const double step = (std::sinh(x) - s * x) / (std::cosh(x) - s);
        x -= step;
        if (std::abs(step) < 1e-15 * x) break;
    }
    return x;
}

}  // namespace

double Catenary::lowest() const {
    const double ends = std::min(from.z, to.z);
    if (a == 0) return ends - (length - std::abs(to.z - from.z)) / 2;
    if (first >= 0 || first + across <= 0) return ends;
    const double half = std::sinh(first / (2 * a));
    return from.z - 2 * a * half * half;
}

double Catenary::pull_from() const { return a == 0 ? (length + from.z - to.z) / 2 : a * std::cosh(first / a); }
double Catenary::pull_to() const { return a == 0 ? (length + to.z - from.z) / 2 : a * std::cosh((first + across) / a); }

std::optional<Catenary> hung(const DVec3& from, const DVec3& to, double length) {
    Catenary rope{from, to, length};
    const double apart = glm::distance(from, to), up = to.z - from.z;
    rope.across = std::hypot(to.x - from.x, to.y - from.y);
    if (!(length >= apart * (1 - 1e-9)) || length <= 0) return std::nullopt;
    rope.length = std::max(length, apart * (1 + 1e-12));
    if (rope.across <= upright_below * rope.length) return rope;
    const double s = std::sqrt((rope.length - up) * (rope.length + up)) / rope.across;
    rope.a = rope.across / (2 * slackness(std::max(s, 1 + 1e-14)));
    rope.first = rope.a * std::atanh(up / rope.length) - rope.across / 2;
    return rope;
}

std::vector<Knot> knots_along(const Catenary& rope, int pieces) {
    std::vector<Knot> knots;
    const auto add = [&](const DVec3& at, const DVec3& handle) {
        Knot knot;
        knot.at = Vec3(at);
        knot.out = Vec3(handle), knot.in = -knot.out;
        if (handle != DVec3(0)) knot.kind = KnotKind::free;
        knots.push_back(knot);
    };
    if (rope.a == 0) {
        add(rope.from, DVec3(0));
        add(DVec3((rope.from.x + rope.to.x) / 2, (rope.from.y + rope.to.y) / 2, rope.lowest()), DVec3(0));
        add(rope.to, DVec3(0));
        return knots;
    }
    const DVec3 along = DVec3(rope.to.x - rope.from.x, rope.to.y - rope.from.y, 0) / rope.across;
    const double a = rope.a, begin = a * std::sinh(rope.first / a), piece = rope.length / pieces;
    for (int k = 0; k <= pieces; ++k) {
        const double arc = begin + piece * k, u = a * std::asinh(arc / a);
        // The difference of two cosines as a product: a taut rope's would lose its digits.
        const double up = 2 * a * std::sinh((u + rope.first) / (2 * a)) * std::sinh((u - rope.first) / (2 * a));
        const DVec3 at = k == 0        ? rope.from
                         : k == pieces ? rope.to
                                       : rope.from + along * (u - rope.first) + DVec3(0, 0, up);
        const double slope = std::sinh(u / a);
        add(at, (along + DVec3(0, 0, slope)) / std::cosh(u / a) * (piece / 3));
    }
    knots.front().in = knots.back().out = Vec3(0);
    return knots;
}

}  // namespace bricol
