// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/primitives.h"
#include "core/steps/solid.h"

namespace bricol {

namespace {

void run_sphere(StepRun& run) {
    const double radius = run.number("radius");
    if (run.too_many(run.number("slices") * run.number("rings"), most_faces, "faces", "Use fewer slices or rings."))
        return;
    give_seated(run, make_sphere(radius, run.integer("slices"), run.integer("rings")), 2 * radius);
}

const Registered sphere_step(StepInfo{
    .key = "sphere",
    .name = "Sphere",
    .family = Family::make,
    .purpose = "A ball of rings and slices.",
    .words = "ball globe orb",
    .help = "Rings run round the upright axis, slices from pole to pole; each pole is one vertex.",
    .glyph = "M12 4a8 8 0 1 0 0.01 0z M4 12a8 3 0 0 0 16 0 M12 4a4 8 0 0 0 0 16",
    .inputs = {},
    .parameters = {length_of("radius", "Radius", 0.25, 1e-6, 2, "From the centre to the surface."),
                   count_of("slices", "Slices", 32, 3, 10000, 128, "Faces round the axis."),
                   count_of("rings", "Rings", 16, 2, 10000, 64, "Faces from pole to pole."), origin_choice()},
    .telling = "r {radius}",
    .make = run_sphere});

}  // namespace

}  // namespace bricol
