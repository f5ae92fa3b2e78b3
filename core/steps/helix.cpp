// SPDX-License-Identifier: GPL-3.0-or-later
#include <cmath>
#include <numbers>

#include "core/kernels/flatten.h"
#include "core/steps/shared/basic_curves.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Helix {
    double radius = 0.15;
    double turns = 4;
    double pitch = 0.08;
    bool taper = false;
    double end_radius = 0.05;
    bool left = false;
    double from = 0;
    int segments = 32;
    Axis axis = Axis::z;
};

void run_helix(const Helix& s, StepRun& run) {
    // Knots every eighth of a turn with the curve's own slopes as handles: a cubic through those leaves a circular
    // helix by less than 1e-6 of its radius.
    const double turns = s.turns, pitch = s.pitch, first = s.radius, last = s.taper ? s.end_radius : first;
    const double whole = std::abs(turns), hand = (s.left ? -1.0 : 1.0) * (turns < 0 ? -1.0 : 1.0);
    if (whole == 0) {
        run.tell(Severity::error, "no-turns", "A helix of 0 turns has no length. Give it turns.");
        return;
    }
    if (run.too_many(whole * s.segments, 1e6, "pieces", "Use fewer turns or segments.")) return;
    const int axis = index_of(s.axis);
    const auto spans = std::max(1, static_cast<int>(std::ceil(whole * 8 - 1e-9)));
    const double begin = s.from * std::numbers::pi / 180, total = 2 * std::numbers::pi * whole;
    Curve curve;
    curve.sampling.per_span = std::max(1, static_cast<int>(std::ceil(s.segments * whole / spans - 1e-9)));
    const auto placed = [&](double a, double b, double c) {
        DVec3 p(0);
        p[(axis + 1) % 3] = a;
        p[(axis + 2) % 3] = b;
        p[axis] = c;
        return p;
    };
    for (int i = 0; i <= spans; ++i) {
        const double t = static_cast<double>(i) / spans, angle = begin + hand * total * t,
                     radius = first + (last - first) * t;
        const double c = std::cos(angle), s = std::sin(angle), turn = hand * total, grow = last - first;
        Knot knot;
        knot.kind = KnotKind::free;
        knot.at = Vec3(placed(radius * c, radius * s, pitch * whole * t));
        // The handle of a circular arc in the turning plane (which a third of the slope would miss slightly), the
        // slope's third along.
        const double piece = total / spans, round = arc_handle(piece) / piece * turn / spans;
        const DVec3 slope = placed(-radius * s * round + grow * c / spans / 3,
                                   radius * c * round + grow * s / spans / 3, pitch * whole / spans / 3);
        if (i < spans) knot.out = Vec3(slope);
        if (i > 0) knot.in = Vec3(-slope);
        curve.knots.push_back(knot);
    }
    give_curve(run, std::move(curve));
}

const StepOf<Helix> helix_step(
    StepInfo{.key = "helix",
             .name = "Helix",
             .family = Family::curves,
             .purpose = "A curve that winds about an axis: springs, coils, spirals.",
             .words = "spring coil spiral screw thread",
             .help = "By turns and pitch. Another end radius makes a cone; a pitch of 0 with it a flat spiral.",
             .glyph = "M6 20 C18 20 18 15.5 12 15.5 S6 11 12 11 S18 6.5 12 6.5 S6 3 18 3",
             .gives = content_curves,
             .inputs = {},
             .telling = "{turns} turns"},
    {length_of(&Helix::radius, "radius", "Radius", 0, 2, "From the axis to the curve."),
     number_of(&Helix::turns, "turns", "Turns", -1000, 1000, "How often it goes round."),
     offset_of(&Helix::pitch, "pitch", "Pitch", "Along the axis in each turn."),
     toggle_of(&Helix::taper, "taper", "Another end radius", "Grows or shrinks evenly."),
     when(length_of(&Helix::end_radius, "end_radius", "End radius", 0, 2, "At the end."), "taper"),
     toggle_of(&Helix::left, "left", "Left-handed", "Winds the other way."),
     angle_of(&Helix::from, "from", "From", -360, 360, "Where it starts, about the axis."),
     count_of(&Helix::segments, "segments", "Segments", 3, 4096, 128,
              "Straight pieces in each turn, when points are needed."),
     axis_of(&Helix::axis, "axis", "Axis", "What it winds about.")},
    run_helix);

}  // namespace

}  // namespace bricol
