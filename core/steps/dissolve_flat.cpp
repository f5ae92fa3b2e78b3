// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include "core/kernels/merge_faces.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct DissolveFlat {
    double angle = 1;
    std::string only;
};

void run_dissolve_flat(const DissolveFlat& s, StepRun& run) {
    Shape shape = run.shape();
    const std::size_t before = shape.mesh.face_count();
    shape.mesh = dissolved_flat(shape.mesh, s.angle, run.selected(shape.mesh, Domain::face, s.only));
    run.tell(Severity::note, "dissolved", fmt::format("{} faces became {}.", before, shape.mesh.face_count()));
    run.give(std::move(shape));
}

const StepOf<DissolveFlat> dissolve_flat_step(
    StepInfo{
        .key = "dissolve_flat",
        .name = "Dissolve flat",
        .family = Family::faces,
        .purpose = "Joins neighbouring faces that lie in one plane.",
        .words = "merge coplanar limited clean planar simplify",
        .help =
            "Edges between faces that turn by less than the angle go, and with them the points on straight runs. Faces "
            "with holes or of different "
            "materials stay apart.",
        .glyph = "M4 4h16v16h-16z M12 4v3 M12 9v2 M12 13v2 M12 17v3",
        .inputs = {{"shape", "Mesh", content_faces, true}},
        .telling = "{angle}"},
    {angle_of(&DissolveFlat::angle, "angle", "Flatter than", 0, 90, "Faces that turn by less than this are one."),
     only_of(&DissolveFlat::only, "Only the faces of this set.")},
    run_dissolve_flat);

}  // namespace

}  // namespace bricol
