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

namespace {

constexpr double same_place = 1e-7;  // metres

double apart(const LatheProfile::Point& a, const LatheProfile::Point& b) {
    return std::hypot(a.u - b.u, a.v - b.v, a.h - b.h);
}

/// The points in the frame, each once.
void take_points(LatheProfile& profile, const Polyline& line, const Frame& frame) {
    for (std::size_t i = 0; i < line.points.size(); ++i) {
        stop_point(i);
        const DVec3 p = DVec3(line.points[i]) - frame.centre;
        LatheProfile::Point point{};
        point.u = glm::dot(p, frame.across);
        point.v = glm::dot(p, frame.over);
        point.h = glm::dot(p, frame.along);
        point.knot = i < line.knot.size() ? line.knot[i] : -1;
        point.sharp = i < line.sharp.size() && line.sharp[i];
        point.source = static_cast<Index>(i);
        if (!profile.points.empty() && apart(point, profile.points.back()) < same_place)
            ++profile.repeats;
        else
            profile.points.push_back(point);
    }
    if (profile.points.size() < 2 || apart(profile.points.front(), profile.points.back()) >= same_place) return;
    profile.points.pop_back();
    if (profile.closed)
        ++profile.repeats;
    else
        profile.closed = profile.points.size() > 2;
}

/// Shifts the profile to the side of the axis that was asked for. "Outwards", for sides and for telling what crosses,
/// is the direction of the point farthest from the axis.
void set_aside(LatheProfile& profile, AxisSide side) {
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
    if (side == AxisSide::inner) shift = -low;
    if (side == AxisSide::middle) shift = -(low + high) / 2;
    if (side == AxisSide::outer) shift = -high;
    profile.planar = off_plane < 1e-6 && (low + shift > -1e-9 || high + shift < 1e-9);
    for (auto& p : profile.points) {
        p.u += shift * far_u;
        p.v += shift * far_v;
        p.radius = std::hypot(p.u, p.v);
    }
}

/// Points within the weld distance go onto the axis; two neighbours that this puts on one spot are one point.
void weld_to_axis(LatheProfile& profile, double distance) {
    for (auto& p : profile.points)
        if (p.radius <= distance) p.u = p.v = p.radius = 0;
    const auto same = [](const LatheProfile::Point& a, const LatheProfile::Point& b) {
        return a.radius == 0 && b.radius == 0 && std::abs(a.h - b.h) < same_place;
    };
    profile.points.erase(std::unique(profile.points.begin(), profile.points.end(), same), profile.points.end());
}

/// Leads open ends to the axis, so that the solid closes.
void cap_ends(LatheProfile& profile) {
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

}  // namespace

LatheProfile prepare_profile(const Polyline& line, const LatheOptions& options) {
    LatheProfile profile;
    profile.closed = line.closed;
    const double total_angle = options.angle * options.turns, total_rise = options.rise * options.turns;
    profile.full_turn = total_rise == 0 && std::abs(total_angle) > 360 - 1e-6;
    take_points(profile, line, options.frame);
    if (profile.points.size() < 2) {
        profile.points.clear();
        return profile;
    }
    set_aside(profile, options.side);
    if (total_angle == 0) return profile;  // only raised: the axis does not matter
    weld_to_axis(profile, options.weld);
    if (options.caps && !profile.closed && total_rise == 0 && profile.points.size() > 1) cap_ends(profile);
    return profile;
}

}  // namespace bricol
