// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include "core/ground/stop.h"
#include "core/kernels/curve_edit.h"
#include "core/catalogue/settings.h"
#include "core/shape/knot_values.h"

namespace bricol {

namespace {

struct ThreadPoints {
    enum class Order { given, axis, nearest };
    Order order = Order::given;
    Axis axis = Axis::x;
    bool smooth = true;
    bool closed = false;
    int pieces = 8;
    std::string only;
};

void run_thread_points(const ThreadPoints& s, StepRun& run) {
    const Shape& in = run.shape();
    std::vector<Vec3> points;
    // What the points carry stays with the knots; a normal and a number of its own are a point's alone.
    std::vector<KnotValues> values;
    const auto carry = [&](const Attributes& attributes, Domain domain, std::size_t element) {
        values.push_back(values_at(attributes, domain, element));
        std::erase_if(values.back(), [](const KnotValue& one) {
            return one.name == attribute_name::normal || one.name == attribute_name::id;
        });
    };
    if (!in.mesh.empty()) {
        const Mask mask = run.chosen(in.mesh, Domain::vertex, s.only);
        for (std::size_t i = 0; i < mask.size(); ++i) {
            stop_point(i);
            if (mask[i]) points.push_back((*in.mesh.positions)[i]), carry(in.mesh.attributes, Domain::vertex, i);
        }
    }
    for (const Instances& group : in.instances)
        for (std::size_t i = 0; i < group.count(); ++i)
            points.emplace_back(group.places[i][3]), carry(group.attributes, Domain::instance, i);
    for (const Curve& curve : in.curves)
        for (const Knot& knot : curve.knots) points.push_back(knot.at), values.push_back(knot.values);
    const ThreadPoints::Order order = s.order;
    if (run.too_many(static_cast<double>(points.size()), order == ThreadPoints::Order::nearest ? 20000 : 1e6, "points",
                     "Use fewer points, or sort them along an axis."))
        return;
    if (points.size() < 2) {
        run.tell(Severity::error, "too-few-points",
                 fmt::format("{} A curve needs two.",
                             points.empty() ? "There are no points here." : "There is only one point here."));
        return;
    }
    Curve curve;
    curve.closed = s.closed && points.size() > 2;
    curve.sampling.per_span = s.pieces;
    for (const std::size_t i : threaded(points,
                                        order == ThreadPoints::Order::given  ? ThreadOrder::given
                                        : order == ThreadPoints::Order::axis ? ThreadOrder::axis
                                                                             : ThreadOrder::nearest,
                                        index_of(s.axis))) {
        stop_point(curve.knots.size());
        Knot knot;
        knot.at = points[i];
        knot.kind = s.smooth ? KnotKind::smooth : KnotKind::corner;
        knot.values = std::move(values[i]);
        curve.knots.push_back(std::move(knot));
    }
    Shape shape;
    shape.curves.push_back(std::move(curve));
    run.give(std::move(shape));
}

const StepOf<ThreadPoints> thread_points_step(
    StepInfo{
        .key = "thread_points",
        .name = "Thread points",
        .family = Family::curves,
        .purpose = "One curve through points.",
        .words = "connect points to curve polyline string join order",
        .help =
            "In the order they come, sorted along an axis, or each time to the nearest that is left. Points are those "
            "of a mesh, the places of instances or the knots of curves.",
        .glyph = "M4 18 L9 8 L14 15 L20 5 M3 17h2.4v2.4H3z M7.8 6.8h2.4v2.4H7.8z M12.8 13.8h2.4v2.4h-2.4z M18.8 "
                 "3.8h2.4v2.4h-2.4z",
        .gives = content_curves,
        .inputs = {{"shape", "Points", content_any, true}},
        .telling = "{order}"},
    {choice_of(&ThreadPoints::order, "order", "Order",
               {{ThreadPoints::Order::given, "given", "as they come"},
                {ThreadPoints::Order::axis, "axis", "along an axis"},
                {ThreadPoints::Order::nearest, "nearest", "to the nearest"}},
               "Which point follows which."),
     when(axis_of(&ThreadPoints::axis, "axis", "Axis", "What they are sorted along."), "order=axis"),
     toggle_of(&ThreadPoints::smooth, "smooth", "Smooth", "Smooth knots; otherwise corners."),
     toggle_of(&ThreadPoints::closed, "closed", "Closed", "Leads back to the first point."),
     sampling_of(&ThreadPoints::pieces, "pieces"), only_of(&ThreadPoints::only, "Only the points of this set.")},
    run_thread_points);

}  // namespace

}  // namespace bricol
