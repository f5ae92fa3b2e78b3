// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/primitives.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct GridSettings {
    double width = 1;
    double depth = 1;
    int across = 4;
    int deep = 4;
};

void run_grid(const GridSettings& s, StepRun& run) {
    const double across = s.across, deep = s.deep;
    if (run.too_many(across * deep, most_faces, "faces", "Use fewer segments.")) return;
    run.give(make_grid(s.width, s.depth, s.across, s.deep));
}

const StepOf<GridSettings> grid_step(
    StepInfo{.key = "grid",
             .name = "Grid",
             .family = Family::make,
             .purpose = "A flat sheet of quads on the ground.",
             .words = "plane sheet floor",
             .help = "Centred on the origin, facing up. UVs run 0 to 1.",
             .glyph = "M4 6h16v12h-16z M4 12h16 M9.3 6v12 M14.6 6v12",
             .inputs = {},
             .telling = "{across} × {deep}"},
    {length_of(&GridSettings::width, "width", "Width", 1e-6, 10, "Length along x."),
     length_of(&GridSettings::depth, "depth", "Depth", 1e-6, 10, "Length along y."),
     count_of(&GridSettings::across, "across", "Segments x", 1, 10000, 64, "Quads along x."),
     count_of(&GridSettings::deep, "deep", "Segments y", 1, 10000, 64, "Quads along y.")},
    run_grid);

}  // namespace

}  // namespace bricol
