// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/deform.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/ground/stop.h"
#include "core/kernels/flatten.h"
#include "core/ground/parallel.h"

namespace bricol {

Shape deformed(const Shape& shape, const PointMap& map, const Selection& vertices, const Selection& knots) {
    Shape out = shape;
    const Array<Vec3>& before = *shape.mesh.positions;
    Array<Vec3> points(before.size());
    parallel::each(parallel::Numbers<std::size_t>(0, points.size(), 2048), [&](const auto& range) {
        stop_point();
        for (std::size_t i = range.begin(); i != range.end(); ++i)
            points[i] = vertices[i] ? Vec3(map(DVec3(before[i]))) : before[i];
    });
    out.mesh.positions = std::make_shared<const Array<Vec3>>(std::move(points));
    for (const Domain domain : {Domain::vertex, Domain::corner})
        out.mesh.attributes.remove(domain, attribute_name::normal);
    std::size_t k = 0;
    for (Curve& curve : out.curves) {
        curve.source_step.clear();
        curve.knots = with_handles(curve);
        for (Knot& knot : curve.knots) {
            if (!knots[k++]) continue;
            const DVec3 at(knot.at), moved = map(at);
            const Vec3 in = knot.in, away = knot.out;
            if (in != Vec3(0)) knot.in = Vec3(map(at + DVec3(in)) - moved);
            if (away != Vec3(0)) knot.out = Vec3(map(at + DVec3(away)) - moved);
            knot.at = Vec3(moved);
        }
    }
    return out;
}

Span span_of(const Box& box, int axis) { return {axis, box.low[axis], box.high[axis]}; }

PointMap bend_map(const Span& span, int toward, double degrees, const DVec3& centre, bool hold_middle) {
    const double angle = glm::radians(degrees), length = span.length();
    return [=](const DVec3& p) {
        if (length <= 0 || std::abs(angle) < 1e-12) return p;
        const double start = hold_middle ? (span.low + span.high) / 2 : span.low;
        const double curvature = angle / length, radius = 1 / curvature;
        const double s = p[span.axis], u = p[toward] - centre[toward];
        const double inside = std::clamp(s, span.low, span.high), beyond = s - inside;
        const double a = curvature * (inside - start);
        DVec3 out = p;
        out[span.axis] = start + (radius - u) * std::sin(a) + beyond * std::cos(a);
        out[toward] = centre[toward] + radius - (radius - u) * std::cos(a) + beyond * std::sin(a);
        return out;
    };
}

PointMap twist_map(const Span& span, double degrees, const DVec3& centre) {
    const double angle = glm::radians(degrees);
    const int a = (span.axis + 1) % 3, b = (span.axis + 2) % 3;
    return [=](const DVec3& p) {
        const double t = span.length() > 0 ? std::clamp((p[span.axis] - span.low) / span.length(), 0.0, 1.0) : 0;
        const double c = std::cos(angle * t), s = std::sin(angle * t), x = p[a] - centre[a], y = p[b] - centre[b];
        DVec3 out = p;
        out[a] = centre[a] + c * x - s * y;
        out[b] = centre[b] + s * x + c * y;
        return out;
    };
}

PointMap taper_map(const Span& span, double first, double second, const DVec3& centre, Ramp ramp, double bulge) {
    const int a = (span.axis + 1) % 3, b = (span.axis + 2) % 3;
    return [=](const DVec3& p) {
        const double t = span.length() > 0 ? std::clamp((p[span.axis] - span.low) / span.length(), 0.0, 1.0) : 0;
        const double u = ramp == Ramp::eased ? t * t * (3 - 2 * t) : t;
        const double more = ramp == Ramp::bulge ? bulge * std::sin(std::numbers::pi * t) : 0;
        DVec3 out = p;
        out[a] = centre[a] + (p[a] - centre[a]) * (1 + (first - 1) * u + more);
        out[b] = centre[b] + (p[b] - centre[b]) * (1 + (second - 1) * u + more);
        return out;
    };
}

PointMap stretch_map(const Span& span, double factor, const DVec3& centre, bool keep_volume) {
    const double across = keep_volume && factor > 0 ? 1 / std::sqrt(factor) : 1;
    const int a = (span.axis + 1) % 3, b = (span.axis + 2) % 3;
    return [=](const DVec3& p) {
        const double inside = std::clamp(p[span.axis], span.low, span.high), beyond = p[span.axis] - inside;
        DVec3 out = p;
        out[span.axis] = span.low + (inside - span.low) * factor + beyond;
        out[a] = centre[a] + (p[a] - centre[a]) * across;
        out[b] = centre[b] + (p[b] - centre[b]) * across;
        return out;
    };
}

PointMap shear_map(const Span& span, int toward, double degrees) {
    const double slope = std::tan(glm::radians(degrees));
    return [=](const DVec3& p) {
        DVec3 out = p;
        out[toward] += slope * (std::clamp(p[span.axis], span.low, span.high) - span.low);
        return out;
    };
}

PointMap lattice_map(const Box& box, const std::array<int, 3>& counts, std::vector<DVec3> moves, bool smooth) {
    return [=, moves = std::move(moves)](const DVec3& p) {
        std::array<std::vector<double>, 3> weight;
        for (int axis = 0; axis < 3; ++axis) {
            const double size = box.high[axis] - box.low[axis];
            const double t = size > 0 ? std::clamp((p[axis] - box.low[axis]) / size, 0.0, 1.0) : 0;
            const int n = counts[axis] - 1;
            auto& w = weight[axis];
            w.assign(static_cast<std::size_t>(counts[axis]), 0);
            if (smooth) {  // Bernstein polynomials by repeated blending
                w[0] = 1;
                for (int k = 1; k <= n; ++k)
                    for (int i = k; i >= 0; --i) w[i] = (i < k ? w[i] * (1 - t) : 0) + (i > 0 ? w[i - 1] * t : 0);
            } else {
                const int cell = std::min(static_cast<int>(t * n), std::max(0, n - 1));
                const double u = n > 0 ? t * n - cell : 0;
                w[cell] = 1 - u;
                if (n > 0) w[cell + 1] = u;
            }
        }
        DVec3 sum(0);
        for (int k = 0; k < counts[2]; ++k)
            for (int j = 0; j < counts[1]; ++j)
                for (int i = 0; i < counts[0]; ++i)
                    sum += moves[static_cast<std::size_t>((k * counts[1] + j) * counts[0] + i)] *
                           (weight[0][i] * weight[1][j] * weight[2][k]);
        return p + sum;
    };
}

}  // namespace bricol
