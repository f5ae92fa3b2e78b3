// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/shared/fillet_checks.h"

namespace bricol {

void tell_held_fillets(StepRun& run, const std::vector<Curve>& curves) {
    std::size_t smaller = 0, none = 0;
    float tightest = 1e30f;
    std::vector<Vec3> places;
    for (const Curve& curve : curves) {
        std::vector<HeldFillet> held;
        with_fillets(curve, &held);  // the radii stay numbers on the knots; points are made when a step needs them
        for (const HeldFillet& h : held) {
            places.push_back(curve.knots[static_cast<std::size_t>(h.knot)].at);
            if (h.used > 0)
                ++smaller, tightest = std::min(tightest, h.used);
            else
                ++none;
        }
    }
    std::string text;
    if (smaller > 0)
        text = fmt::format("{} corner{} held to a smaller radius, the tightest to {}.", smaller,
                           smaller == 1 ? " is" : "s are", format_value(tightest, Quantity::length, "m"));
    if (none > 0)
        text += fmt::format("{}{} corner{} not rounded: no circle touches both sides there.", smaller > 0 ? " " : "",
                            none, none == 1 ? " is" : "s are");
    if (!text.empty()) run.tell(Severity::caution, "held-rounding", std::move(text)).places = std::move(places);
}

}  // namespace bricol
