// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/weld.h"

#include <fmt/format.h>

#include "core/catalogue/settings.h"
#include "core/ground/words.h"

namespace bricol {

namespace {

struct WeldSettings {
    double distance = 0.0001;
    bool borders = false;
};

void run_weld(const WeldSettings& s, StepRun& run) {
    WeldResult result = weld(run.shape().mesh, s.distance, s.borders);
    if (result.welded == 0)
        run.tell(Severity::note, "unchanged", "No points lie that close together; nothing was welded.");
    else
        run.tell(Severity::note, "welded", fmt::format("{} welded away.", counted(result.welded, "point")));
    if (result.collapsed_faces > 0)
        run.tell(Severity::caution, "collapsed",
                 fmt::format("{} shrank to nothing: {} shorter than the distance. Use a smaller one.",
                             counted(result.collapsed_faces, "face"),
                             counted(edges_shorter(run.shape().mesh, s.distance), "edge is", "edges are")));
    const std::size_t before = run.shape().mesh.topology->ties().non_manifold_edges,
                      now = result.mesh.topology->ties().non_manifold_edges;
    if (now > before)
        run.tell(Severity::caution, "many-faces",
                 fmt::format("{} more than two faces now: sheets were joined along a line they share. A Boolean joins "
                             "solids; leave sheets apart.",
                             counted(now - before, "edge has", "edges have")));
    Shape shape = run.shape();
    shape.mesh = std::move(result.mesh);
    run.give(std::move(shape));
}

const StepOf<WeldSettings> weld_step(
    StepInfo{.key = "weld",
             .name = "Weld",
             .family = Family::faces,
             .purpose = "Merges points that lie close together.",
             .words = "merge join vertices close gap stitch",
             .help = "Points within the distance of one another become one, at their mean place.",
             .glyph = "M4 6 L11 12 L4 18 M20 6 L13 12 L20 18 M10.5 10.5h3v3h-3z",
             .gives = 0,
             .inputs = {{"shape", "Mesh", content_points, true}},
             .telling = "{distance}"},
    {length_of(&WeldSettings::distance, "distance", "Distance", 0, 0.05,
               "Points nearer to one another than this become one."),
     toggle_of(&WeldSettings::borders, "borders", "Borders only", "Leaves points inside a closed surface alone.")},
    run_weld);

}  // namespace

}  // namespace bricol
