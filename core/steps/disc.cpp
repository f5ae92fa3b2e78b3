// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/solids.h"
#include "core/catalogue/step.h"

namespace bricol {

namespace {

void run_disc(StepRun& run) {
    const std::string& style = run.word("style");
    const int segments = run.integer("segments"), rings = run.integer("rings");
    if (run.too_many(1.0 * segments * rings, most_faces, "faces", "Use fewer segments or rings.")) return;
    const double hole = run.number("hole");
    if (hole >= run.number("radius"))
        run.tell(Severity::caution, "hole", "The hole is as wide as the disc; a thin rim is left. Make it smaller.");
    run.give(make_disc(run.number("radius"), hole, segments, rings,
                       style == "fan"     ? CapStyle::fan
                       : style == "rings" ? CapStyle::rings
                                          : CapStyle::face));
}

const Registered disc_step(StepInfo{
    .key = "disc",
    .name = "Disc",
    .family = Family::make,
    .purpose = "A flat round sheet, with a hole when asked.",
    .words = "plate washer ring sheet round",
    .help = "Lies on the ground, facing up. One face, a fan of triangles, or rings of quads.",
    .glyph = "M3 12a9 4 0 1 0 18 0a9 4 0 1 0 -18 0 M9.5 12a2.5 1.1 0 1 0 5 0a2.5 1.1 0 1 0 -5 0",
    .inputs = {},
    .parameters = {length_of("radius", "Radius", 0.5, 1e-6, 2, "From the middle to the rim."),
                   length_of("hole", "Hole", 0, 0, 1, "Radius of the hole; 0 for none."),
                   count_of("segments", "Segments", 32, 3, 10000, 128, "Faces round the middle."),
                   choice_of("style", "Faces", {{"face", "one face"}, {"fan", "fan"}, {"rings", "rings"}},
                             "What the disc is made of."),
                   when(count_of("rings", "Rings", 3, 1, 1000, 16, "Rings of faces."), "style=rings")},
    .telling = "r {radius}",
    .make = run_disc});

}  // namespace

}  // namespace bricol
