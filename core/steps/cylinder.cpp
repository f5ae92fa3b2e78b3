// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/primitives.h"
#include "core/steps/solid.h"

namespace bricol {

namespace {

void run_cylinder(StepRun& run) {
    CylinderOptions options;
    options.radius = run.number("radius");
    options.height = run.number("height");
    options.segments = run.integer("segments");
    options.levels = run.integer("levels");
    options.rings = run.integer("rings");
    const std::string& caps = run.word("caps");
    options.caps = caps == "none"    ? CapStyle::none
                   : caps == "fan"   ? CapStyle::fan
                   : caps == "rings" ? CapStyle::rings
                                     : CapStyle::face;
    if (run.too_many(1.0 * options.segments * (options.levels + 2 * options.rings), most_faces, "faces",
                     "Use fewer segments."))
        return;
    give_seated(run, make_cylinder(options), options.height);
}

const Registered cylinder_step(StepInfo{
    .key = "cylinder",
    .name = "Cylinder",
    .family = Family::make,
    .purpose = "An upright cylinder with the caps you want.",
    .words = "rod post pillar drum",
    .help = "Caps are one face, a fan of triangles, rings of quads round a fan, or left open.",
    .glyph = "M5 7a7 3 0 1 0 14 0a7 3 0 1 0 -14 0 M5 7v10a7 3 0 0 0 14 0v-10",
    .inputs = {},
    .parameters = {length_of("radius", "Radius", 0.25, 1e-6, 2, "From the axis to the wall."),
                   length_of("height", "Height", 0.5, 1e-6, 4, "From cap to cap."),
                   count_of("segments", "Segments", 32, 3, 10000, 128, "Faces round the axis."),
                   count_of("levels", "Segments up", 1, 1, 10000, 32, "Faces along the height."),
                   choice_of("caps", "Caps",
                             {{"face", "one face"}, {"fan", "fan"}, {"rings", "rings"}, {"none", "open"}},
                             "What closes the ends."),
                   when(count_of("rings", "Rings", 2, 1, 1000, 16, "Rings of faces in each cap."), "caps=rings"),
                   origin_choice()},
    .telling = "{segments} segments",
    .make = run_cylinder});

}  // namespace

}  // namespace bricol
