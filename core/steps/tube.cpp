// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/solids.h"
#include "core/steps/solid.h"

namespace bricol {

namespace {

void run_tube(StepRun& run) {
    const int segments = run.integer("segments"), levels = run.integer("levels");
    if (run.too_many(2.0 * segments * (levels + 1), most_faces, "faces", "Use fewer segments.")) return;
    if (run.number("wall") >= run.number("radius"))
        run.tell(Severity::caution, "wall",
                 "The wall is thicker than the radius, so no bore is left. Make it thinner.");
    give_seated(run, make_tube(run.number("radius"), run.number("wall"), run.number("height"), segments, levels),
                run.number("height"));
}

const Registered tube_step(StepInfo{
    .key = "tube",
    .name = "Tube",
    .family = Family::make,
    .purpose = "An upright pipe with a wall.",
    .words = "pipe hollow cylinder sleeve bush ring",
    .help = "Closed all round: outer wall, bore and two rings.",
    .glyph = "M5 7a7 3 0 1 0 14 0a7 3 0 1 0 -14 0 M5 7v10a7 3 0 0 0 14 0v-10 M9 7a3 1.3 0 1 0 6 0a3 1.3 0 1 0 -6 0",
    .inputs = {},
    .parameters = {length_of("radius", "Radius", 0.25, 1e-6, 2, "Of the outer wall."),
                   length_of("wall", "Wall", 0.02, 1e-6, 1, "Thickness of the wall."),
                   length_of("height", "Height", 0.5, 1e-6, 4, "From end to end."),
                   count_of("segments", "Segments", 32, 3, 10000, 128, "Faces round the axis."),
                   count_of("levels", "Segments up", 1, 1, 10000, 32, "Faces along the height."), origin_choice()},
    .telling = "wall {wall}",
    .make = run_tube});

}  // namespace

}  // namespace bricol
