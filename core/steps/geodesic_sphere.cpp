// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/solids.h"
#include "core/steps/shared/solid.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct GeodesicSphere {
    double radius = 0.25;
    int frequency = 4;
    SolidOrigin origin = SolidOrigin::base;
};

void run_geodesic_sphere(const GeodesicSphere& s, StepRun& run) {
    const int frequency = s.frequency;
    if (run.too_many(20.0 * frequency * frequency, most_faces, "faces", "Use a lower frequency.")) return;
    give_seated(run, s.origin, make_geodesic_sphere(s.radius, frequency), 2 * s.radius);
}

const StepOf<GeodesicSphere> geodesic_sphere_step(
    StepInfo{
        .key = "geodesic_sphere",
        .name = "Geodesic sphere",
        .family = Family::make,
        .purpose = "A ball of even triangles.",
        .words = "icosahedron dome even triangles",
        .help = "An icosahedron whose edges are split into as many pieces as the frequency says: 20 times its square "
                "faces.",
        .glyph =
            "M12 3a9 9 0 1 0 0.01 0 M12 3 L5 9 L19 9z M5 9 L12 18 L19 9 M5 9 L4 15.5 L12 18 L20 15.5 L19 9 M12 18v3",
        .inputs = {},
        .telling = "frequency {frequency}"},
    {length_of(&GeodesicSphere::radius, "radius", "Radius", 1e-6, 2, "From the middle."),
     count_of(&GeodesicSphere::frequency, "frequency", "Frequency", 1, 512, 16, "Pieces of every edge."),
     origin_choice(&GeodesicSphere::origin)},
    run_geodesic_sphere);

}  // namespace

}  // namespace bricol
