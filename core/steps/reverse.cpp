// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/curve_edit.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Reverse {};

void run_reverse(const Reverse&, StepRun& run) {
    Shape shape = run.shape();
    for (Curve& curve : shape.curves) curve = reversed(curve);
    if (shape.curves.empty()) run.tell(Severity::note, "unchanged", "There is no curve to turn round.");
    run.give(std::move(shape));
}

const StepOf<Reverse> reverse_step(
    StepInfo{.key = "reverse",
             .name = "Reverse",
             .family = Family::curves,
             .purpose = "Turns curves round: the end becomes the start.",
             .words = "direction flip switch swap",
             .help = "What runs along a curve then runs the other way. Closed curves keep their first knot.",
             .glyph = "M4 8h15 M15 4 L19 8 L15 12 M20 16H5 M9 12 L5 16 L9 20",
             .gives = 0,
             .inputs = {{"shape", "Curves", content_curves, true}},
             .telling = ""},
    {}, run_reverse);

}  // namespace

}  // namespace bricol
