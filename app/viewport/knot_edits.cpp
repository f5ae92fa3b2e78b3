// SPDX-License-Identifier: GPL-3.0-or-later
// What the knot bar and the menu do to the chosen knots.
#include <algorithm>

#include "app/viewport/knot_numbers.h"
#include "app/viewport/knot_tool.h"
#include "core/kernels/flatten.h"

namespace bricol {

namespace {

const char* kind_key(KnotKind kind) {
    return kind == KnotKind::smooth ? "smooth" : kind == KnotKind::free ? "free" : "corner";
}

}  // namespace

void KnotTool::set_kind(KnotKind kind) {
    if (session_.curve() >= static_cast<int>(curves_.size()) || session_.knots().empty()) return;
    const Curve curve = curves_[session_.curve()];
    const std::vector<Knot> knots = with_handles(curve);
    edit(kind == KnotKind::corner   ? "Make a corner"
         : kind == KnotKind::smooth ? "Make it smooth"
                                    : "Free the handles",
         {}, [&](Json& curves) {
             for (const int k : session_.knots()) {
                 Json& json = curves[curve.source_curve]["knots"][curve.knots[k].source];
                 json["kind"] = kind_key(kind);
                 if (kind == KnotKind::corner) {
                     json.erase("in");
                     json.erase("out");
                 } else if (kind == KnotKind::smooth && knots[k].kind != KnotKind::smooth) {
                     json.erase("in");  // found from the neighbours
                     json.erase("out");
                     json.erase("fillet");
                 } else if (kind == KnotKind::free && knots[k].kind != KnotKind::free) {
                     Curve as_smooth = curve;  // free handles start as the smooth ones
                     as_smooth.knots[k].kind = KnotKind::smooth;
                     const Knot start = with_handles(as_smooth)[k];
                     if (!json.contains("in")) json["in"] = way_pair(DVec3(start.in), curve);
                     if (!json.contains("out")) json["out"] = way_pair(DVec3(start.out), curve);
                     json.erase("fillet");
                 }
             }
         });
}

void KnotTool::set_fillet(double radius) {
    if (session_.curve() >= static_cast<int>(curves_.size())) return;
    const Curve curve = curves_[session_.curve()];
    edit("Round corners", "fillet", [&](Json& curves) {
        for (const int k : session_.knots()) {
            Json& json = curves[curve.source_curve]["knots"][curve.knots[k].source];
            if (radius > 0)
                json["fillet"] = rounded(radius);
            else
                json.erase("fillet");
        }
    });
}

void KnotTool::align(int written_axis) {
    if (session_.curve() >= static_cast<int>(curves_.size()) || session_.knots().size() < 2) return;
    const Curve curve = curves_[session_.curve()];
    const auto number = [&](int k) { return curve.plane.numbers(DVec3(curve.knots[k].at))[written_axis]; };
    double mean = 0;
    for (const int k : session_.knots()) mean += number(k);
    mean /= static_cast<double>(session_.knots().size());
    edit("Align knots", {}, [&](Json& curves) {
        for (const int k : session_.knots()) {
            Json& at = curves[curve.source_curve]["knots"][curve.knots[k].source]["at"];
            at[written_axis] =
                at[written_axis].is_string() ? moved_number(at[written_axis], mean - number(k)) : Json(rounded(mean));
        }
    });
}

void KnotTool::remove_chosen() {
    if (session_.curve() >= static_cast<int>(curves_.size())) return;
    const Curve curve = curves_[session_.curve()];
    const std::set<int> chosen = session_.knots();
    session_.choose_knots(session_.curve(), {});
    edit(chosen.size() > 1 ? "Delete knots" : "Delete a knot", {}, [&](Json& curves) {
        Json& list = curves[curve.source_curve]["knots"];
        for (auto k = chosen.rbegin(); k != chosen.rend(); ++k)
            list.erase(static_cast<std::size_t>(curve.knots[*k].source));
        if (list.empty()) curves.erase(static_cast<std::size_t>(curve.source_curve));
    });
}

void KnotTool::insert_between() {
    if (session_.curve() >= static_cast<int>(curves_.size()) || session_.knots().size() < 2) return;
    const Curve curve = curves_[session_.curve()];
    edit("Insert knots", {}, [&](Json& curves) {
        Json& list = curves[curve.source_curve]["knots"];
        for (int k = static_cast<int>(curve.knots.size()) - 2; k >= 0; --k) {
            if (!session_.knots().contains(k) || !session_.knots().contains(k + 1)) continue;
            const DVec3 middle = (DVec3(curve.knots[k].at) + DVec3(curve.knots[k + 1].at)) * 0.5;
            list.insert(list.begin() + curve.knots[k].source + 1, Json{{"at", place_pair(middle, curve)}});
        }
    });
}

void KnotTool::set_closed(bool closed) {
    if (session_.curve() >= static_cast<int>(curves_.size())) return;
    const int source = curves_[session_.curve()].source_curve;
    edit(closed ? "Close the curve" : "Open the curve", {}, [&](Json& curves) { curves[source]["closed"] = closed; });
}

void KnotTool::set_comb(bool on) {
    comb_ = on;
    emit changed();
}

void KnotTool::set_on_surfaces(bool on) {
    surfaces_ = on;
    if (on) snap_.gather(session_);
    emit changed();
}

void KnotTool::set_width_handles(bool on) {
    widths_ = on;
    emit changed();
}

bool KnotTool::closed() const {
    return session_.curve() < static_cast<int>(curves_.size()) && curves_[session_.curve()].closed;
}

std::optional<KnotKind> KnotTool::chosen_kind() const {
    std::optional<KnotKind> kind;
    if (session_.curve() >= static_cast<int>(curves_.size())) return kind;
    for (const int k : session_.knots()) {
        if (k >= static_cast<int>(curves_[session_.curve()].knots.size())) continue;
        const KnotKind here = curves_[session_.curve()].knots[k].kind;
        if (kind && *kind != here) return std::nullopt;
        kind = here;
    }
    return kind;
}

std::optional<double> KnotTool::chosen_fillet() const {
    if (session_.curve() >= static_cast<int>(curves_.size())) return std::nullopt;
    for (const int k : session_.knots())
        if (k < static_cast<int>(curves_[session_.curve()].knots.size()))
            return curves_[session_.curve()].knots[k].fillet;
    return std::nullopt;
}

}  // namespace bricol
