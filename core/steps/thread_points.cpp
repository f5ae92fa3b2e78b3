// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include "core/kernels/curve_edit.h"
#include "core/catalogue/step.h"

namespace bricol {

namespace {

void run_thread_points(StepRun& run) {
    const Shape& in = run.shape();
    std::vector<Vec3> points;
    if (!in.mesh.empty()) {
        const Mask mask = run.chosen(in.mesh, Domain::vertex);
        for (std::size_t i = 0; i < mask.size(); ++i)
            if (mask[i]) points.push_back((*in.mesh.positions)[i]);
    }
    for (const Instances& group : in.instances)
        for (const glm::mat4& place : group.places) points.emplace_back(place[3]);
    for (const Curve& curve : in.curves)
        for (const Knot& knot : curve.knots) points.push_back(knot.at);
    const std::string& order = run.word("order");
    if (run.too_many(static_cast<double>(points.size()), order == "nearest" ? 20000 : 1e6, "points",
                     "Use fewer points, or sort them along an axis."))
        return;
    if (points.size() < 2) {
        run.tell(Severity::error, "too-few-points",
                 fmt::format("{} A curve needs two.",
                             points.empty() ? "There are no points here." : "There is only one point here."));
        return;
    }
    Curve curve;
    curve.closed = run.toggle("closed") && points.size() > 2;
    curve.sampling.per_span = run.integer("pieces");
    for (const std::size_t i : threaded(points,
                                        order == "given"  ? ThreadOrder::given
                                        : order == "axis" ? ThreadOrder::axis
                                                          : ThreadOrder::nearest,
                                        run.axis("axis"))) {
        Knot knot;
        knot.at = points[i];
        knot.kind = run.toggle("smooth") ? KnotKind::smooth : KnotKind::corner;
        curve.knots.push_back(knot);
    }
    Shape shape;
    shape.curves.push_back(std::move(curve));
    run.give(std::move(shape));
}

const Registered thread_points_step(StepInfo{
    .key = "thread_points",
    .name = "Thread points",
    .family = Family::curves,
    .purpose = "One curve through points.",
    .words = "connect points to curve polyline string join order",
    .help = "In the order they come, sorted along an axis, or each time to the nearest that is left. Points are those "
            "of a mesh, the places of instances or the knots of curves.",
    .glyph = "M4 18 L9 8 L14 15 L20 5 M3 17h2.4v2.4H3z M7.8 6.8h2.4v2.4H7.8z M12.8 13.8h2.4v2.4h-2.4z M18.8 "
             "3.8h2.4v2.4h-2.4z",
    .gives = content_curves,
    .inputs = {{"shape", "Points", content_any, true}},
    .parameters = {choice_of("order", "Order",
                             {{"given", "as they come"}, {"axis", "along an axis"}, {"nearest", "to the nearest"}},
                             "Which point follows which."),
                   when(axis_of("axis", "Axis", "x", "What they are sorted along."), "order=axis"),
                   toggle_of("smooth", "Smooth", true, "Smooth knots; otherwise corners."),
                   toggle_of("closed", "Closed", false, "Leads back to the first point."), sampling_of("pieces"),
                   only_of("Only the points of this set.")},
    .telling = "{order}",
    .make = run_thread_points});

}  // namespace

}  // namespace bricol
