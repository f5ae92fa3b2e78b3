// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include "core/kernels/curve_edit.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct SmoothCurve {
    enum class Ends { x, y, z, free };
    bool knots = true;
    bool handles = false;
    int rounds = 0;
    double strength = 0.5;
    Ends ends = Ends::free;
    int pieces = 8;
};

void run_smooth_curve(const SmoothCurve& s, StepRun& run) {
    Shape shape = run.shape();
    for (Curve& curve : shape.curves) {
        curve = relaxed(std::move(curve), s.rounds, s.strength);
        if (s.knots)
            for (Knot& knot : curve.knots) {
                if (knot.kind == KnotKind::free && !s.handles) continue;
                knot.kind = KnotKind::smooth;
                knot.in = knot.out = Vec3(0);
            }
        curve.sampling.per_span = s.pieces;
        if (const SmoothCurve::Ends hold = s.ends; hold != SmoothCurve::Ends::free)
            hold_ends(curve, static_cast<int>(hold));
    }
    if (shape.curves.empty()) run.tell(Severity::note, "unchanged", "There is no curve to smooth.");
    run.give(std::move(shape));
}

const StepOf<SmoothCurve> smooth_curve_step(
    StepInfo{
        .key = "smooth_curve",
        .name = "Smooth curve",
        .family = Family::curves,
        .purpose = "Smooth knots for corners, and knots evened out among their neighbours.",
        .words = "relax soften spline round bezier automatic",
        .help =
            "Corners become smooth knots whose handles follow their neighbours. Rounds of evening out move every knot "
            "towards the middle of its two neighbours; ends stay, and can be made to leave along an axis so that what "
            "is swept along begins level.",
        .glyph = "M3 17 L9 7 L15 17 L21 7 M3 20 C9 10 15 20 21 10",
        .gives = 0,
        .inputs = {{"shape", "Curves", content_curves, true}},
        .telling = "{rounds} rounds"},
    {toggle_of(&SmoothCurve::knots, "knots", "Smooth knots", "Corners become smooth knots."),
     when(toggle_of(&SmoothCurve::handles, "handles", "Free handles too", "Also replaces handles set by hand."),
          "knots"),
     count_of(&SmoothCurve::rounds, "rounds", "Rounds", 0, 10000, 50, "How often knots are evened out."),
     number_of(&SmoothCurve::strength, "strength", "Strength", 0, 1, "How far a knot goes in one round."),
     choice_of(&SmoothCurve::ends, "ends", "Ends leave",
               {{SmoothCurve::Ends::free, "free", "as they do"},
                {SmoothCurve::Ends::x, "x", "along x"},
                {SmoothCurve::Ends::y, "y", "along y"},
                {SmoothCurve::Ends::z, "z", "along z"}},
               "Holds the ends of open curves along an axis."),
     sampling_of(&SmoothCurve::pieces, "pieces")},
    run_smooth_curve);

}  // namespace

}  // namespace bricol
