// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/bent_fillet.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace bricol {

namespace {

Cubic first_part(const Cubic& c, double t) {
    const DVec3 ab = glm::mix(c[0], c[1], t), bc = glm::mix(c[1], c[2], t), cd = glm::mix(c[2], c[3], t);
    const DVec3 abc = glm::mix(ab, bc, t), bcd = glm::mix(bc, cd, t);
    return {c[0], ab, abc, glm::mix(abc, bcd, t)};
}

Cubic backwards(const Cubic& c) { return {c[3], c[2], c[1], c[0]}; }

/// The unit way at a parameter; at an end without a handle the way to the next control point that lies elsewhere.
DVec3 way_at(const Cubic& c, double t) {
    const DVec3 slope = cubic_way(c, t);
    const double size = glm::distance(c[0], c[1]) + glm::distance(c[1], c[2]) + glm::distance(c[2], c[3]);
    if (glm::length(slope) > 1e-9 * size) return glm::normalize(slope);
    const DVec3 near = t < 0.5 ? (glm::distance(c[2], c[0]) > 1e-9 * size ? c[2] - c[0] : c[3] - c[0])
                               : (glm::distance(c[1], c[3]) > 1e-9 * size ? c[3] - c[1] : c[3] - c[0]);
    return glm::length(near) > 0 ? glm::normalize(near) : DVec3(0);
}

/// The parameter in 0..last where a span comes nearest to a point, seen in the plane; sampled, then narrowed by thirds.
double nearest_on(const Cubic& flat, const DVec3& p, double last, double* distance) {
    constexpr int samples = 48;
    int best = 0;
    double least = 1e300;
    for (int i = 0; i <= samples; ++i)
        if (const double d = glm::distance(cubic_at(flat, last * i / samples), p); d < least) least = d, best = i;
    double low = last * std::max(0, best - 1) / samples, high = last * std::min(samples, best + 1) / samples;
    for (int round = 0; round < 48; ++round) {
        const double a = low + (high - low) / 3, b = high - (high - low) / 3;
        if (glm::distance(cubic_at(flat, a), p) < glm::distance(cubic_at(flat, b), p))
            high = b;
        else
            low = a;
    }
    const double t = (low + high) / 2;
    *distance = glm::distance(cubic_at(flat, t), p);
    return t;
}

}  // namespace

Cubic cubic_between(const Cubic& c, double from, double to) {
    Cubic out = to < 1 ? first_part(c, to) : c;
    if (from > 0 && to > 0) out = backwards(first_part(backwards(out), 1 - from / to));
    return out;
}

TouchingCircle touching_circle(const Cubic& in, const Cubic& out, double radius, double first, double last) {
    TouchingCircle found;
    const DVec3 arrives = way_at(in, 1), leaves = way_at(out, 0);
    const DVec3 across = glm::cross(arrives, leaves);
    if (glm::length(across) < 1e-4) return found;
    const DVec3 normal = glm::normalize(across), corner = in[3];
    const auto flat = [&](const Cubic& c) {
        Cubic f = c;
        for (DVec3& p : f) p -= normal * glm::dot(p - corner, normal);
        return f;
    };
    const Cubic a = flat(in), b = flat(out);
    const auto centre_at = [&](double s, double r) { return cubic_at(a, s) + glm::cross(normal, way_at(a, s)) * r; };
    // At the corner the circle beside the first span reaches over the second; farther back it lets go of it.
    const auto fits = [&](double r) {
        const auto gap = [&](double s, double* t) {
            double d = 0;
            *t = nearest_on(b, centre_at(s, r), last, &d);
            return d - r;
        };
        constexpr int steps = 40;
        double t = 0, inside = 1, outside = 1;
        for (int i = 1; i <= steps; ++i) {
            outside = 1 - (1 - first) * i / steps;
            if (gap(outside, &t) >= 0) break;
            inside = outside;
            if (i == steps) return false;
        }
        for (int round = 0; round < 48; ++round) {
            const double middle = (inside + outside) / 2;
            (gap(middle, &t) >= 0 ? outside : inside) = middle;
        }
        const double missed = gap(outside, &t);
        if (t >= last * (1 - 1e-6) || t <= 1e-9 || std::abs(missed) > 1e-6 * r + 1e-12) return false;
        found.radius = r, found.arriving = outside, found.leaving = t;
        return true;
    };
    if (!fits(radius)) {
        double low = 0, high = radius;
        for (int round = 0; round < 10; ++round) {
            const double middle = (low + high) / 2;
            (fits(middle) ? low : high) = middle;
        }
        if (low <= 0 || !fits(low)) return TouchingCircle{};
    }
    found.centre = centre_at(found.arriving, found.radius);
    found.begins = way_at(in, found.arriving);
    found.ends = way_at(out, found.leaving);
    const DVec3 from = cubic_at(a, found.arriving) - found.centre, to = cubic_at(b, found.leaving) - found.centre;
    found.angle = std::atan2(glm::dot(glm::cross(from, to), normal), glm::dot(from, to));
    if (found.angle < 0) found.angle += 2 * std::numbers::pi;
    return found.angle > 1e-6 && found.angle < std::numbers::pi * 1.5 ? found : TouchingCircle{};
}

}  // namespace bricol
