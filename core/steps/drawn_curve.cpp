// SPDX-License-Identifier: GPL-3.0-or-later
// Drawn curve: knots set in the viewport or typed.
#include <fmt/format.h>

#include "core/ground/stop.h"
#include "core/kernels/flatten.h"
#include "core/catalogue/draw_plane.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct DrawnCurve {
    enum class Plane { front, side, top, own };
    enum class Sampling { count, tolerance };
    Plane plane = Plane::front;
    DVec3 plane_at{0, 0, 0};
    DVec3 plane_turn{0, 0, 0};
    Sampling sampling = Sampling::count;
    int pieces = 8;
    double tolerance = 0.002;
    std::vector<Curve> curves;
};

constexpr std::array<std::string_view, 3> view_names = {"front", "side", "top"};

DrawPlane plane_of(const DrawnCurve& s) {
    switch (s.plane) {
        case DrawnCurve::Plane::front:
            return flat_plane(FlatView::front);
        case DrawnCurve::Plane::side:
            return flat_plane(FlatView::side);
        case DrawnCurve::Plane::top:
            return flat_plane(FlatView::top);
        case DrawnCurve::Plane::own:
            break;
    }
    return own_plane(s.plane_at, s.plane_turn);
}

void run_drawn_curve(const DrawnCurve& s, StepRun& run) {
    Shape shape;
    const DrawPlane plane = plane_of(s);
    // A knot comes as (first number, third, second): x and z hold the two numbers of the plane.
    const auto numbers = [](const Vec3& v) { return Vec3(v.x, v.z, v.y); };
    std::size_t knots = 0;
    for (Curve curve : s.curves) {
        stop_point();
        curve.plane = plane;
        curve.sampling.per_span = s.pieces;
        curve.sampling.tolerance = s.sampling == DrawnCurve::Sampling::tolerance ? static_cast<float>(s.tolerance) : 0;
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
            run.tell(Severity::caution, "held-rounding", text).places.push_back(curve.knots[h.knot].at);
        }
        shape.curves.push_back(std::move(curve));
    }
    if (knots == 0)
        run.tell(Severity::caution, "empty-curve",
                 fmt::format("Nothing is drawn yet. Choose this step and click in {} to set knots.",
                             s.plane == DrawnCurve::Plane::own
                                 ? "a free view"
                                 : fmt::format("the {} view", view_names[static_cast<std::size_t>(s.plane)])));
    else if (knots == 1)
        run.tell(Severity::caution, "one-knot", "There is only one knot. A curve needs two.");
    run.give(std::move(shape));
}

const StepOf<DrawnCurve> drawn_curve_step(
    StepInfo{
        .key = "drawn_curve",
        .name = "Drawn curve",
        .family = Family::curves,
        .purpose = "Curves of knots, set in the viewport or typed.",
        .words = "profile spline path pen bezier draw outline",
        .help =
            "Click knots in a flat view; hold Shift for straight runs along the grid's directions. A knot is a corner, "
            "smooth, or has two free handles. A corner may carry a rounding radius, which stays a number and is made "
            "again "
            "when the knot moves. Straight runs stay one piece.",
        .glyph = "M4 20 C4 12 9 13 12 9 S18 4 20 4 M3 18.5h2v3h-2z M19 2.5h2v3h-2z",
        .gives = content_curves,
        .inputs = {},
        .telling = "{curves}"},
    {choice_of(&DrawnCurve::plane, "plane", "Plane",
               {{DrawnCurve::Plane::front, "front", "front"},
                {DrawnCurve::Plane::side, "side", "side"},
                {DrawnCurve::Plane::top, "top", "top"},
                {DrawnCurve::Plane::own, "own", "its own"}},
               "The flat view the curve is drawn in, or a plane of its own, taken from a face or typed."),
     when(vector_of(&DrawnCurve::plane_at, "plane_at", "Plane at", Quantity::length,
                    "Where the two numbers of a knot start."),
          "plane=own"),
     when(vector_of(&DrawnCurve::plane_turn, "plane_turn", "Plane turned", Quantity::angle,
                    "How the ground plane is turned about x, then y, then z to become this one."),
          "plane=own"),
     choice_of(&DrawnCurve::sampling, "sampling", "Pieces by",
               {{DrawnCurve::Sampling::count, "count", "count"},
                {DrawnCurve::Sampling::tolerance, "tolerance", "distance"}},
               "How finely bent spans become straight pieces."),
     when(sampling_of(&DrawnCurve::pieces, "pieces"), "sampling=count"),
     when(length_of(&DrawnCurve::tolerance, "tolerance", "Distance", 1e-6, 0.05,
                    "Largest distance between the curve and its pieces."),
          "sampling=tolerance"),
     kind_of(&DrawnCurve::curves, ParameterKind::curves, "curves", "Curves",
             "Knots of every curve; each place may hold formulas.")},
    run_drawn_curve);

}  // namespace

}  // namespace bricol
