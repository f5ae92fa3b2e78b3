// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/profile_check.h"

#include <algorithm>
#include <cmath>

namespace bricol {

namespace {

double cross(const DVec2& a, const DVec2& b) { return a.x * b.y - a.y * b.x; }

/// Where two pieces properly cross; shared ends and touching do not count.
bool crossing(const DVec2& a, const DVec2& b, const DVec2& c, const DVec2& d, double& along) {
    const DVec2 ab = b - a, cd = d - c;
    const double whole = cross(ab, cd);
    if (std::abs(whole) < 1e-18) return false;
    along = cross(c - a, cd) / whole;
    const double other = cross(c - a, ab) / whole;
    constexpr double margin = 1e-9;
    return along > margin && along < 1 - margin && other > margin && other < 1 - margin;
}

}  // namespace

ProfileFaults check_profile(const Polyline& line, const LatheOptions& options) {
    ProfileFaults faults;
    LatheOptions plain = options;
    plain.caps = false;  // what caps add is not the artist's
    const LatheProfile profile = prepare_profile(line, plain);
    const std::size_t n = profile.points.size();
    if (n < 2) return faults;
    const Frame& frame = options.frame;
    const auto place = [&](const LatheProfile::Point& p) {
        return Vec3(frame.centre + frame.across * p.u + frame.over * p.v + frame.along * p.h);
    };
    double widest = 0, far_u = 1, far_v = 0;
    for (const auto& p : profile.points)
        if (p.radius > widest) {
            widest = p.radius;
            far_u = p.u / p.radius;
            far_v = p.v / p.radius;
        }
    std::vector<DVec2> flat(n);
    for (std::size_t i = 0; i < n; ++i)
        flat[i] = {profile.points[i].u * far_u + profile.points[i].v * far_v, profile.points[i].h};

    // A profile that lies flat across the axis is pulled along it: it may surround the axis, and is looked at from
    // above.
    const auto [lowest, highest] = std::ranges::minmax(profile.points, {}, &LatheProfile::Point::h);
    const bool pulled = options.rise != 0 && highest.h - lowest.h < 1e-6 * widest;
    if (pulled)
        for (std::size_t i = 0; i < n; ++i) flat[i] = {profile.points[i].u, profile.points[i].v};
    const bool turns = options.angle != 0 && !pulled;
    const auto neighbour = [&](std::size_t i, int step) -> const LatheProfile::Point* {
        if (!profile.closed && ((i == 0 && step < 0) || (i + 1 == n && step > 0))) return nullptr;
        return &profile.points[(i + n + static_cast<std::size_t>(step + static_cast<int>(n))) % n];
    };
    for (std::size_t i = 0; i < n && turns; ++i) {
        const auto& p = profile.points[i];
        if (flat[i].x < -std::max<double>(options.weld, 1e-7)) faults.across.push_back({place(p), p.knot, -flat[i].x});
        if (p.radius == 0 || p.radius > 0.01 * widest || p.radius > 0.02) continue;
        const auto *before = neighbour(i, -1), *after = neighbour(i, 1);
        if ((before && before->radius < p.radius) || (after && after->radius < p.radius)) continue;
        faults.near_axis.push_back({place(p), p.knot, p.radius});
    }
    // A profile that strays across as a whole sits on the other side, which is fine.
    if (faults.across.size() == n) faults.across.clear();

    const std::size_t spans = profile.closed ? n : n - 1;
    if (spans <= 4000 && (pulled || profile.planar || !faults.across.empty()))
        for (std::size_t i = 0; i < spans; ++i) {
            const DVec2 &a = flat[i], &b = flat[(i + 1) % n];
            const DVec2 low = glm::min(a, b), high = glm::max(a, b);
            for (std::size_t j = i + 2; j < spans; ++j) {
                const DVec2 &c = flat[j], &d = flat[(j + 1) % n];
                if (std::max(c.x, d.x) < low.x || std::min(c.x, d.x) > high.x || std::max(c.y, d.y) < low.y ||
                    std::min(c.y, d.y) > high.y)
                    continue;
                double along = 0;
                if (!crossing(a, b, c, d, along)) continue;
                auto at = profile.points[i];
                const auto& to = profile.points[(i + 1) % n];
                at.u += (to.u - at.u) * along;
                at.v += (to.v - at.v) * along;
                at.h += (to.h - at.h) * along;
                faults.crossings.push_back({place(at), -1, 0});
                if (faults.crossings.size() >= 32) return faults;
            }
        }
    for (std::size_t i = 0; i < n; ++i) {
        if (!profile.closed && (i == 0 || i + 1 == n)) continue;
        const auto& p = profile.points[i];
        if (p.knot < 0) continue;  // pieces of a bend are there for the bend
        const auto &a = profile.points[(i + n - 1) % n], &b = profile.points[(i + 1) % n];
        const DVec3 in(p.u - a.u, p.v - a.v, p.h - a.h), to(b.u - p.u, b.v - p.v, b.h - p.h);
        const double lengths = glm::length(in) * glm::length(to);
        // One set close beside a corner is there to hold the corner when the shape is subdivided.
        const double uneven = std::min(glm::length(in), glm::length(to)) / std::max(glm::length(in), glm::length(to));
        if (uneven < 0.3) continue;
        if (lengths > 0 && glm::dot(in, to) > 0 && glm::length(glm::cross(in, to)) < 1e-4 * lengths)
            faults.needless.push_back({place(p), p.knot, 0});
    }
    return faults;
}

}  // namespace bricol
