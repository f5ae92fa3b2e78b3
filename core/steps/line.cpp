// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/shared/basic_curves.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct LineSettings {
    DVec3 from{0, 0, 0};
    DVec3 to{0, 0, 1};
    int pieces = 1;
};

void run_line(const LineSettings& s, StepRun& run) {
    Curve curve;
    const DVec3 from = s.from, to = s.to;
    const int pieces = s.pieces;
    for (int i = 0; i <= pieces; ++i) {
        Knot knot;
        knot.at = Vec3(from + (to - from) * (static_cast<double>(i) / pieces));
        curve.knots.push_back(knot);
    }
    if (glm::distance(from, to) < 1e-9)
        run.tell(Severity::caution, "no-length", "Both ends of the line are at the same place.");
    give_curve(run, std::move(curve));
}

const StepOf<LineSettings> line_step(
    StepInfo{.key = "line",
             .name = "Line",
             .family = Family::curves,
             .purpose = "A straight line between two points.",
             .words = "segment straight edge",
             .help = "A straight curve, in one piece or several equal ones.",
             .glyph = "M5 19 L19 5 M3.5 17.5h3v3h-3z M17.5 3.5h3v3h-3z",
             .gives = content_curves,
             .inputs = {},
             .telling = "{pieces} pieces"},
    {vector_of(&LineSettings::from, "from", "From", Quantity::length, "Where the line starts."),
     vector_of(&LineSettings::to, "to", "To", Quantity::length, "Where the line ends."),
     count_of(&LineSettings::pieces, "pieces", "Pieces", 1, 10000, 32, "Equal pieces between the ends.")},
    run_line);

}  // namespace

}  // namespace bricol
