// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/nurbs.h"

#include <fmt/format.h>

#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct NurbsCurveSettings {
    std::vector<DVec3> points;
    std::vector<DVec3> weights;
    int degree = 3;
    bool closed = false;
    int spans = 1;
    int pieces = 8;
};

void run_nurbs_curve(const NurbsCurveSettings& s, StepRun& run) {
    const std::vector<DVec3>& points = s.points;
    const int degree = s.degree;
    const bool closed = s.closed;
    const std::size_t least = closed ? 3 : static_cast<std::size_t>(degree) + 1;
    if (points.size() < least) {
        run.tell(
            Severity::error, "too-few-points",
            fmt::format("{} control point{}: a{} curve of degree {} needs {}. Add points, or lower the degree.",
                        points.size(), points.size() == 1 ? "" : "s", closed ? " closed" : "n open", degree, least));
        return;
    }
    if (run.too_many(static_cast<double>(points.size()) * s.spans, 1e6, "spans", "Use fewer spans.")) return;
    std::vector<double> weights;
    if (const auto& given = s.weights; !given.empty()) {
        for (const DVec3& w : given) weights.push_back(w.x);
        if (weights.size() != points.size()) {
            run.tell(Severity::caution, "weights-count",
                     fmt::format("There are {} weights for {} points; points without one weigh 1.", weights.size(),
                                 points.size()));
            weights.resize(points.size(), 1);
        }
        for (std::size_t i = 0; i < weights.size(); ++i)
            if (weights[i] <= 0) {
                run.tell(Severity::error, "weight-not-positive",
                         fmt::format("The weight of point {} is {}. Weights are above 0.", i + 1,
                                     format_number(weights[i])));
                return;
            }
    }
    Nurbs curve;
    if (closed) {
        curve = closed_nurbs(points, weights, degree);
    } else {
        curve = {degree, points, weights, clamped_knots(points.size(), degree)};
    }
    Shape shape;
    shape.curves.push_back(curve_of(curve, s.spans, closed));
    shape.curves.back().sampling.per_span = s.pieces;
    run.give(std::move(shape));
}

const StepOf<NurbsCurveSettings> nurbs_curve_step(
    StepInfo{
        .key = "nurbs_curve",
        .name = "NURBS curve",
        .family = Family::curves,
        .purpose = "A rational B-spline through the pull of its control points.",
        .words = "b-spline bspline rational control points weights",
        .help =
            "Even knots; an open curve reaches its first and last point. Weights (the first number of each row) pull "
            "the curve towards their points. It goes on as spans with handles: exact up to degree 3 without weights, "
            "else as close as the spans per interval make it.",
        .glyph = "M3 19 L8 5 L16 5 L21 19 M3 19 C7 8 17 8 21 19",
        .gives = content_curves,
        .inputs = {},
        .telling = "degree {degree}"},
    {kind_of(&NurbsCurveSettings::points, ParameterKind::points, "points", "Control points",
             "x, y and z of each; numbers or formulas."),
     kind_of(&NurbsCurveSettings::weights, ParameterKind::points, "weights", "Weights",
             "The first number of each row weighs the point of that row; none for all 1."),
     count_of(&NurbsCurveSettings::degree, "degree", "Degree", 1, 9, 5, "1 is straight, 2 and 3 are usual."),
     toggle_of(&NurbsCurveSettings::closed, "closed", "Closed", "Leads back to the start without a seam."),
     count_of(&NurbsCurveSettings::spans, "spans", "Spans", 1, 64, 8,
              "Cubic spans for each knot interval; more come closer with weights or higher degrees."),
     sampling_of(&NurbsCurveSettings::pieces, "pieces")},
    run_nurbs_curve);

}  // namespace

}  // namespace bricol
