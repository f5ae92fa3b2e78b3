// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/primitives.h"
#include "core/steps/shared/solid.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Cylinder {
    enum class Caps { face, fan, rings, none };
    double radius = 0.25;
    double height = 0.5;
    int segments = 32;
    int levels = 1;
    Caps caps = Caps::face;
    int rings = 2;
    SolidOrigin origin = SolidOrigin::base;
};

void run_cylinder(const Cylinder& s, StepRun& run) {
    CylinderOptions options;
    options.radius = s.radius;
    options.height = s.height;
    options.segments = s.segments;
    options.levels = s.levels;
    options.rings = s.rings;
    const Cylinder::Caps caps = s.caps;
    options.caps = caps == Cylinder::Caps::none    ? CapStyle::none
                   : caps == Cylinder::Caps::fan   ? CapStyle::fan
                   : caps == Cylinder::Caps::rings ? CapStyle::rings
                                                   : CapStyle::face;
    if (run.too_many(1.0 * options.segments * (options.levels + 2 * options.rings), most_faces, "faces",
                     "Use fewer segments."))
        return;
    give_seated(run, s.origin, make_cylinder(options), options.height);
}

const StepOf<Cylinder> cylinder_step(
    StepInfo{.key = "cylinder",
             .name = "Cylinder",
             .family = Family::make,
             .purpose = "An upright cylinder with the caps you want.",
             .words = "rod post pillar drum",
             .help = "Caps are one face, a fan of triangles, rings of quads round a fan, or left open.",
             .glyph = "M5 7a7 3 0 1 0 14 0a7 3 0 1 0 -14 0 M5 7v10a7 3 0 0 0 14 0v-10",
             .inputs = {},
             .telling = "{segments} segments"},
    {length_of(&Cylinder::radius, "radius", "Radius", 1e-6, 2, "From the axis to the wall."),
     length_of(&Cylinder::height, "height", "Height", 1e-6, 4, "From cap to cap."),
     count_of(&Cylinder::segments, "segments", "Segments", 3, 10000, 128, "Faces round the axis."),
     count_of(&Cylinder::levels, "levels", "Segments up", 1, 10000, 32, "Faces along the height."),
     choice_of(&Cylinder::caps, "caps", "Caps",
               {{Cylinder::Caps::face, "face", "one face"},
                {Cylinder::Caps::fan, "fan", "fan"},
                {Cylinder::Caps::rings, "rings", "rings"},
                {Cylinder::Caps::none, "none", "open"}},
               "What closes the ends."),
     when(count_of(&Cylinder::rings, "rings", "Rings", 1, 1000, 16, "Rings of faces in each cap."), "caps=rings"),
     origin_choice(&Cylinder::origin)},
    run_cylinder);

}  // namespace

}  // namespace bricol
