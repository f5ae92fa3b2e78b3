// SPDX-License-Identifier: GPL-3.0-or-later
// A drawn line as the lathe wants it.
#include "core/kernels/lathe.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/ground/stop.h"
#include "core/kernels/normals.h"
#include "core/ground/numbers.h"

namespace bricol {

Frame axis_frame(int axis, const DVec3& centre) {
    Frame frame;
    frame.centre = centre;
    const DVec3 unit[3] = {{1, 0, 0}, {0, 1, 0}, {0, 0, 1}};
    frame.across = unit[(axis + 1) % 3];
    frame.over = unit[(axis + 2) % 3];
    frame.along = unit[axis];
    return frame;
}

LatheProfile prepare_profile(const Polyline& line, const LatheOptions& options) {
    LatheProfile profile;
    profile.closed = line.closed;
    const double total_angle = options.angle * options.turns, total_rise = options.rise * options.turns;
    profile.full_turn = total_rise == 0 && std::abs(total_angle) > 360 - 1e-6;
    const Frame& frame = options.frame;

    for (std::size_t i = 0; i < line.points.size(); ++i) {
        stop_point(i);
        const DVec3 p = DVec3(line.points[i]) - frame.centre;
        LatheProfile::Point point{};
        point.u = glm::dot(p, frame.across);
        point.v = glm::dot(p, frame.over);
        point.h = glm::dot(p, frame.along);
        point.knot = i < line.knot.size() ? line.knot[i] : -1;
        point.sharp = i < line.sharp.size() && line.sharp[i];
        if (!profile.points.empty()) {
            const auto& last = profile.points.back();
            if (std::hypot(point.u - last.u, point.v - last.v, point.h - last.h) < 1e-7) {
                ++profile.repeats;
                continue;
            }
        }
        profile.points.push_back(point);
    }
    if (profile.points.size() > 1) {
        const auto &first = profile.points.front(), &last = profile.points.back();
        if (std::hypot(first.u - last.u, first.v - last.v, first.h - last.h) < 1e-7) {
            profile.points.pop_back();
            if (profile.closed)
                ++profile.repeats;
            else
                profile.closed = profile.points.size() > 2;
        }
    }
    if (profile.points.size() < 2) {
        profile.points.clear();
        return profile;
    }

    // The direction of the point farthest from the axis is "outwards" for sides and for telling what crosses.
    double far_u = 1, far_v = 0, farthest = 0;
    for (const auto& p : profile.points)
        if (const double r = std::hypot(p.u, p.v); r > farthest) {
            farthest = r;
            far_u = p.u / r;
            far_v = p.v / r;
        }
    double low = 1e300, high = -1e300, off_plane = 0;
    for (const auto& p : profile.points) {
        const double s = p.u * far_u + p.v * far_v;
        low = std::min(low, s);
        high = std::max(high, s);
        off_plane = std::max(off_plane, std::abs(p.v * far_u - p.u * far_v));
    }
    double shift = 0;
    if (options.side == AxisSide::inner) shift = -low;
    if (options.side == AxisSide::middle) shift = -(low + high) / 2;
    if (options.side == AxisSide::outer) shift = -high;
    profile.planar = off_plane < 1e-6 && (low + shift > -1e-9 || high + shift < 1e-9);
    const bool axis_matters = total_angle != 0;
    for (auto& p : profile.points) {
        p.u += shift * far_u;
        p.v += shift * far_v;
        p.radius = std::hypot(p.u, p.v);
        if (axis_matters && p.radius <= options.weld) p.u = p.v = p.radius = 0;
    }
    // Two neighbours that welding put on one spot are one point.
    if (axis_matters) {
        const auto same = [](const LatheProfile::Point& a, const LatheProfile::Point& b) {
            return a.radius == 0 && b.radius == 0 && std::abs(a.h - b.h) < 1e-7;
        };
        profile.points.erase(std::unique(profile.points.begin(), profile.points.end(), same), profile.points.end());
    }
    // Lead open ends to the axis, so that the solid closes.
    if (options.caps && !profile.closed && axis_matters && total_rise == 0 && profile.points.size() > 1) {
        const auto on_axis = [](LatheProfile::Point end) {
            end.u = end.v = end.radius = 0;
            end.knot = -1;
            end.sharp = false;
            return end;
        };
        if (profile.points.front().radius > 0) {
            profile.points.front().sharp = true;
            profile.points.insert(profile.points.begin(), on_axis(profile.points.front()));
        }
        if (profile.points.back().radius > 0) {
            profile.points.back().sharp = true;
            profile.points.push_back(on_axis(profile.points.back()));
        }
    }
    return profile;
}

}  // namespace bricol
