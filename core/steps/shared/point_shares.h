// SPDX-License-Identifier: GPL-3.0-or-later
// What steps that move everything there is share: which vertices, knots and copies a set names, and how much each goes.
#pragma once

#include "core/catalogue/step_run.h"
#include "core/shape/selection.h"

namespace bricol {

/// Which points of a shape a step moves, kind by kind; knots and copies are counted over all curves and groups.
struct ChosenPoints {
    Selection vertices, knots, copies;
};
/// The members of the set that a setting names, on whatever of the shape carries it; everything when it is empty. What
/// carries no such set stays, which is told; so are a set that nothing carries and one without members.
ChosenPoints chosen_points(StepRun& run, const Shape& shape, const std::string& only);

/// How much each vertex and each knot goes.
struct PointShares {
    Array<float> vertices, knots;
};
/// 0 outside the set that a setting names, else the value that another names (1 without one). What carries the one or
/// the other not stays, which is told. Copies are not looked at.
PointShares point_shares(StepRun& run, const Shape& shape, const std::string& weight, const std::string& only);

}  // namespace bricol
