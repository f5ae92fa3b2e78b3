// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/struts.h"

#include <fmt/format.h>

#include "core/steps/width_marks.h"

namespace bricol {

namespace {

void run_struts(StepRun& run) {
    Shape shape = run.shape();
    StrutOptions options;
    options.relative = run.word("measure") == "share";
    options.thickness = options.relative ? run.number("share") / 100 : run.number("thickness");
    options.depth = run.number("depth");
    options.round = run.word("section") == "round";
    options.sides = run.integer("sides");
    options.borders = run.toggle("borders");
    options.keep_faces = run.toggle("keep_faces");
    if (!options.round && shape.mesh.face_count() == 0) {
        run.tell(Severity::error, "no-faces",
                 "Square bars lie in faces, and there are none here. Choose round bars for loose edges.");
        return;
    }
    const double each = options.round ? options.sides + 40.0 : 8;
    if (run.too_many(static_cast<double>(shape.mesh.edge_count()) * each, most_faces, "faces",
                     "Use fewer sides, or a set of edges."))
        return;
    note_uneven_size(run, shape.mesh);
    StrutResult result =
        struts(shape.mesh, options, run.word("only").empty() ? Mask{} : run.chosen(shape.mesh, Domain::edge));
    if (result.held > 0) {
        Finding& finding = run.tell(Severity::caution, "held",
                                    fmt::format("{} face{} too small for the bars, which are narrower there.",
                                                result.held, result.held == 1 ? " is" : "s are"));
        finding.places = result.places;
    }
    run.name_set(result.mesh, Domain::face, "bar_set", result.bars);
    run.name_set(result.mesh, Domain::face, "pane_set", result.panes);
    shape.mesh = std::move(result.mesh);
    mark(shape.mesh, attribute_name::even_width);
    run.give(std::move(shape));
}

const Registered struts_step(StepInfo{
    .key = "struts",
    .name = "Struts",
    .family = Family::faces,
    .purpose = "A bar along every edge, with the faces as panes when asked.",
    .words = "frame wireframe lattice cage grid bars trellis glazing",
    .help = "Square bars lie in the faces and make one closed frame with mitred joints. Round bars are tubes with "
            "balls at the joints and take loose "
            "edges too. Bars and panes come as sets, for materials of their own.",
    .glyph = "M3 5 L21 3 L19 20 L5 21z M6 8 L17.5 6.5 L16.5 17.5 L7.5 18z",
    .inputs = {{"shape", "Mesh", content_faces | content_edges, true}},
    .parameters = {choice_of("section", "Section", {{"square", "square"}, {"round", "round"}}, "The form of a bar."),
                   choice_of("measure", "Measured as", {{"thickness", "thickness"}, {"share", "share of the edge"}},
                             "A length, or a share of every edge's length."),
                   length_of("thickness", "Thickness", 0.02, 1e-6, 0.5, "Across a bar."),
                   when(number_of("share", "Share (%)", 10, 0.01, 90, "Of an edge's length."), "measure=share"),
                   when(length_of("depth", "Depth", 0, 0, 0.5, "Along the normal; 0 for as thick as wide."),
                        "section=square"),
                   when(count_of("sides", "Sides", 8, 3, 64, 16, "Faces round a bar."), "section=round"),
                   when(toggle_of("borders", "Bars on borders", true, "Along open borders as well."), "section=round"),
                   toggle_of("keep_faces", "Keep the faces", false, "The old faces stay as panes between the bars."),
                   only_of("Bars only on the edges of this set; square ones where a face has all its edges chosen."),
                   new_set_of("bar_set", "Bars as set", "bars", "A name for the bars."),
                   new_set_of("pane_set", "Panes as set", "panes", "A name for the panes.")},
    .telling = "{thickness}",
    .make = run_struts});

}  // namespace

}  // namespace bricol
