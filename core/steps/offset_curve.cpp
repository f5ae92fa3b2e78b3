// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include "core/ground/stop.h"
#include "core/kernels/curve_edit.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct OffsetCurve {
    enum class Corners { mitre, round };
    double distance = 0.02;
    Corners corners = Corners::mitre;
    bool keep = false;
};

void run_offset_curve(const OffsetCurve& s, StepRun& run) {
    Shape shape = run.shape();
    std::vector<Curve> out;
    if (s.keep) out = shape.curves;
    double worst = 0;
    std::size_t gone = 0;
    for (const Curve& curve : shape.curves) {
        stop_point();
        const Polyline line = flatten(curve);
        if (run.too_many(static_cast<double>(line.points.size()), 8000, "points", "Use fewer pieces per bend.")) return;
        double off = 0;
        OffsetOptions options;
        options.normal = plane_normal(line, &off);
        options.round = s.corners == OffsetCurve::Corners::round;
        options.distance = s.distance;
        // Out of a closed curve is to the right when it turns left about its normal, which its own area says; open
        // curves are seen from the side that z, or else x, or else −y, points to.
        if (!line.closed &&
            (options.normal.z < -1e-6 ||
             (std::abs(options.normal.z) <= 1e-6 &&
              (options.normal.x < -1e-6 || (std::abs(options.normal.x) <= 1e-6 && options.normal.y > 0)))))
            options.normal = -options.normal;
        worst = std::max(worst, off);
        const std::vector<Polyline> beside = offset_lines(line, options);
        gone += beside.empty();
        for (const Polyline& one : beside) {
            Curve made = curve_from(one);
            made.sampling = curve.sampling;
            out.push_back(std::move(made));
        }
    }
    if (worst > 1e-5)
        run.tell(Severity::caution, "not-flat",
                 fmt::format("A curve leaves its plane by {}; the offset is measured in the plane.",
                             format_value(worst, Quantity::length, "m")));
    if (gone > 0)
        run.tell(Severity::caution, "nothing-left",
                 fmt::format("Nothing is left of {} curve{}: the distance is larger than there is room for.", gone,
                             gone == 1 ? "" : "s"));
    shape.curves = std::move(out);
    run.give(std::move(shape));
}

const StepOf<OffsetCurve> offset_curve_step(
    StepInfo{
        .key = "offset_curve",
        .name = "Offset curve",
        .family = Family::curves,
        .purpose = "A line beside a line, at an even distance.",
        .words = "parallel inset outset outline expand shrink",
        .help = "In the curve's own plane. Closed curves grow with a positive distance and shrink with a negative one; "
                "open curves move to the right or left. Folds are cut out, so one curve may come apart into several.",
        .glyph = "M4 4h16v16h-16z M8 8h8v8h-8z",
        .gives = 0,
        .inputs = {{"shape", "Curves", content_curves, true}},
        .telling = "by {distance}"},
    {offset_of(&OffsetCurve::distance, "distance", "Distance",
               "Outwards, or to the right of an open curve; negative the other way."),
     choice_of(&OffsetCurve::corners, "corners", "Corners",
               {{OffsetCurve::Corners::mitre, "mitre", "mitred"}, {OffsetCurve::Corners::round, "round", "round"}},
               "On the outside of corners."),
     toggle_of(&OffsetCurve::keep, "keep", "Keep the curve", "Passes the curve along with its offset.")},
    run_offset_curve);

}  // namespace

}  // namespace bricol
