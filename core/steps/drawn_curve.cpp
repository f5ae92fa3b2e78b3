// SPDX-License-Identifier: GPL-3.0-or-later
// Drawn curve: knots set in the viewport or typed.
#include <fmt/format.h>

#include "core/kernels/flatten.h"
#include "core/catalogue/draw_plane.h"
#include "core/catalogue/step.h"

namespace bricol {

namespace {

void run_drawn_curve(StepRun& run) {
    Shape shape;
    const DrawPlane plane = draw_plane(run.values);
    // A knot comes as (first number, third, second): x and z hold the two numbers of the plane.
    const auto numbers = [](const Vec3& v) { return Vec3(v.x, v.z, v.y); };
    std::size_t knots = 0;
    for (Curve curve : run.curves("curves")) {
        if (run.stopped()) return;
        curve.plane = plane;
        curve.sampling.per_span = run.integer("pieces");
        curve.sampling.tolerance = run.word("sampling") == "tolerance" ? run.real("tolerance") : 0;
        for (Knot& knot : curve.knots) {
            knot.at = plane.place(numbers(knot.at));
            knot.in = plane.way(numbers(knot.in));
            knot.out = plane.way(numbers(knot.out));
        }
        knots += curve.knots.size();
        if (curve.knots.empty()) continue;
        std::size_t repeats = 0;
        for (std::size_t i = 1; i < curve.knots.size(); ++i)
            repeats += glm::distance(curve.knots[i].at, curve.knots[i - 1].at) < 1e-6f;
        if (repeats > 0) {
            Finding& finding =
                run.tell(Severity::caution, "repeated-knots",
                         fmt::format("{} knot{} on the knot before.", repeats, repeats == 1 ? " sits" : "s sit"));
            Remedy remedy{"Take the extra knots away", {}, {}};
            for (std::size_t i = 1; i < curve.knots.size(); ++i)
                if (glm::distance(curve.knots[i].at, curve.knots[i - 1].at) < 1e-6f) {
                    remedy.changes.push_back(
                        {"", fmt::format("/curves/{}/knots/{}", curve.source_curve, curve.knots[i].source), {}, true});
                    finding.places.push_back(curve.knots[i].at);
                }
            finding.remedy = remedy;
        }
        std::vector<HeldFillet> held;
        with_fillets(curve, &held);
        for (const HeldFillet& h : held) {
            const std::string text =
                h.used > 0 ? fmt::format("Knot {}: the rounding of {} is held to {}, all its two sides leave room for.",
                                         h.knot + 1, format_value(h.wanted, Quantity::length, "m"),
                                         format_value(h.used, Quantity::length, "m"))
                           : fmt::format("Knot {} is not rounded: no circle touches both of its sides.", h.knot + 1);
            run.tell(Severity::note, "held-rounding", text).places.push_back(curve.knots[h.knot].at);
        }
        shape.curves.push_back(std::move(curve));
    }
    if (knots == 0)
        run.tell(
            Severity::caution, "empty-curve",
            fmt::format("Nothing is drawn yet. Choose this step and click in {} to set knots.",
                        run.word("plane") == "own" ? "a free view" : fmt::format("the {} view", run.word("plane"))));
    else if (knots == 1)
        run.tell(Severity::caution, "one-knot", "There is only one knot. A curve needs two.");
    run.give(std::move(shape));
}

const Registered drawn_curve_step(StepInfo{
    .key = "drawn_curve",
    .name = "Drawn curve",
    .family = Family::curves,
    .purpose = "Curves of knots, set in the viewport or typed.",
    .words = "profile spline path pen bezier draw outline",
    .help =
        "Click knots in a flat view; hold Shift for straight runs along the grid's directions. A knot is a corner, "
        "smooth, or has two free handles. A corner may carry a rounding radius, which stays a number and is made again "
        "when the knot moves. Straight runs stay one piece.",
    .glyph = "M4 20 C4 12 9 13 12 9 S18 4 20 4 M3 18.5h2v3h-2z M19 2.5h2v3h-2z",
    .gives = content_curves,
    .inputs = {},
    .parameters =
        {choice_of("plane", "Plane", {{"front", "front"}, {"side", "side"}, {"top", "top"}, {"own", "its own"}},
                   "The flat view the curve is drawn in, or a plane of its own, taken from a face or typed."),
         when(vector_of("plane_at", "Plane at", Quantity::length, {0, 0, 0}, "Where the two numbers of a knot start."),
              "plane=own"),
         when(vector_of("plane_turn", "Plane turned", Quantity::angle, {0, 0, 0},
                        "How the ground plane is turned about x, then y, then z to become this one."),
              "plane=own"),
         choice_of("sampling", "Pieces by", {{"count", "count"}, {"tolerance", "distance"}},
                   "How finely bent spans become straight pieces."),
         when(sampling_of("pieces"), "sampling=count"),
         when(length_of("tolerance", "Distance", 0.002, 1e-6, 0.05,
                        "Largest distance between the curve and its pieces."),
              "sampling=tolerance"),
         [] {
             ParameterInfo p;
             p.key = "curves";
             p.label = "Curves";
             p.help = "Knots of every curve; each place may hold formulas.";
             p.kind = ParameterKind::curves;
             return p;
         }()},
    .telling = "{curves}",
    .make = run_drawn_curve});

}  // namespace

}  // namespace bricol
