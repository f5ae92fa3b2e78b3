// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/edit_faces.h"
#include "core/catalogue/step.h"

namespace bricol {

namespace {

void run_delete(StepRun& run) {
    Shape shape = run.shape();
    if (run.word("only").empty()) {
        run.tell(Severity::note, "no-set", "Choose the set to take away; without one nothing goes.");
        run.give(std::move(shape));
        return;
    }
    const bool keep = run.word("which") == "keep";
    const auto turned = [&](Mask mask) {
        if (keep)
            for (std::uint8_t& b : mask) b = !b;
        return mask;
    };
    const std::string& what = run.word("what");
    if (what == "faces")
        shape.mesh = without_faces(shape.mesh, turned(run.chosen(shape.mesh, Domain::face)));
    else if (what == "edges")
        shape.mesh = without_edges(shape.mesh, turned(run.chosen(shape.mesh, Domain::edge)));
    else
        shape.mesh = without_vertices(shape.mesh, turned(run.chosen(shape.mesh, Domain::vertex)));
    if (shape.mesh.empty()) run.tell(Severity::caution, "nothing-left", "Nothing is left of the mesh.");
    run.give(std::move(shape));
}

const Registered delete_step(StepInfo{
    .key = "delete",
    .name = "Delete",
    .family = Family::faces,
    .purpose = "Takes the faces, edges or vertices of a set away.",
    .words = "remove erase cut out",
    .help = "With edges or vertices go the faces that touch them.",
    .glyph = "M4 4h16v16h-16z M8 8 L16 16 M16 8 L8 16",
    .gives = 0,
    .inputs = {{"shape", "Mesh", content_faces | content_edges | content_points, true}},
    .parameters = {only_of("The set to take away."),
                   choice_of("what", "What", {{"faces", "faces"}, {"edges", "edges"}, {"vertices", "vertices"}},
                             "The kind of element that goes."),
                   choice_of("which", "Which", {{"take", "take the set away"}, {"keep", "keep only the set"}},
                             "The set, or everything else.")},
    .telling = "{only}",
    .make = run_delete});

}  // namespace

}  // namespace bricol
