// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include <algorithm>

#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct CloseCurve {
    enum class As { closed, open };
    As as = As::closed;
    int at = 0;
    bool end_there = true;
};

void run_close_curve(const CloseCurve& s, StepRun& run) {
    Shape shape = run.shape();
    const bool close = s.as == CloseCurve::As::closed;
    std::size_t changed = 0, short_ones = 0;
    for (Curve& curve : shape.curves) {
        if (curve.closed == close) continue;
        const bool bent =
            std::ranges::any_of(curve.knots, [](const Knot& k) { return k.in != Vec3(0) || k.out != Vec3(0); });
        if (close && curve.knots.size() < (bent ? 2u : 3u)) {
            ++short_ones;
            continue;
        }
        ++changed;
        if (close) {
            curve.closed = true;
            // Ends in one place become one knot.
            if (glm::distance(curve.knots.front().at, curve.knots.back().at) < 1e-6f) {
                curve.knots.front().in = curve.knots.back().in;
                if (curve.knots.front().in != Vec3(0)) curve.knots.front().kind = KnotKind::free;
                curve.knots.pop_back();
            }
            continue;
        }
        curve.closed = false;
        const auto n = static_cast<int>(curve.knots.size());
        if (n > 0) std::rotate(curve.knots.begin(), curve.knots.begin() + (s.at % n), curve.knots.end());
        if (n > 0 && s.end_there) {
            Knot last = curve.knots.front();
            last.source = -1;
            curve.knots.push_back(last);
        }
    }
    if (short_ones > 0)
        run.tell(Severity::caution, "too-few-knots",
                 fmt::format("{} curve{} of fewer than three knots cannot be closed: there is no area inside.",
                             short_ones, short_ones == 1 ? "" : "s"));
    if (changed == 0 && short_ones == 0)
        run.tell(Severity::note, "unchanged",
                 close ? "Every curve is closed already." : "Every curve is open already.");
    run.give(std::move(shape));
}

const StepOf<CloseCurve> close_curve_step(
    StepInfo{
        .key = "close_curve",
        .name = "Close or open",
        .family = Family::curves,
        .purpose = "Closes curves, or opens them at a knot.",
        .words = "cyclic loop ring cut open",
        .help = "A closed curve leads from its last knot back to the first. An opened one starts at the knot you name.",
        .glyph = "M12 4a8 8 0 1 0 8 8 M20 12 L16.5 10 M20 12 L22 8.5",
        .gives = 0,
        .inputs = {{"shape", "Curves", content_curves, true}},
        .telling = "{as}"},
    {choice_of(&CloseCurve::as, "as", "Make",
               {{CloseCurve::As::closed, "closed", "closed"}, {CloseCurve::As::open, "open", "open"}},
               "What the curves become."),
     when(count_of(&CloseCurve::at, "at", "At knot", 0, 100000, 32, "Where a closed curve is opened."), "as=open"),
     when(toggle_of(&CloseCurve::end_there, "end_there", "End there too",
                    "Keeps the closing piece; otherwise the curve loses it."),
          "as=open")},
    run_close_curve);

}  // namespace

}  // namespace bricol
