// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include "core/kernels/edit_faces.h"
#include "core/catalogue/step.h"

namespace bricol {

namespace {

void run_fill_holes(StepRun& run) {
    Shape shape = run.shape();
    const std::string& style = run.word("style");
    std::size_t made = 0;
    const std::size_t before = shape.mesh.face_count();
    shape.mesh = with_holes_filled(shape.mesh,
                                   style == "fan"         ? HoleFill::fan
                                   : style == "triangles" ? HoleFill::triangles
                                                          : HoleFill::face,
                                   run.integer("most_sides"), run.chosen(shape.mesh, Domain::edge), &made);
    run.tell(Severity::note, "filled",
             made == 0 ? "There is no hole to fill." : fmt::format("{} hole{} filled.", made, made == 1 ? "" : "s"));
    if (made > 0) {
        for (const Domain domain : {Domain::vertex, Domain::corner})
            shape.mesh.attributes.remove(domain, attribute_name::normal);
        Mask fresh(before, 0);
        fresh.resize(shape.mesh.face_count(), 1);
        run.name_set(shape.mesh, Domain::face, "set", std::move(fresh));
    }
    run.give(std::move(shape));
}

const Registered fill_holes_step(StepInfo{
    .key = "fill_holes",
    .name = "Fill holes",
    .family = Family::faces,
    .purpose = "Closes open borders.",
    .words = "cap close patch border lid",
    .help = "Every closed border gets one polygon, a fan about its middle, or triangles.",
    .glyph = "M4 12a8 8 0 1 0 16 0a8 8 0 1 0 -16 0 M8 12h8 M12 8v8",
    .inputs = {{"shape", "Mesh", content_faces, true}},
    .parameters = {choice_of("style", "With", {{"face", "one face"}, {"fan", "fan"}, {"triangles", "triangles"}},
                             "What fills a hole."),
                   count_of("most_sides", "Up to sides", 0, 0, 100000, 64, "Leaves larger holes open; 0 fills all."),
                   only_of("Only holes along the edges of this set."),
                   new_set_of("set", "As set", "", "A name for the new faces.")},
    .telling = "{style}",
    .make = run_fill_holes});

}  // namespace

}  // namespace bricol
