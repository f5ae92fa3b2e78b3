// SPDX-License-Identifier: GPL-3.0-or-later
#include <cmath>
#include <numbers>

#include "core/kernels/flatten.h"
#include "core/steps/shared/basic_curves.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Arc {
    double radius = 0.25;
    double from = -90;
    double angle = 180;
    int segments = 16;
    double across = 0;
    double up = 0;
    FlatView plane = FlatView::front;
};

void run_arc(const Arc& s, StepRun& run) {
    const double radius = s.radius;
    const double from = s.from * std::numbers::pi / 180, sweep = s.angle * std::numbers::pi / 180;
    const FlatView plane = s.plane;
    const int spans = std::max(1, static_cast<int>(std::ceil(std::abs(sweep) / (std::numbers::pi / 2) - 1e-9)));
    const double piece = sweep / spans, handle = radius * arc_handle(std::abs(piece)) * (sweep < 0 ? -1 : 1);
    Curve curve;
    curve.sampling.per_span = std::max(1, (s.segments + spans - 1) / spans);
    for (int i = 0; i <= spans; ++i) {
        const double a = from + piece * i, cosine = std::cos(a), sine = std::sin(a);
        Knot knot = knot_on(plane, s.across + radius * cosine, s.up + radius * sine, KnotKind::free);
        if (i < spans) knot.out = on_plane(plane, -sine * handle, cosine * handle);
        if (i > 0) knot.in = on_plane(plane, sine * handle, -cosine * handle);
        curve.knots.push_back(knot);
    }
    if (sweep == 0) run.tell(Severity::caution, "no-length", "The arc has no angle, so it has no length.");
    give_curve(run, std::move(curve));
}

const StepOf<Arc> arc_step(
    StepInfo{.key = "arc",
             .name = "Arc",
             .family = Family::curves,
             .purpose = "Part of a circle.",
             .words = "bow curve round sector",
             .help = "An open curve along a circle, from one angle over another; negative angles run clockwise.",
             .glyph = "M4 18 A13 13 0 0 1 20 18 M3 16.5h2.5v3h-2.5z M18.5 16.5h2.5v3h-2.5z",
             .gives = content_curves,
             .inputs = {},
             .telling = "{angle}"},
    {length_of(&Arc::radius, "radius", "Radius", 1e-6, 2, "From the centre to the curve."),
     angle_of(&Arc::from, "from", "From", -360, 360, "Where the arc starts, from the plane's first direction."),
     angle_of(&Arc::angle, "angle", "Angle", -360, 360, "How far it runs, counter-clockwise."),
     count_of(&Arc::segments, "segments", "Segments", 1, 2048, 128, "Straight pieces when points are needed."),
     offset_of(&Arc::across, "across", "Across", "Place of the centre: the plane's first direction."),
     offset_of(&Arc::up, "up", "Up", "Place of the centre: the plane's second direction."), curve_plane(&Arc::plane)},
    run_arc);

}  // namespace

}  // namespace bricol
