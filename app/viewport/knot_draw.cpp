// SPDX-License-Identifier: GPL-3.0-or-later
// Drawing: a click adds a knot to the curve at hand.
#include "app/viewport/knot_numbers.h"
#include "app/viewport/knot_tool.h"

namespace bricol {

/// A click on the other end of the curve being drawn closes it.
bool KnotTool::on_other_end() const {
    if (held_.curve < 0 || held_.handle != 0 || held_.curve != session_.curve()) return false;
    const Curve& curve = curves_[held_.curve];
    const int last = static_cast<int>(curve.knots.size()) - 1;
    return last >= 2 && !curve.closed && held_.knot == (from_start() ? last : 0);
}

void KnotTool::draw_knot(const QMouseEvent* event, const Projector& projector, const DVec3& eye) {
    if (on_other_end()) {
        set_closed(true);
        set_drawing(false);
        pressed_ = false;
        return;
    }
    DVec3 place;
    const Curve like = like_curve();
    const auto on = surfaces_ ? snap_.surface(press_at_, projector, eye) : std::nullopt;
    if (on)
        place = *on;
    else if (!place_under(press_at_, projector, nullptr, DVec3(plane_.origin), place)) {
        session_.say("This view looks along the drawing plane. Turn it, or take the flat view of that plane.", true);
        pressed_ = false;
        return;
    }
    const bool front = from_start();
    if (!on) place = snapped(place, like, projector, event->modifiers());
    int curve = session_.curve();
    const bool fresh = curve >= static_cast<int>(curves_.size()) || curves_.empty() || curves_[curve].closed;
    if (fresh) curve = static_cast<int>(curves_.size());
    if (!on && !fresh && (event->modifiers() & Qt::ShiftModifier))
        place =
            held_straight(DVec3((front ? curves_[curve].knots.front() : curves_[curve].knots.back()).at), place, like);
    const int source = add_knot(fresh ? -1 : curve, front, on ? place_triple(place, like) : place_pair(place, like));
    session_.choose_knots(std::min(curve, static_cast<int>(curves_.size()) - 1), {source});
    held_ = {session_.curve(), source, 0};
    new_knot_ = true;
    before_ = session_.chosen_step()->settings[key_];
    curves_before_ = curves_;
    press_place_ = place;
}

/// Writes a knot at an end of a curve, or as the first one of a new curve (-1). The knot's number.
int KnotTool::add_knot(int curve, bool front, const Json& at) {
    int number = 0;
    edit("Add a knot", {}, [&](Json& curves) {
        const bool fresh = curve < 0;
        const int json_curve = fresh ? static_cast<int>(curves.size()) : curves_[curve].source_curve;
        // An empty curve in the file is taken up instead of leaving it behind.
        if (fresh && !curves.empty() && curves.back().is_object() && curves.back().contains("knots") &&
            curves.back()["knots"].empty())
            curves.back()["knots"].push_back(Json{{"at", at}});
        else if (fresh)
            curves.push_back(Json{{"knots", Json::array({Json{{"at", at}}})}});
        else if (Json& list = curves[json_curve]["knots"]; front)
            list.insert(list.begin(), Json{{"at", at}});
        else
            list.push_back(Json{{"at", at}});
        number = fresh || front ? 0 : static_cast<int>(curves[json_curve]["knots"].size()) - 1;
    });
    return number;
}

}  // namespace bricol
