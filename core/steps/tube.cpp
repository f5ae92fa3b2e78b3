// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/solids.h"
#include "core/steps/shared/solid.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Tube {
    double radius = 0.25;
    double wall = 0.02;
    double height = 0.5;
    int segments = 32;
    int levels = 1;
    SolidOrigin origin = SolidOrigin::base;
};

void run_tube(const Tube& s, StepRun& run) {
    const int segments = s.segments, levels = s.levels;
    if (run.too_many(2.0 * segments * (levels + 1), most_faces, "faces", "Use fewer segments.")) return;
    if (s.wall >= s.radius)
        run.tell(Severity::caution, "wall",
                 "The wall is thicker than the radius, so no bore is left. Make it thinner.");
    give_seated(run, s.origin, make_tube(s.radius, s.wall, s.height, segments, levels), s.height);
}

const StepOf<Tube> tube_step(
    StepInfo{
        .key = "tube",
        .name = "Tube",
        .family = Family::make,
        .purpose = "An upright pipe with a wall.",
        .words = "pipe hollow cylinder sleeve bush ring",
        .help = "Closed all round: outer wall, bore and two rings.",
        .glyph = "M5 7a7 3 0 1 0 14 0a7 3 0 1 0 -14 0 M5 7v10a7 3 0 0 0 14 0v-10 M9 7a3 1.3 0 1 0 6 0a3 1.3 0 1 0 -6 0",
        .inputs = {},
        .telling = "wall {wall}"},
    {length_of(&Tube::radius, "radius", "Radius", 1e-6, 2, "Of the outer wall."),
     length_of(&Tube::wall, "wall", "Wall", 1e-6, 1, "Thickness of the wall."),
     length_of(&Tube::height, "height", "Height", 1e-6, 4, "From end to end."),
     count_of(&Tube::segments, "segments", "Segments", 3, 10000, 128, "Faces round the axis."),
     count_of(&Tube::levels, "levels", "Segments up", 1, 10000, 32, "Faces along the height."),
     origin_choice(&Tube::origin)},
    run_tube);

}  // namespace

}  // namespace bricol
