// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/normals.h"

#include "core/catalogue/step.h"

namespace bricol {

namespace {

void run_normals(StepRun& run) {
    const std::string& how = run.word("how");
    Shape shape = run.shape();
    shape.mesh = with_normals_by_angle(shape.mesh, how == "flat" ? 0 : how == "smooth" ? 180 : run.real("angle"));
    run.give(std::move(shape));
}

const Registered normals_step(StepInfo{
    .key = "normals",
    .name = "Normals",
    .family = Family::look,
    .purpose = "How faces are shaded: flat, smooth, or sharp over an angle.",
    .words = "shading smooth flat auto hard edges",
    .help = "Changes only how light falls on the shape, not the shape. Exported with it.",
    .glyph = "M3 18 C8 12 16 12 21 18 M12 13.5 V4 M9.5 6.5 L12 4 L14.5 6.5 M6 15 L4 9 M18 15 L20 9",
    .gives = 0,
    .inputs = {{"shape", "Mesh", content_faces, true}},
    .parameters = {choice_of("how", "Shading", {{"angle", "by angle"}, {"smooth", "smooth"}, {"flat", "flat"}},
                             "Which edges look sharp."),
                   when(angle_of("angle", "Sharp over", 40, 0, 180, "Edges that turn by more than this look sharp."),
                        "how=angle")},
    .telling = "{how}",
    .make = run_normals});

}  // namespace

}  // namespace bricol
