// SPDX-License-Identifier: GPL-3.0-or-later
#include <cmath>
#include <numbers>

#include "core/kernels/flatten.h"
#include "core/steps/basic_curves.h"

namespace bricol {

namespace {

void run_arc(StepRun& run) {
    const double radius = run.number("radius");
    const double from = run.number("from") * std::numbers::pi / 180,
                 sweep = run.number("angle") * std::numbers::pi / 180;
    const std::string& plane = run.word("plane");
    const int spans = std::max(1, static_cast<int>(std::ceil(std::abs(sweep) / (std::numbers::pi / 2) - 1e-9)));
    const double piece = sweep / spans, handle = radius * arc_handle(std::abs(piece)) * (sweep < 0 ? -1 : 1);
    Curve curve;
    curve.sampling.per_span = std::max(1, (run.integer("segments") + spans - 1) / spans);
    for (int i = 0; i <= spans; ++i) {
        const double a = from + piece * i, c = std::cos(a), s = std::sin(a);
        Knot knot = knot_on(plane, run.number("across") + radius * c, run.number("up") + radius * s, KnotKind::free);
        if (i < spans) knot.out = on_plane(plane, -s * handle, c * handle);
        if (i > 0) knot.in = on_plane(plane, s * handle, -c * handle);
        curve.knots.push_back(knot);
    }
    if (sweep == 0) run.tell(Severity::caution, "no-length", "The arc has no angle, so it has no length.");
    give_curve(run, std::move(curve));
}

const Registered arc_step(StepInfo{
    .key = "arc",
    .name = "Arc",
    .family = Family::curves,
    .purpose = "Part of a circle.",
    .words = "bow curve round sector",
    .help = "An open curve along a circle, from one angle over another; negative angles run clockwise.",
    .glyph = "M4 18 A13 13 0 0 1 20 18 M3 16.5h2.5v3h-2.5z M18.5 16.5h2.5v3h-2.5z",
    .gives = content_curves,
    .inputs = {},
    .parameters = {length_of("radius", "Radius", 0.25, 1e-6, 2, "From the centre to the curve."),
                   angle_of("from", "From", -90, -360, 360, "Where the arc starts, from the plane's first direction."),
                   angle_of("angle", "Angle", 180, -360, 360, "How far it runs, counter-clockwise."),
                   count_of("segments", "Segments", 16, 1, 2048, 128, "Straight pieces when points are needed."),
                   offset_of("across", "Across", 0, "Place of the centre: the plane's first direction."),
                   offset_of("up", "Up", 0, "Place of the centre: the plane's second direction."),
                   curve_plane("front")},
    .telling = "{angle}",
    .make = run_arc});

}  // namespace

}  // namespace bricol
