// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/resample.h"

#include <algorithm>
#include <cmath>

#include "core/kernels/path.h"
#include "core/shape/knot_values.h"

namespace bricol {

namespace {

/// Points of largest distance are kept until every piece is within tolerance (Ramer 1972; Douglas and Peucker 1973).
void keep_far_points(const Array<Vec3>& p, std::size_t first, std::size_t last, double tolerance,
                     std::vector<std::uint8_t>& keep) {
    std::vector<std::pair<std::size_t, std::size_t>> stack{{first, last}};
    while (!stack.empty()) {
        const auto [a, b] = stack.back();
        stack.pop_back();
        double farthest = tolerance;
        std::size_t at = 0;
        const DVec3 origin(p[a]), chord = DVec3(p[b]) - origin;
        const double length2 = glm::dot(chord, chord);
        for (std::size_t i = a + 1; i < b; ++i) {
            const DVec3 d = DVec3(p[i]) - origin;
            const double t = length2 > 0 ? std::clamp(glm::dot(d, chord) / length2, 0.0, 1.0) : 0;
            if (const double distance = glm::length(d - chord * t); distance > farthest) farthest = distance, at = i;
        }
        if (at == 0) continue;
        keep[at] = 1;
        stack.push_back({a, at});
        stack.push_back({at, b});
    }
}

}  // namespace

Curve resampled(const Curve& curve, const ResampleOptions& options) {
    Polyline line = flatten(finer(curve));  // so that lengths are those of the curve and not of its drawing
    Curve out = curve;
    out.source_step.clear();
    out.knots.clear();
    if (line.points.size() < 2) {
        out.knots = curve.knots;
        return out;
    }
    // Straight pieces stay as many as were asked for, whatever is done to their ends.
    if (!options.smoothed) out.sampling = {1, 0};
    Array<Vec3>& p = line.points;
    if (line.closed) p.push_back(p.front());
    const std::size_t n = p.size();

    const double cosine = std::cos(glm::radians(options.keep_angle));
    std::vector<std::size_t> stops{0};
    for (std::size_t i = 1; i + 1 < n; ++i) {
        const Vec3 in = glm::normalize(p[i] - p[i - 1]), to = glm::normalize(p[i + 1] - p[i]);
        if (line.sharp[i] && glm::dot(in, to) < cosine) stops.push_back(i);
    }
    stops.push_back(n - 1);
    std::vector<double> along(n, 0);
    for (std::size_t i = 1; i < n; ++i) along[i] = along[i - 1] + glm::distance(DVec3(p[i]), DVec3(p[i - 1]));
    const double whole = along.back();

    // A knot a share of the way from point i to the next; what the old knots carry goes along.
    const std::size_t own = line.radius.size();
    const auto add = [&](std::size_t i, float t, bool corner) {
        const std::size_t from = i % own, to = (i + (t > 0)) % own;
        Knot knot;
        knot.at = t > 0 ? p[i] * (1 - t) + p[i + 1] * t : p[i];
        knot.radius = line.radius[from] + (line.radius[to] - line.radius[from]) * t;
        knot.roll = line.roll[from] + (line.roll[to] - line.roll[from]) * t;
        if (!line.values.empty()) knot.values = blended(line.values[from], line.values[to], static_cast<double>(t));
        knot.kind = options.smoothed && !corner ? KnotKind::smooth : KnotKind::corner;
        out.knots.push_back(knot);
    };
    for (std::size_t s = 0; s + 1 < stops.size(); ++s) {
        const std::size_t a = stops[s], b = stops[s + 1];
        const bool end_corner = s > 0 || (line.closed && line.sharp[0]);
        add(a, 0, end_corner);
        if (options.by == ResampleOptions::By::tolerance) {
            std::vector<std::uint8_t> keep(n, 0);
            keep_far_points(p, a, b, options.tolerance, keep);
            for (std::size_t i = a + 1; i < b; ++i)
                if (keep[i]) add(i, 0, false);
            continue;
        }
        const double length = along[b] - along[a];
        const double wanted = options.by == ResampleOptions::By::count ? options.count * length / std::max(whole, 1e-12)
                                                                       : length / options.longest - 1e-9;
        const int pieces = std::max(
            1, static_cast<int>(options.by == ResampleOptions::By::count ? std::lround(wanted) : std::ceil(wanted)));
        std::size_t i = a;
        for (int k = 1; k < pieces; ++k) {
            const double target = along[a] + length * k / pieces;
            while (i + 1 < b && along[i + 1] < target) ++i;
            const double step = along[i + 1] - along[i];
            const float t = static_cast<float>(step > 0 ? (target - along[i]) / step : 0);
            add(i, t, false);
        }
    }
    if (!line.closed) add(n - 1, 0, false);
    return out;
}

}  // namespace bricol
