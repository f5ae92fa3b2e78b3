// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include "core/kernels/curve_edit.h"
#include "core/catalogue/step.h"

namespace bricol {

namespace {

void run_smooth_curve(StepRun& run) {
    Shape shape = run.shape();
    for (Curve& curve : shape.curves) {
        curve = relaxed(std::move(curve), run.integer("rounds"), run.number("strength"));
        if (run.toggle("knots"))
            for (Knot& knot : curve.knots) {
                if (knot.kind == KnotKind::free && !run.toggle("handles")) continue;
                knot.kind = KnotKind::smooth;
                knot.in = knot.out = Vec3(0);
            }
        curve.sampling.per_span = run.integer("pieces");
        if (const std::string& hold = run.word("ends"); hold != "free") hold_ends(curve, hold[0] - 'x');
    }
    if (shape.curves.empty()) run.tell(Severity::note, "unchanged", "There is no curve to smooth.");
    run.give(std::move(shape));
}

const Registered smooth_curve_step(StepInfo{
    .key = "smooth_curve",
    .name = "Smooth curve",
    .family = Family::curves,
    .purpose = "Smooth knots for corners, and knots evened out among their neighbours.",
    .words = "relax soften spline round bezier automatic",
    .help = "Corners become smooth knots whose handles follow their neighbours. Rounds of evening out move every knot "
            "towards the middle of its two neighbours; ends stay, and can be made to leave along an axis so that what "
            "is swept along begins level.",
    .glyph = "M3 17 L9 7 L15 17 L21 7 M3 20 C9 10 15 20 21 10",
    .gives = 0,
    .inputs = {{"shape", "Curves", content_curves, true}},
    .parameters = {toggle_of("knots", "Smooth knots", true, "Corners become smooth knots."),
                   when(toggle_of("handles", "Free handles too", false, "Also replaces handles set by hand."), "knots"),
                   count_of("rounds", "Rounds", 0, 0, 10000, 50, "How often knots are evened out."),
                   number_of("strength", "Strength", 0.5, 0, 1, "How far a knot goes in one round."),
                   choice_of("ends", "Ends leave",
                             {{"free", "as they do"}, {"x", "along x"}, {"y", "along y"}, {"z", "along z"}},
                             "Holds the ends of open curves along an axis."),
                   sampling_of("pieces")},
    .telling = "{rounds} rounds",
    .make = run_smooth_curve});

}  // namespace

}  // namespace bricol
