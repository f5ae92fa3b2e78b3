// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/solids.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Disc {
    enum class Style { face, fan, rings };
    double radius = 0.5;
    double hole = 0;
    int segments = 32;
    Style style = Style::face;
    int rings = 3;
};

void run_disc(const Disc& s, StepRun& run) {
    const Disc::Style style = s.style;
    const int segments = s.segments, rings = s.rings;
    if (run.too_many(1.0 * segments * rings, most_faces, "faces", "Use fewer segments or rings.")) return;
    const double hole = s.hole;
    if (hole >= s.radius)
        run.tell(Severity::caution, "hole", "The hole is as wide as the disc; a thin rim is left. Make it smaller.");
    run.give(make_disc(s.radius, hole, segments, rings,
                       style == Disc::Style::fan     ? CapStyle::fan
                       : style == Disc::Style::rings ? CapStyle::rings
                                                     : CapStyle::face));
}

const StepOf<Disc> disc_step(
    StepInfo{.key = "disc",
             .name = "Disc",
             .family = Family::make,
             .purpose = "A flat round sheet, with a hole when asked.",
             .words = "plate washer ring sheet round",
             .help = "Lies on the ground, facing up. One face, a fan of triangles, or rings of quads.",
             .glyph = "M3 12a9 4 0 1 0 18 0a9 4 0 1 0 -18 0 M9.5 12a2.5 1.1 0 1 0 5 0a2.5 1.1 0 1 0 -5 0",
             .inputs = {},
             .telling = "r {radius}"},
    {length_of(&Disc::radius, "radius", "Radius", 1e-6, 2, "From the middle to the rim."),
     length_of(&Disc::hole, "hole", "Hole", 0, 1, "Radius of the hole; 0 for none."),
     count_of(&Disc::segments, "segments", "Segments", 3, 10000, 128, "Faces round the middle."),
     choice_of(&Disc::style, "style", "Faces",
               {{Disc::Style::face, "face", "one face"},
                {Disc::Style::fan, "fan", "fan"},
                {Disc::Style::rings, "rings", "rings"}},
               "What the disc is made of."),
     when(count_of(&Disc::rings, "rings", "Rings", 1, 1000, 16, "Rings of faces."), "style=rings")},
    run_disc);

}  // namespace

}  // namespace bricol
