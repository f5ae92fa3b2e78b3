// SPDX-License-Identifier: GPL-3.0-or-later
// Lines beside lines.
#include "core/kernels/curve_edit.h"
#include "core/ground/stop.h"
#include "core/kernels/cubic.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <polyclipping/clipper.hpp>

namespace bricol {

namespace {

double distance_to(const DVec3& p, const std::vector<DVec3>& line, bool closed) {
    double best = 1e300;
    for (std::size_t i = 0; i + (closed ? 0 : 1) < line.size(); ++i) {
        const DVec3 a = line[i], d = line[(i + 1) % line.size()] - a;
        const double t = std::clamp(glm::dot(p - a, d) / std::max(glm::dot(d, d), 1e-300), 0.0, 1.0);
        best = std::min(best, glm::distance(p, a + d * t));
    }
    return best;
}

/// Closed lines by Clipper, which keeps what is inside and outside straight where folds cross.
std::vector<Polyline> offset_closed(const std::vector<DVec3>& points, const OffsetOptions& options, const DVec3& up) {
    const DVec3 across = glm::normalize(std::abs(up.z) < 0.9 ? glm::cross(DVec3(0, 0, 1), up)
                                                             : glm::cross(DVec3(1, 0, 0), up)),
                over = glm::cross(up, across);
    double extent = std::abs(options.distance);
    for (const DVec3& p : points) extent = std::max(extent, glm::distance(p, points[0]));
    const double scale = 1e9 / extent;  // whole numbers, a billionth of the curve apart
    ClipperLib::Path path;
    double area = 0;
    for (std::size_t i = 0; i < points.size(); ++i) {
        stop_point(i);
        const DVec3 p = points[i] - points[0], q = points[(i + 1) % points.size()] - points[0];
        path << ClipperLib::IntPoint(std::llround(glm::dot(p, across) * scale),
                                     std::llround(glm::dot(p, over) * scale));
        area += glm::dot(p, across) * glm::dot(q, over) - glm::dot(q, across) * glm::dot(p, over);
    }
    ClipperLib::ClipperOffset offset(4.0, std::abs(options.distance) * scale * 5e-4);
    if (area < 0) std::reverse(path.begin(), path.end());
    offset.AddPath(path, options.round ? ClipperLib::jtRound : ClipperLib::jtMiter, ClipperLib::etClosedPolygon);
    ClipperLib::Paths made;
    // To the right of a line that turns left is outwards.
    offset.Execute(made, (area < 0 ? -1 : 1) * options.distance * scale);
    std::vector<Polyline> out;
    for (ClipperLib::Path& one : made) {
        if (one.size() < 3) continue;
        if (area < 0) std::reverse(one.begin(), one.end());
        Polyline line;
        line.closed = true;
        // It starts where it lies nearest the start of the line.
        const auto flat = [&](const ClipperLib::IntPoint& p) {
            return points[0] + (across * static_cast<double>(p.X) + over * static_cast<double>(p.Y)) / scale;
        };
        const auto first = std::min_element(one.begin(), one.end(), [&](const auto& a, const auto& b) {
            return glm::distance(flat(a), points[0]) < glm::distance(flat(b), points[0]);
        });
        std::rotate(one.begin(), first, one.end());
        for (const auto& p : one) line.points.push_back(Vec3(flat(p)));
        line.sharp.assign(line.points.size(), 0);
        line.knot.assign(line.points.size(), -1);
        out.push_back(std::move(line));
    }
    return out;
}

/// The raw line beside an open one: pieces shifted, corners filled on the outside.
std::vector<DVec3> raw_beside(const std::vector<DVec3>& points, const OffsetOptions& options, const DVec3& up) {
    const std::size_t n = points.size();
    const double d = options.distance;
    const auto side = [&](std::size_t i) {
        return glm::normalize(glm::cross(points[i + 1] - points[i], up));
    };  // to the right
    std::vector<DVec3> raw;
    for (std::size_t i = 0; i < n; ++i) {
        const DVec3 in = side(i == 0 ? 0 : i - 1), to = side(i + 1 == n ? n - 2 : i);
        const double turn = std::atan2(glm::dot(glm::cross(in, to), up), std::clamp(glm::dot(in, to), -1.0, 1.0));
        const bool outside = (turn > 0) == (d > 0);  // a left turn opens to the right
        if (std::abs(turn) < 1e-9) {
            raw.push_back(points[i] + to * d);
        } else if (outside && options.round) {
            const int pieces = std::max(1, static_cast<int>(std::ceil(std::abs(turn) / (std::numbers::pi / 12))));
            for (int k = 0; k <= pieces; ++k)
                raw.push_back(points[i] +
                              (in * std::cos(turn * k / pieces) + glm::cross(up, in) * std::sin(turn * k / pieces)) *
                                  d);
        } else if (const double half = std::cos(turn / 2); half > 0.25) {
            raw.push_back(points[i] + glm::normalize(in + to) * (d / half));
        } else {
            raw.push_back(points[i] + in * d);
            raw.push_back(points[i] + to * d);
        }
    }
    return raw;
}

/// Open lines: the raw line beside, cut wherever it crosses itself; stretches nearer to the line than the distance go.
std::vector<Polyline> offset_open(const std::vector<DVec3>& points, const OffsetOptions& options, const DVec3& up) {
    const std::vector<DVec3> raw = raw_beside(points, options, up);
    const DVec3 across = glm::normalize(std::abs(up.z) < 0.9 ? glm::cross(DVec3(0, 0, 1), up)
                                                             : glm::cross(DVec3(1, 0, 0), up)),
                over = glm::cross(up, across);
    const auto flat = [&](const DVec3& p) { return DVec2(glm::dot(p, across), glm::dot(p, over)); };
    const auto cross2 = [](const DVec2& a, const DVec2& b) { return a.x * b.y - a.y * b.x; };
    const std::size_t pieces = raw.size() - 1;
    std::vector<std::vector<double>> cuts(pieces);
    for (std::size_t i = 0; i < pieces; ++i)
        for (std::size_t j = i + 2; j < pieces; ++j) {
            const DVec2 a = flat(raw[i]), b = flat(raw[i + 1]) - a, c = flat(raw[j]), e = flat(raw[j + 1]) - c;
            const double det = cross2(b, e);
            if (std::abs(det) < 1e-300) continue;
            const double s = cross2(c - a, e) / det, t = cross2(c - a, b) / det;
            if (s > 0 && s < 1 && t > 0 && t < 1) cuts[i].push_back(s), cuts[j].push_back(t);
        }
    std::vector<std::vector<DVec3>> stretches(1), kept;
    for (std::size_t i = 0; i < pieces; ++i) {
        stretches.back().push_back(raw[i]);
        std::sort(cuts[i].begin(), cuts[i].end());
        for (const double s : cuts[i]) {
            stretches.back().push_back(raw[i] + (raw[i + 1] - raw[i]) * s);
            stretches.push_back({stretches.back().back()});
        }
    }
    stretches.back().push_back(raw.back());
    const double enough =
        std::abs(options.distance) * (options.round ? 0.985 : 0.999);  // chords of round corners lie nearer
    for (auto& stretch : stretches) {
        double nearest = 1e300;
        for (std::size_t i = 0; i + 1 < stretch.size(); ++i)
            nearest = std::min(nearest, distance_to((stretch[i] + stretch[i + 1]) * 0.5, points, false));
        if (nearest < enough) continue;
        // A stretch that begins where the one before ended goes on with it.
        if (!kept.empty() && glm::distance(kept.back().back(), stretch.front()) < 1e-9)
            kept.back().insert(kept.back().end(), stretch.begin() + 1, stretch.end());
        else
            kept.push_back(std::move(stretch));
    }
    std::vector<Polyline> out;
    for (const auto& stretch : kept) {
        Polyline line;
        for (const DVec3& p : stretch) line.points.push_back(Vec3(p));
        line.sharp.assign(line.points.size(), 0);
        line.knot.assign(line.points.size(), -1);
        out.push_back(std::move(line));
    }
    return out;
}

}  // namespace

std::vector<Polyline> offset_lines(const Polyline& line, const OffsetOptions& options) {
    std::vector<DVec3> points;
    for (const Vec3& p : line.points)
        if (points.empty() || glm::distance(points.back(), DVec3(p)) > 1e-9) points.emplace_back(p);
    while (line.closed && points.size() > 1 && glm::distance(points.front(), points.back()) < 1e-9) points.pop_back();
    if (points.size() < 2) return {};
    if (options.distance == 0) return {line};
    const DVec3 up = glm::normalize(options.normal);
    return line.closed && points.size() > 2 ? offset_closed(points, options, up) : offset_open(points, options, up);
}

}  // namespace bricol
