// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/primitives.h"
#include "core/steps/solid.h"

namespace bricol {

namespace {

void run_torus(StepRun& run) {
    const double ring = run.number("radius"), tube = run.number("tube");
    if (tube >= ring)
        run.tell(Severity::caution, "crossing",
                 "The tube is as thick as the ring is wide, so the torus crosses itself. Make the tube thinner.");
    if (run.too_many(run.number("ring_segments") * run.number("tube_segments"), most_faces, "faces",
                     "Use fewer segments."))
        return;
    give_seated(run, make_torus(ring, tube, run.integer("ring_segments"), run.integer("tube_segments")), 2 * tube);
}

const Registered torus_step(StepInfo{
    .key = "torus",
    .name = "Torus",
    .family = Family::make,
    .purpose = "A round ring of round section.",
    .words = "ring doughnut fender tyre",
    .help = "Lies flat. The radius runs to the middle of the tube.",
    .glyph = "M3 12a9 5.5 0 1 0 18 0a9 5.5 0 1 0 -18 0 M8.5 11.5a3.5 1.6 0 0 0 7 0 M9.3 12.4a2.8 1.5 0 0 1 5.4 0",
    .inputs = {},
    .parameters = {length_of("radius", "Ring radius", 0.3, 1e-6, 2, "From the centre to the middle of the tube."),
                   length_of("tube", "Tube radius", 0.08, 1e-6, 1, "Of the section."),
                   count_of("ring_segments", "Ring segments", 48, 3, 10000, 128, "Faces round the ring."),
                   count_of("tube_segments", "Tube segments", 16, 3, 10000, 64, "Faces round the tube."),
                   origin_choice()},
    .telling = "r {radius}",
    .make = run_torus});

}  // namespace

}  // namespace bricol
