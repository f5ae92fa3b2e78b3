// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/shared/held_inset.h"

namespace bricol {

void tell_held_inset(StepRun& run, const ExtrudeResult& result, double width, bool together, const std::string& key) {
    if (result.held == 0) return;
    const double made = width * result.made_share;
    const std::string asked = format_value(width, Quantity::length, "m"),
                      least = format_value(made, Quantity::length, "m");
    Finding& finding = run.tell(
        Severity::caution, "held",
        together
            ? fmt::format("The inset is {} wide everywhere instead of {}: {} of its border would vanish by more. Take "
                          "short edges out of the border, or inset less.",
                          least, asked, counted(result.held, "edge"))
            : fmt::format("{} too small for an inset of {}; the narrowest got {}.",
                          result.held == 1 ? "1 face is" : fmt::format("{} faces are", result.held), asked, least));
    finding.places = result.held_places;
    finding.remedy = Remedy{"Ask for " + least, {{"", key, made * 0.999}}, {}};
}

}  // namespace bricol
