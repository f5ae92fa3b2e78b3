// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/solids.h"
#include "core/steps/solid.h"

namespace bricol {

namespace {

void run_geodesic_sphere(StepRun& run) {
    const int frequency = run.integer("frequency");
    if (run.too_many(20.0 * frequency * frequency, most_faces, "faces", "Use a lower frequency.")) return;
    give_seated(run, make_geodesic_sphere(run.number("radius"), frequency), 2 * run.number("radius"));
}

const Registered geodesic_sphere_step(StepInfo{
    .key = "geodesic_sphere",
    .name = "Geodesic sphere",
    .family = Family::make,
    .purpose = "A ball of even triangles.",
    .words = "icosahedron dome even triangles",
    .help =
        "An icosahedron whose edges are split into as many pieces as the frequency says: 20 times its square faces.",
    .glyph = "M12 3a9 9 0 1 0 0.01 0 M12 3 L5 9 L19 9z M5 9 L12 18 L19 9 M5 9 L4 15.5 L12 18 L20 15.5 L19 9 M12 18v3",
    .inputs = {},
    .parameters = {length_of("radius", "Radius", 0.25, 1e-6, 2, "From the middle."),
                   count_of("frequency", "Frequency", 4, 1, 512, 16, "Pieces of every edge."), origin_choice()},
    .telling = "frequency {frequency}",
    .make = run_geodesic_sphere});

}  // namespace

}  // namespace bricol
