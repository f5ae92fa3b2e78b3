// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/nurbs.h"

#include <algorithm>
#include <cmath>

#include "core/ground/stop.h"

namespace bricol {

namespace {

/// Basis functions of degree p and their first two derivatives at u (A2.3, cut to two).
std::vector<std::array<double, 3>> with_derivatives(const Nurbs& curve, std::size_t span, double u) {
    const int p = curve.degree;
    const auto& U = curve.knots;
    std::vector<std::vector<double>> ndu(p + 1, std::vector<double>(p + 1, 0));
    std::vector<double> left(p + 1), right(p + 1);
    ndu[0][0] = 1;
    for (int j = 1; j <= p; ++j) {
        left[j] = u - U[span + 1 - j];
        right[j] = U[span + j] - u;
        double saved = 0;
        for (int r = 0; r < j; ++r) {
            ndu[j][r] = right[r + 1] + left[j - r];
            const double temp = ndu[r][j - 1] / ndu[j][r];
            ndu[r][j] = saved + right[r + 1] * temp;
            saved = left[j - r] * temp;
        }
        ndu[j][j] = saved;
    }
    std::vector<std::array<double, 3>> out(p + 1, {0, 0, 0});
    for (int j = 0; j <= p; ++j) out[j][0] = ndu[j][p];
    for (int r = 0; r <= p; ++r) {
        std::vector<std::vector<double>> a(2, std::vector<double>(p + 1, 0));
        int s1 = 0, s2 = 1;
        a[0][0] = 1;
        for (int k = 1; k <= std::min(2, p); ++k) {
            double d = 0;
            const int rk = r - k, pk = p - k;
            if (r >= k) {
                a[s2][0] = a[s1][0] / ndu[pk + 1][rk];
                d = a[s2][0] * ndu[rk][pk];
            }
            const int j1 = rk >= -1 ? 1 : -rk, j2 = r - 1 <= pk ? k - 1 : p - r;
            for (int j = j1; j <= j2; ++j) {
                a[s2][j] = (a[s1][j] - a[s1][j - 1]) / ndu[pk + 1][rk + j];
                d += a[s2][j] * ndu[rk + j][pk];
            }
            if (r <= pk) {
                a[s2][k] = -a[s1][k - 1] / ndu[pk + 1][r];
                d += a[s2][k] * ndu[r][pk];
            }
            out[r][k] = d;
            std::swap(s1, s2);
        }
    }
    double factor = p;
    for (int k = 1; k <= std::min(2, p); ++k) {
        for (int j = 0; j <= p; ++j) out[j][k] *= factor;
        factor *= p - k;
    }
    return out;
}

}  // namespace

std::vector<double> clamped_knots(std::size_t points, int degree) {
    std::vector<double> knots(points + static_cast<std::size_t>(degree) + 1);
    const auto spans = static_cast<std::ptrdiff_t>(points) - degree;
    for (std::size_t i = 0; i < knots.size(); ++i)
        knots[i] = static_cast<double>(std::clamp<std::ptrdiff_t>(static_cast<std::ptrdiff_t>(i) - degree, 0, spans));
    return knots;
}

Nurbs closed_nurbs(const std::vector<DVec3>& points, const std::vector<double>& weights, int degree) {
    Nurbs curve;
    curve.degree = degree;
    curve.points = points;
    curve.weights = weights;
    for (int i = 0; i < degree; ++i) {
        curve.points.push_back(points[static_cast<std::size_t>(i) % points.size()]);
        if (!weights.empty()) curve.weights.push_back(weights[static_cast<std::size_t>(i) % points.size()]);
    }
    for (std::size_t i = 0; i < curve.points.size() + static_cast<std::size_t>(degree) + 1; ++i)
        curve.knots.push_back(static_cast<double>(i));
    return curve;
}

double first_parameter(const Nurbs& curve) { return curve.knots[static_cast<std::size_t>(curve.degree)]; }
double last_parameter(const Nurbs& curve) { return curve.knots[curve.points.size()]; }

std::size_t knot_span(const Nurbs& curve, double u) {
    const std::size_t n = curve.points.size() - 1, p = static_cast<std::size_t>(curve.degree);
    if (u >= curve.knots[n + 1]) {  // the last interval that has any length
        std::size_t span = n;
        while (span > p && curve.knots[span] == curve.knots[n + 1]) --span;
        return span;
    }
    const auto next = std::upper_bound(curve.knots.begin() + static_cast<std::ptrdiff_t>(p),
                                       curve.knots.begin() + static_cast<std::ptrdiff_t>(n) + 1, u);
    return static_cast<std::size_t>(
        std::max<std::ptrdiff_t>(next - curve.knots.begin() - 1, static_cast<std::ptrdiff_t>(p)));
}

std::vector<double> basis_functions(const Nurbs& curve, std::size_t span, double u) {
    std::vector<double> out;
    for (const auto& n : with_derivatives(curve, span, u)) out.push_back(n[0]);
    return out;
}

NurbsPoint nurbs_point(const Nurbs& curve, double u) {
    u = std::clamp(u, first_parameter(curve), last_parameter(curve));
    const std::size_t span = knot_span(curve, u), p = static_cast<std::size_t>(curve.degree);
    const auto basis = with_derivatives(curve, span, u);
    DVec3 a[3] = {DVec3(0), DVec3(0), DVec3(0)};  // of the weighted points
    double w[3] = {0, 0, 0};
    for (std::size_t j = 0; j <= p; ++j) {
        const std::size_t i = span - p + j;
        const double weight = curve.weights.empty() ? 1 : curve.weights[i];
        for (int k = 0; k < 3; ++k) a[k] += curve.points[i] * (weight * basis[j][k]), w[k] += weight * basis[j][k];
    }
    NurbsPoint out;
    out.at = a[0] / w[0];
    out.slope = (a[1] - out.at * w[1]) / w[0];
    out.bend = (a[2] - out.slope * (2 * w[1]) - out.at * w[2]) / w[0];
    return out;
}

Curve curve_of(const Nurbs& nurbs, int pieces, bool closed) {
    Curve curve;
    curve.closed = closed;
    std::vector<double> parameters;
    for (std::size_t i = static_cast<std::size_t>(nurbs.degree); i < nurbs.points.size(); ++i) {
        stop_point(i);
        const double from = nurbs.knots[i], to = nurbs.knots[i + 1];
        if (to <= from) continue;
        for (int k = 0; k < pieces; ++k) parameters.push_back(from + (to - from) * k / pieces);
    }
    parameters.push_back(last_parameter(nurbs));
    const std::size_t count = parameters.size();
    for (std::size_t i = 0; i < count; ++i) {
        const double u = parameters[i];
        Knot knot;
        knot.kind = nurbs.degree == 1 ? KnotKind::corner : KnotKind::free;
        knot.at = Vec3(nurbs_point(nurbs, u).at);
        if (nurbs.degree > 1) {
            // Slopes from either side: at a repeated knot they may differ.
            if (i > 0) {
                const double h = u - parameters[i - 1];
                knot.in = Vec3(-nurbs_point(nurbs, u - h * 1e-9).slope * (h / 3));
            }
            if (i + 1 < count) knot.out = Vec3(nurbs_point(nurbs, u).slope * ((parameters[i + 1] - u) / 3));
        }
        curve.knots.push_back(knot);
    }
    if (closed && count > 1) {  // the last is the first again
        curve.knots.front().in = curve.knots.back().in;
        curve.knots.pop_back();
    }
    return curve;
}

}  // namespace bricol
