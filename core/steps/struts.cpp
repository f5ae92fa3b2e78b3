// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/struts.h"

#include <fmt/format.h>

#include "core/steps/shared/width_marks.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct StrutsSettings {
    enum class Section { square, round };
    enum class Measure { thickness, share };
    Section section = Section::square;
    Measure measure = Measure::thickness;
    double thickness = 0.02;
    double share = 10;
    double depth = 0;
    int sides = 8;
    bool borders = true;
    bool keep_faces = false;
    std::string only;
    std::string bar_set = "bars";
    std::string pane_set = "panes";
};

void run_struts(const StrutsSettings& s, StepRun& run) {
    Shape shape = run.shape();
    StrutOptions options;
    options.relative = s.measure == StrutsSettings::Measure::share;
    options.thickness = options.relative ? s.share / 100 : s.thickness;
    options.depth = s.depth;
    options.round = s.section == StrutsSettings::Section::round;
    options.sides = s.sides;
    options.borders = s.borders;
    options.keep_faces = s.keep_faces;
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
    StrutResult result = struts(shape.mesh, options, run.selected(shape.mesh, Domain::edge, s.only));
    if (result.held > 0) {
        Finding& finding = run.tell(Severity::caution, "held",
                                    fmt::format("{} face{} too small for the bars, which are narrower there.",
                                                result.held, result.held == 1 ? " is" : "s are"));
        finding.places = result.places;
    }
    run.name_set(result.mesh, Domain::face, s.bar_set, result.bars);
    run.name_set(result.mesh, Domain::face, s.pane_set, result.panes);
    shape.mesh = std::move(result.mesh);
    mark(shape.mesh, attribute_name::even_width);
    run.give(std::move(shape));
}

const StepOf<StrutsSettings> struts_step(
    StepInfo{
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
        .telling = "{thickness}"},
    {choice_of(&StrutsSettings::section, "section", "Section",
               {{StrutsSettings::Section::square, "square", "square"},
                {StrutsSettings::Section::round, "round", "round"}},
               "The form of a bar."),
     choice_of(&StrutsSettings::measure, "measure", "Measured as",
               {{StrutsSettings::Measure::thickness, "thickness", "thickness"},
                {StrutsSettings::Measure::share, "share", "share of the edge"}},
               "A length, or a share of every edge's length."),
     length_of(&StrutsSettings::thickness, "thickness", "Thickness", 1e-6, 0.5, "Across a bar."),
     when(number_of(&StrutsSettings::share, "share", "Share (%)", 0.01, 90, "Of an edge's length."), "measure=share"),
     when(length_of(&StrutsSettings::depth, "depth", "Depth", 0, 0.5, "Along the normal; 0 for as thick as wide."),
          "section=square"),
     when(count_of(&StrutsSettings::sides, "sides", "Sides", 3, 64, 16, "Faces round a bar."), "section=round"),
     when(toggle_of(&StrutsSettings::borders, "borders", "Bars on borders", "Along open borders as well."),
          "section=round"),
     toggle_of(&StrutsSettings::keep_faces, "keep_faces", "Keep the faces",
               "The old faces stay as panes between the bars."),
     only_of(&StrutsSettings::only,
             "Bars only on the edges of this set; square ones where a face has all its edges chosen."),
     new_set_of(&StrutsSettings::bar_set, "bar_set", "Bars as set", "A name for the bars."),
     new_set_of(&StrutsSettings::pane_set, "pane_set", "Panes as set", "A name for the panes.")},
    run_struts);

}  // namespace

}  // namespace bricol
