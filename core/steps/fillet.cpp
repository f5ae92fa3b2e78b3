// SPDX-License-Identifier: GPL-3.0-or-later
#include <cmath>
#include <fmt/format.h>
#include <numbers>

#include "core/kernels/flatten.h"
#include "core/steps/step.h"

namespace bricol {

namespace {

/// Angle in degrees by which the curve turns at a corner knot; 0 at open ends.
double turn_at(const Curve& curve, std::size_t i) {
    const std::size_t n = curve.knots.size();
    if (n < 3 || (!curve.closed && (i == 0 || i + 1 == n))) return 0;
    const DVec3 in = DVec3(curve.knots[i].at) - DVec3(curve.knots[(i + n - 1) % n].at);
    const DVec3 to = DVec3(curve.knots[(i + 1) % n].at) - DVec3(curve.knots[i].at);
    const double lengths = glm::length(in) * glm::length(to);
    return lengths > 0 ? std::acos(std::clamp(glm::dot(in, to) / lengths, -1.0, 1.0)) * 180 / std::numbers::pi : 0;
}

void make(StepRun& run) {
    Shape shape = run.shape();
    std::size_t held_count = 0, rounded = 0;
    float tightest = 1e30f;
    for (Curve& curve : shape.curves) {
        for (std::size_t i = 0; i < curve.knots.size(); ++i) {
            Knot& knot = curve.knots[i];
            if (knot.kind != KnotKind::corner || turn_at(curve, i) < run.number("over")) continue;
            if (knot.fillet > 0 && !run.toggle("replace")) continue;
            knot.fillet = run.real("radius");
            ++rounded;
        }
        curve.sampling.per_span = run.integer("pieces");
        std::vector<HeldFillet> held;
        with_fillets(curve, &held);  // the radii stay numbers on the knots; points are made when a step needs them
        for (const HeldFillet& h : held) {
            ++held_count;
            if (h.used > 0) tightest = std::min(tightest, h.used);
        }
    }
    if (held_count > 0)
        run.find(Severity::note, "held-rounding",
                 tightest < 1e30f ? fmt::format("{} corner{} held to a smaller radius, the tightest to {}.", held_count,
                                                held_count == 1 ? " is" : "s are", format_value(tightest, Quantity::length, "m"))
                                  : fmt::format("{} corner{} not rounded, because a neighbouring run bends.", held_count,
                                                held_count == 1 ? " is" : "s are"));
    if (rounded == 0) run.find(Severity::note, "unchanged", "No corner turns by that much; the curves are as they were.");
    run.give(std::move(shape));
}

const Registered step(StepInfo{
    .key = "fillet",
    .name = "Fillet",
    .family = Family::curves,
    .purpose = "Rounds the corners of curves.",
    .words = "round corner radius soften",
    .help = "Gives every corner that turns by more than an angle the same radius. Corners with a rounding of their own keep it "
            "unless told otherwise.",
    .glyph = "M5 4 V10 A9 9 0 0 0 14 19 H20 M5 14 V19 H10",
    .gives = content_curves,
    .inputs = {{"shape", "Curves", content_curves, true}},
    .parameters = {length_of("radius", "Radius", 0.01, 0, 0.5, "Of the rounding."),
                   angle_of("over", "Corners over", 10, 0, 180, "Corners that turn by less than this are left alone."),
                   count_of("pieces", "Pieces per corner", 6, 1, 512, 32, "Straight pieces of each rounding."),
                   toggle_of("replace", "Replace own radii", false, "Also changes corners that carry a radius of their own.")},
    .telling = "r {radius}",
    .make = make});

}  // namespace

}  // namespace bricol
