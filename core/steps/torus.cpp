// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/primitives.h"
#include "core/steps/shared/solid.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Torus {
    double radius = 0.3;
    double tube = 0.08;
    int ring_segments = 48;
    int tube_segments = 16;
    SolidOrigin origin = SolidOrigin::base;
};

void run_torus(const Torus& s, StepRun& run) {
    const double ring = s.radius, tube = s.tube;
    if (tube >= ring)
        run.tell(Severity::caution, "crossing",
                 "The tube is as thick as the ring is wide, so the torus crosses itself. Make the tube thinner.");
    if (run.too_many(s.ring_segments * s.tube_segments, most_faces, "faces", "Use fewer segments.")) return;
    give_seated(run, s.origin, make_torus(ring, tube, s.ring_segments, s.tube_segments), 2 * tube);
}

const StepOf<Torus> torus_step(
    StepInfo{
        .key = "torus",
        .name = "Torus",
        .family = Family::make,
        .purpose = "A round ring of round section.",
        .words = "ring doughnut fender tyre",
        .help = "Lies flat. The radius runs to the middle of the tube.",
        .glyph = "M3 12a9 5.5 0 1 0 18 0a9 5.5 0 1 0 -18 0 M8.5 11.5a3.5 1.6 0 0 0 7 0 M9.3 12.4a2.8 1.5 0 0 1 5.4 0",
        .inputs = {},
        .telling = "r {radius}"},
    {length_of(&Torus::radius, "radius", "Ring radius", 1e-6, 2, "From the centre to the middle of the tube."),
     length_of(&Torus::tube, "tube", "Tube radius", 1e-6, 1, "Of the section."),
     count_of(&Torus::ring_segments, "ring_segments", "Ring segments", 3, 10000, 128, "Faces round the ring."),
     count_of(&Torus::tube_segments, "tube_segments", "Tube segments", 3, 10000, 64, "Faces round the tube."),
     origin_choice(&Torus::origin)},
    run_torus);

}  // namespace

}  // namespace bricol
