// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/primitives.h"
#include "core/steps/shared/solid.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Sphere {
    double radius = 0.25;
    int slices = 32;
    int rings = 16;
    SolidOrigin origin = SolidOrigin::base;
};

void run_sphere(const Sphere& s, StepRun& run) {
    const double radius = s.radius;
    if (run.too_many(s.slices * s.rings, most_faces, "faces", "Use fewer slices or rings.")) return;
    give_seated(run, s.origin, make_sphere(radius, s.slices, s.rings), 2 * radius);
}

const StepOf<Sphere> sphere_step(
    StepInfo{.key = "sphere",
             .name = "Sphere",
             .family = Family::make,
             .purpose = "A ball of rings and slices.",
             .words = "ball globe orb",
             .help = "Rings run round the upright axis, slices from pole to pole; each pole is one vertex.",
             .glyph = "M12 4a8 8 0 1 0 0.01 0z M4 12a8 3 0 0 0 16 0 M12 4a4 8 0 0 0 0 16",
             .inputs = {},
             .telling = "r {radius}"},
    {length_of(&Sphere::radius, "radius", "Radius", 1e-6, 2, "From the centre to the surface."),
     count_of(&Sphere::slices, "slices", "Slices", 3, 10000, 128, "Faces round the axis."),
     count_of(&Sphere::rings, "rings", "Rings", 2, 10000, 64, "Faces from pole to pole."),
     origin_choice(&Sphere::origin)},
    run_sphere);

}  // namespace

}  // namespace bricol
