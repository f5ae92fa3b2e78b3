// SPDX-License-Identifier: GPL-3.0-or-later
// A curve whose places are formulas of one running number.
#pragma once

#include "core/formula/elements.h"

namespace bricol {

struct CurveRows {
    double from = 0, to = 1;  ///< what `t` runs through
    int pieces = 64;          ///< spans of equal share of `t`
    bool straight = false;    ///< between knots; else cubics with the formulas' own slopes
};

struct CurveByRows {
    Curve curve;  ///< open, `pieces` + 1 knots; empty when a row could not be read
    std::vector<RowProblem> problems;
};

/// Works the rows out at every knot. Targets: x, y, z; or distance, angle (degrees), height about the z axis; radius,
/// roll (degrees); `_names` for rows behind. Names: t, share (0 to 1), index, count, and what rows before said. Slopes
/// by five-point differences (M. Abramowitz and I. Stegun, 25.3.4 and its one-sided like), so the cubics leave a smooth
/// curve by the fourth power of a span. A place that is not finite is told with its `t`, and there is no curve then.
CurveByRows curve_by_rows(std::span<const FormulaRow> rows, const CurveRows& options);

}  // namespace bricol
