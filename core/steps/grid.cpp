// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/primitives.h"
#include "core/catalogue/step.h"

namespace bricol {

namespace {

void run_grid(StepRun& run) {
    const double across = run.number("across"), deep = run.number("deep");
    if (run.too_many(across * deep, most_faces, "faces", "Use fewer segments.")) return;
    run.give(make_grid(run.number("width"), run.number("depth"), run.integer("across"), run.integer("deep")));
}

const Registered grid_step(StepInfo{.key = "grid",
                                    .name = "Grid",
                                    .family = Family::make,
                                    .purpose = "A flat sheet of quads on the ground.",
                                    .words = "plane sheet floor",
                                    .help = "Centred on the origin, facing up. UVs run 0 to 1.",
                                    .glyph = "M4 6h16v12h-16z M4 12h16 M9.3 6v12 M14.6 6v12",
                                    .inputs = {},
                                    .parameters = {length_of("width", "Width", 1, 1e-6, 10, "Length along x."),
                                                   length_of("depth", "Depth", 1, 1e-6, 10, "Length along y."),
                                                   count_of("across", "Segments x", 4, 1, 10000, 64, "Quads along x."),
                                                   count_of("deep", "Segments y", 4, 1, 10000, 64, "Quads along y.")},
                                    .telling = "{across} × {deep}",
                                    .make = run_grid});

}  // namespace

}  // namespace bricol
