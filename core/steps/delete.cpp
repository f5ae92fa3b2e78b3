// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/remove_elements.h"
#include "core/catalogue/settings.h"
#include "core/kernels/stand_ins.h"
#include "core/steps/shared/element_checks.h"

namespace bricol {

namespace {

struct Delete {
    enum class Which { take, keep };
    std::string only;
    Domain what = Domain::face;
    Which which = Which::take;
};

void run_delete(const Delete& s, StepRun& run) {
    Shape shape = run.shape();
    if (s.only.empty()) {
        run.tell(Severity::note, "no-set", "Choose the set to take away; without one nothing goes.");
        run.give(std::move(shape));
        return;
    }
    const Domain what = s.what;
    if (!has_elements(run, what)) return;
    const auto goes = [&](const Mesh& mesh, Domain domain) {
        Mask mask = run.chosen(mesh, domain, s.only);
        if (s.which == Delete::Which::keep)
            for (std::uint8_t& b : mask) b = !b;
        return mask;
    };
    if (what == Domain::instance)
        remove_copies(shape.instances, goes(points_of_copies(shape.instances), Domain::vertex));
    else if (what == Domain::knot)
        remove_knots(shape.curves, goes(points_of_knots(shape.curves), Domain::vertex));
    else if (what == Domain::face)
        shape.mesh = without_faces(shape.mesh, goes(shape.mesh, what));
    else if (what == Domain::edge)
        shape.mesh = without_edges(shape.mesh, goes(shape.mesh, what));
    else
        shape.mesh = without_vertices(shape.mesh, goes(shape.mesh, what));
    const bool left = what == Domain::instance ? !shape.instances.empty()
                      : what == Domain::knot   ? !shape.curves.empty()
                                               : !shape.mesh.empty();
    if (!left)
        run.tell(Severity::caution, "nothing-left",
                 what == Domain::instance ? "No copy is left."
                 : what == Domain::knot   ? "No knot is left."
                                          : "Nothing is left of the mesh.");
    run.give(std::move(shape));
}

const StepOf<Delete> delete_step(StepInfo{.key = "delete",
                                          .name = "Delete",
                                          .family = Family::faces,
                                          .purpose = "Takes the faces, edges, vertices, knots or copies of a set away.",
                                          .words = "remove erase cut out",
                                          .help = "With edges or vertices go the faces that touch them.",
                                          .glyph = "M4 4h16v16h-16z M8 8 L16 16 M16 8 L8 16",
                                          .gives = 0,
                                          .inputs = {{"shape", "Shape", content_any, true}},
                                          .telling = "{only}"},
                                 {only_of(&Delete::only, "The set to take away."),
                                  choice_of(&Delete::what, "what", "What",
                                            {{Domain::face, "faces", "faces"},
                                             {Domain::edge, "edges", "edges"},
                                             {Domain::vertex, "vertices", "vertices"},
                                             {Domain::instance, "instances", "copies"},
                                             {Domain::knot, "knots", "knots"}},
                                            "The kind of element that goes."),
                                  choice_of(&Delete::which, "which", "Which",
                                            {{Delete::Which::take, "take", "take the set away"},
                                             {Delete::Which::keep, "keep", "keep only the set"}},
                                            "The set, or everything else.")},
                                 run_delete);

}  // namespace

}  // namespace bricol
