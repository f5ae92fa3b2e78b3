// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include "core/catalogue/settings.h"
#include "core/formula/curve_rows.h"
#include "core/formula/formula.h"
#include "core/steps/shared/basic_curves.h"

namespace bricol {

namespace {

struct FormulaCurve {
    enum class Between { bends, straight };
    std::vector<FormulaRow> rows;
    double from = 0;
    double to = 1;
    int pieces = 64;
    Between between = Between::bends;
    int segments = 8;
    bool closed = false;
};

/// Takes the last knot away, which stands where the first does.
void close(Curve& curve, StepRun& run) {
    Knot &first = curve.knots.front(), &last = curve.knots.back();
    double reach = 0;
    for (const Knot& knot : curve.knots) reach = std::max(reach, glm::distance(DVec3(knot.at), DVec3(first.at)));
    const double apart = glm::distance(DVec3(first.at), DVec3(last.at));
    curve.closed = true;
    if (apart > 1e-5 * reach) {
        run.tell(Severity::caution, "ends-apart",
                 fmt::format("The ends stand {} m apart and are joined by a straight piece. Let t run through a whole "
                             "round, or leave the curve open.",
                             format_number(apart, 4)));
        return;
    }
    first.in = last.in;
    curve.knots.pop_back();
}

void run_formula_curve(const FormulaCurve& s, StepRun& run) {
    if (s.rows.empty()) {
        run.tell(Severity::note, "no-rows", "There are no rows yet. Add one: x, y or z, and what it gets from t.");
        return;
    }
    if (s.from == s.to) {
        run.tell(Severity::error, "no-range", "t runs from a number to the same number. Let it run on.");
        return;
    }
    const bool straight = s.between == FormulaCurve::Between::straight;
    CurveByRows made = curve_by_rows(s.rows, {s.from, s.to, s.pieces, straight});
    run.report(made.problems, s.rows);
    if (made.curve.knots.empty()) return;
    made.curve.sampling.per_span = straight ? 1 : s.segments;
    if (s.closed && made.curve.knots.size() > 2) close(made.curve, run);
    give_curve(run, std::move(made.curve));
}

const StepOf<FormulaCurve> formula_curve_step(
    StepInfo{
        .key = "formula_curve",
        .name = "Formula curve",
        .family = Family::curves,
        .purpose = "A curve whose places are formulas of a running number t.",
        .words = "parametric equation function plot spiral knot involute cycloid wave law",
        .help =
            "Rows say what x, y and z get while t runs: “x” gets “cos(360 * t)”. Or distance, angle and height about "
            "the z axis. Also radius, a factor on what is swept along, and roll in degrees; a target that starts with "
            "_ is remembered for rows behind it. Names: t, share (0 to 1), index, count, dials, step.number, frame and "
            "seed. Angles are degrees.",
        .glyph = "M3 12 C6 2 9 2 12 12 S18 22 21 12 M3 21h18",
        .gives = content_curves,
        .inputs = {},
        .telling = "{rows}"},
    {kind_of(&FormulaCurve::rows, ParameterKind::rows, "rows", "Rows", "Each says what the curve gets at every t."),
     number_of(&FormulaCurve::from, "from", "t from", -1e6, 1e6, "Where t begins."),
     number_of(&FormulaCurve::to, "to", "t to", -1e6, 1e6, "Where t ends."),
     count_of(&FormulaCurve::pieces, "pieces", "Pieces", 1, 100000, 512, "Spans between the ends, equal in t."),
     choice_of(&FormulaCurve::between, "between", "Between knots",
               {{FormulaCurve::Between::bends, "bends", "bends by its slope"},
                {FormulaCurve::Between::straight, "straight", "straight"}},
               "Cubics with the formulas' own slopes, or straight pieces, for laws with corners."),
     when(count_of(&FormulaCurve::segments, "segments", "Segments", 1, 512, 32,
                   "Straight pieces in each span, when points are needed."),
          "between=bends"),
     toggle_of(&FormulaCurve::closed, "closed", "Closed", "Joins the last knot to the first.")},
    run_formula_curve);

}  // namespace

}  // namespace bricol
