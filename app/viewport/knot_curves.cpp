// SPDX-License-Identifier: GPL-3.0-or-later
// Whole curves of a step: split, joined and reversed.
#include <algorithm>

#include "app/viewport/knot_tool.h"

namespace bricol {

namespace {

/// A list of knots run the other way.
Json turned(Json list) {
    std::reverse(list.begin(), list.end());
    for (Json& knot : list) {
        const Json in = knot.contains("in") ? knot["in"] : Json(), out = knot.contains("out") ? knot["out"] : Json();
        knot.erase("in"), knot.erase("out");
        if (!in.is_null()) knot["out"] = in;
        if (!out.is_null()) knot["in"] = out;
        // Seen from the other end a roll goes the other way round.
        if (knot.contains("roll")) {
            const Json roll = knot["roll"];
            if (roll.is_number()) knot["roll"] = -roll.get<double>();
            if (roll.is_string() && roll.get<std::string>().starts_with('='))
                knot["roll"] = "= -(" + roll.get<std::string>().substr(1) + ")";
        }
    }
    return list;
}

}  // namespace

void KnotTool::split() {
    if (session_.curve() >= static_cast<int>(curves_.size()) || session_.knots().empty()) return;
    const Curve curve = curves_[session_.curve()];
    const std::set<int> chosen = session_.knots();
    const int count = static_cast<int>(curve.knots.size());
    if (!curve.closed && *chosen.begin() == 0 && chosen.size() == 1) return;
    session_.choose_knots(session_.curve(), {});
    edit("Split the curve", {}, [&](Json& curves) {
        Json whole = curves[curve.source_curve];
        Json list = whole["knots"];
        if (curve.closed) {  // opened at the first chosen knot, which then stands at both ends
            std::rotate(list.begin(), list.begin() + *chosen.begin(), list.end());
            list.push_back(list.front());
        }
        whole.erase("closed");
        std::vector<Json> pieces(1, Json::array());
        for (int k = 0; k < static_cast<int>(list.size()); ++k) {
            pieces.back().push_back(list[k]);
            const int original = curve.closed ? (k + *chosen.begin()) % count : k;
            const bool inner = k > 0 && k + 1 < static_cast<int>(list.size());
            if (inner && chosen.contains(original)) pieces.push_back(Json::array({list[k]}));
        }
        curves.erase(static_cast<std::size_t>(curve.source_curve));
        for (std::size_t i = 0; i < pieces.size(); ++i) {
            Json one = whole;
            one["knots"] = pieces[i];
            curves.insert(curves.begin() + curve.source_curve + static_cast<std::ptrdiff_t>(i), one);
        }
    });
}

void KnotTool::join() {
    const int own = session_.curve();
    if (own >= static_cast<int>(curves_.size()) || curves_[own].closed || curves_[own].knots.empty()) return;
    const Curve& curve = curves_[own];
    // The chosen end; the last knot when neither end is chosen.
    const bool from_start =
        session_.knots().contains(0) && !session_.knots().contains(static_cast<int>(curve.knots.size()) - 1);
    const DVec3 end(from_start ? curve.knots.front().at : curve.knots.back().at);
    int best = -1;
    bool best_end = false;
    double nearest = 1e300;
    for (int c = 0; c < static_cast<int>(curves_.size()); ++c) {
        if (c == own || curves_[c].closed || curves_[c].knots.empty()) continue;
        for (const bool at_end : {false, true})
            if (const double d =
                    glm::distance(DVec3(at_end ? curves_[c].knots.back().at : curves_[c].knots.front().at), end);
                d < nearest)
                nearest = d, best = c, best_end = at_end;
    }
    if (best < 0) {
        session_.say("There is no other open curve in this step to join to.", true);
        return;
    }
    const int source = curve.source_curve, other = curves_[best].source_curve;
    edit("Join curves", {}, [&](Json& curves) {
        Json first = curves[source]["knots"], second = curves[other]["knots"];
        if (from_start) first = turned(first);
        if (best_end) second = turned(second);
        // Ends in one place become one knot.
        if (nearest < 1e-6) {
            if (second[0].contains("out")) first.back()["out"] = second[0]["out"], first.back()["kind"] = "free";
            second.erase(std::size_t(0));
        }
        for (const Json& knot : second) first.push_back(knot);
        curves[source]["knots"] = first;
        curves.erase(static_cast<std::size_t>(other));
    });
    session_.choose_knots(std::min(own, static_cast<int>(curves_.size()) - 1), {});
}

void KnotTool::reverse() {
    if (session_.curve() >= static_cast<int>(curves_.size())) return;
    const int source = curves_[session_.curve()].source_curve;
    const int last = static_cast<int>(curves_[session_.curve()].knots.size()) - 1;
    std::set<int> chosen;
    for (const int k : session_.knots()) chosen.insert(last - k);
    edit("Reverse the curve", {}, [&](Json& curves) {
        Json& list = curves[source]["knots"];
        list = turned(list);
    });
    session_.choose_knots(session_.curve(), chosen);
}

}  // namespace bricol
