// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/shared/deformer.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Shear : DeformSpan {
    double angle = 15;
    Axis axis = Axis::z;
    Axis toward = Axis::x;
};

void run_shear(const Shear& s, StepRun& run) {
    const auto frame = frame_of(run, s, s.axis);
    if (!frame) return;
    if (index_of(s.axis) == index_of(s.toward)) {
        run.tell(Severity::error, "same-axis", "The shape cannot lean towards its own axis. Choose another direction.");
        return;
    }
    give_deformed(run, s.only, shear_map(frame->span, index_of(s.toward), s.angle));
}

const StepOf<Shear> shear_step(
    StepInfo{.key = "shear",
             .name = "Shear",
             .family = Family::bend,
             .purpose = "Leans a shape over.",
             .words = "skew slant lean rake",
             .help = "The low end stays, the high end moves sideways; heights do not change.",
             .glyph = "M4 20h12 M9 4h12 M4 20 L9 4 M16 20 L21 4",
             .gives = 0,
             .inputs = {{"shape", "Shape", deformable, true}},
             .telling = "{angle}"},
    with_limits<Shear>({pulled(angle_of(&Shear::angle, "angle", "Angle", -85, 85, "From upright."), HandleKind::about,
                               "axis^toward"),
                        axis_of(&Shear::axis, "axis", "Axis", "The axis that leans."),
                        axis_of(&Shear::toward, "toward", "Leans towards", "Where it goes.")}) +
        Settings<Shear>{only_of<Shear>(&Shear::only, "Moves only the points of this set.")},
    run_shear);

}  // namespace

}  // namespace bricol
