// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/basic_curves.h"

namespace bricol {

namespace {

void run_line(StepRun& run) {
    Curve curve;
    const DVec3 from = run.vector("from"), to = run.vector("to");
    const int pieces = run.integer("pieces");
    for (int i = 0; i <= pieces; ++i) {
        Knot knot;
        knot.at = Vec3(from + (to - from) * (static_cast<double>(i) / pieces));
        curve.knots.push_back(knot);
    }
    if (glm::distance(from, to) < 1e-9)
        run.tell(Severity::caution, "no-length", "Both ends of the line are at the same place.");
    give_curve(run, std::move(curve));
}

const Registered line_step(StepInfo{
    .key = "line",
    .name = "Line",
    .family = Family::curves,
    .purpose = "A straight line between two points.",
    .words = "segment straight edge",
    .help = "A straight curve, in one piece or several equal ones.",
    .glyph = "M5 19 L19 5 M3.5 17.5h3v3h-3z M17.5 3.5h3v3h-3z",
    .gives = content_curves,
    .inputs = {},
    .parameters = {vector_of("from", "From", Quantity::length, {0, 0, 0}, "Where the line starts."),
                   vector_of("to", "To", Quantity::length, {0, 0, 1}, "Where the line ends."),
                   count_of("pieces", "Pieces", 1, 1, 10000, 32, "Equal pieces between the ends.")},
    .telling = "{pieces} pieces",
    .make = run_line});

}  // namespace

}  // namespace bricol
