// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/normals.h"

#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Normals {
    enum class How { angle, smooth, flat };
    How how = How::angle;
    double angle = 40;
};

void run_normals(const Normals& s, StepRun& run) {
    const Normals::How how = s.how;
    Shape shape = run.shape();
    shape.mesh = with_normals_by_angle(shape.mesh, how == Normals::How::flat     ? 0
                                                   : how == Normals::How::smooth ? 180
                                                                                 : static_cast<float>(s.angle));
    run.give(std::move(shape));
}

const StepOf<Normals> normals_step(
    StepInfo{.key = "normals",
             .name = "Normals",
             .family = Family::look,
             .purpose = "How faces are shaded: flat, smooth, or sharp over an angle.",
             .words = "shading smooth flat auto hard edges",
             .help = "Changes only how light falls on the shape, not the shape. Exported with it.",
             .glyph = "M3 18 C8 12 16 12 21 18 M12 13.5 V4 M9.5 6.5 L12 4 L14.5 6.5 M6 15 L4 9 M18 15 L20 9",
             .gives = 0,
             .inputs = {{"shape", "Mesh", content_faces, true}},
             .telling = "{how}"},
    {choice_of(&Normals::how, "how", "Shading",
               {{Normals::How::angle, "angle", "by angle"},
                {Normals::How::smooth, "smooth", "smooth"},
                {Normals::How::flat, "flat", "flat"}},
               "Which edges look sharp."),
     when(angle_of(&Normals::angle, "angle", "Sharp over", 0, 180, "Edges that turn by more than this look sharp."),
          "how=angle")},
    run_normals);

}  // namespace

}  // namespace bricol
