// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/solids.h"
#include "core/steps/shared/solid.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Cone {
    double radius = 0.25;
    double top_radius = 0;
    double height = 0.5;
    int segments = 32;
    int levels = 1;
    SolidOrigin origin = SolidOrigin::base;
};

void run_cone(const Cone& s, StepRun& run) {
    const int segments = s.segments, levels = s.levels;
    if (s.radius == 0 && s.top_radius == 0) {
        run.tell(Severity::error, "no-size", "Both radii are 0. Give one of them a size.");
        return;
    }
    if (run.too_many(1.0 * segments * levels, most_faces, "faces", "Use fewer segments.")) return;
    give_seated(run, s.origin, make_cone(s.radius, s.top_radius, s.height, segments, levels), s.height);
}

const StepOf<Cone> cone_step(
    StepInfo{.key = "cone",
             .name = "Cone",
             .family = Family::make,
             .purpose = "An upright cone, or a frustum with a flat top.",
             .words = "frustum tip taper funnel spike",
             .help = "A top radius of 0 gives a tip; anything else a frustum. Caps are one face each.",
             .glyph = "M12 3 L4.5 17.5 M12 3 L19.5 17.5 M4.5 17.5a7.5 3 0 0 0 15 0",
             .inputs = {},
             .telling = "{segments} segments"},
    {length_of(&Cone::radius, "radius", "Radius", 0, 2, "At the base."),
     length_of(&Cone::top_radius, "top_radius", "Top radius", 0, 2, "At the top; 0 for a tip."),
     length_of(&Cone::height, "height", "Height", 1e-6, 4, "From base to top."),
     count_of(&Cone::segments, "segments", "Segments", 3, 10000, 128, "Faces round the axis."),
     count_of(&Cone::levels, "levels", "Segments up", 1, 10000, 32, "Faces along the height."),
     origin_choice(&Cone::origin)},
    run_cone);

}  // namespace

}  // namespace bricol
