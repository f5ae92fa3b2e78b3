// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/solids.h"
#include "core/steps/solid.h"

namespace bricol {

namespace {

void run_cone(StepRun& run) {
    const int segments = run.integer("segments"), levels = run.integer("levels");
    if (run.number("radius") == 0 && run.number("top_radius") == 0) {
        run.tell(Severity::error, "no-size", "Both radii are 0. Give one of them a size.");
        return;
    }
    if (run.too_many(1.0 * segments * levels, most_faces, "faces", "Use fewer segments.")) return;
    give_seated(run, make_cone(run.number("radius"), run.number("top_radius"), run.number("height"), segments, levels),
                run.number("height"));
}

const Registered cone_step(StepInfo{
    .key = "cone",
    .name = "Cone",
    .family = Family::make,
    .purpose = "An upright cone, or a frustum with a flat top.",
    .words = "frustum tip taper funnel spike",
    .help = "A top radius of 0 gives a tip; anything else a frustum. Caps are one face each.",
    .glyph = "M12 3 L4.5 17.5 M12 3 L19.5 17.5 M4.5 17.5a7.5 3 0 0 0 15 0",
    .inputs = {},
    .parameters = {length_of("radius", "Radius", 0.25, 0, 2, "At the base."),
                   length_of("top_radius", "Top radius", 0, 0, 2, "At the top; 0 for a tip."),
                   length_of("height", "Height", 0.5, 1e-6, 4, "From base to top."),
                   count_of("segments", "Segments", 32, 3, 10000, 128, "Faces round the axis."),
                   count_of("levels", "Segments up", 1, 1, 10000, 32, "Faces along the height."), origin_choice()},
    .telling = "{segments} segments",
    .make = run_cone});

}  // namespace

}  // namespace bricol
