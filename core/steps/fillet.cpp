// SPDX-License-Identifier: GPL-3.0-or-later
#include <cmath>
#include <fmt/format.h>
#include <numbers>

#include <algorithm>

#include "core/kernels/stand_ins.h"
#include "core/steps/shared/fillet_checks.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Fillet {
    double radius = 0.01;
    double over = 10;
    int pieces = 6;
    bool replace = false;
    std::string only;
};

/// Angle in degrees by which the curve turns at a knot; 0 at open ends.
double turn_at(const std::vector<Knot>& knots, bool closed, std::size_t i) {
    const std::size_t n = knots.size();
    if (n < 3 || (!closed && (i == 0 || i + 1 == n))) return 0;
    const Knot &before = knots[(i + n - 1) % n], &knot = knots[i], &after = knots[(i + 1) % n];
    // Where a knot has no handle its span leaves towards the neighbour's.
    const DVec3 in = knot.in != Vec3(0) ? -DVec3(knot.in) : DVec3(knot.at) - DVec3(before.at + before.out);
    const DVec3 to = knot.out != Vec3(0) ? DVec3(knot.out) : DVec3(after.at + after.in) - DVec3(knot.at);
    const double lengths = glm::length(in) * glm::length(to);
    return lengths > 0 ? std::acos(std::clamp(glm::dot(in, to) / lengths, -1.0, 1.0)) * 180 / std::numbers::pi : 0;
}

void run_fillet(const Fillet& s, StepRun& run) {
    Shape shape = run.shape();
    std::size_t rounded = 0, first = 0;
    const Selection only = run.selected(points_of_knots(shape.curves), Domain::vertex, s.only, Domain::knot);
    for (Curve& curve : shape.curves) {
        const std::vector<Knot> knots = with_handles(curve);
        for (std::size_t i = 0; i < curve.knots.size(); ++i) {
            Knot& knot = curve.knots[i];
            if (!only[first + i] || knot.kind == KnotKind::smooth || turn_at(knots, curve.closed, i) < s.over) continue;
            if (knot.fillet > 0 && !s.replace) continue;
            knot.fillet = static_cast<float>(s.radius);
            ++rounded;
        }
        first += curve.knots.size();
        curve.sampling.per_span = s.pieces;
    }
    tell_held_fillets(run, shape.curves);
    if (rounded == 0)
        run.tell(Severity::note, "unchanged", "No corner turns by that much; the curves are as they were.");
    run.give(std::move(shape));
}

const StepOf<Fillet> fillet_step(
    StepInfo{
        .key = "fillet",
        .name = "Fillet",
        .family = Family::curves,
        .purpose = "Rounds the corners of curves.",
        .words = "round corner radius soften",
        .help =
            "Gives every corner that turns by more than an angle the same radius. Corners with a rounding of their own "
            "keep it "
            "unless told otherwise.",
        .glyph = "M5 4 V10 A9 9 0 0 0 14 19 H20 M5 14 V19 H10",
        .gives = content_curves,
        .inputs = {{"shape", "Curves", content_curves, true}},
        .telling = "r {radius}"},
    {length_of(&Fillet::radius, "radius", "Radius", 0, 0.5, "Of the rounding."),
     angle_of(&Fillet::over, "over", "Corners over", 0, 180, "Corners that turn by less than this are left alone."),
     count_of(&Fillet::pieces, "pieces", "Pieces per corner", 1, 512, 32, "Straight pieces of each rounding."),
     toggle_of(&Fillet::replace, "replace", "Replace own radii",
               "Also changes corners that carry a radius of their own."),
     only_of(&Fillet::only, "Only the corners at the knots of this set.")},
    run_fillet);

}  // namespace

}  // namespace bricol
