// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/subdivide.h"

#include <cmath>
#include <fmt/format.h>

#include "core/kernels/measure.h"
#include "core/catalogue/step.h"

namespace bricol {

namespace {

void run_subdivide(StepRun& run) {
    SubdivideOptions options;
    const std::string& scheme = run.word("scheme");
    options.scheme = scheme == "triangles"    ? SubdivisionScheme::loop
                     : scheme == "split_only" ? SubdivisionScheme::split_only
                                              : SubdivisionScheme::catmull_clark;
    options.levels = run.for_export ? run.integer("export_levels") : run.integer("levels");
    options.sharp_border = run.toggle("sharp_border");
    options.crease_angle = run.toggle("crease_by_angle") ? run.real("crease_angle") : 180;
    options.crease = run.real("crease");
    options.stop = run.stop;
    Shape shape = run.shape();
    const double faces = static_cast<double>(shape.mesh.topology->corner_count()) * std::pow(4.0, options.levels - 1);
    if (run.too_many(faces, most_faces, "faces", "Use fewer levels.")) return;
    if (measured(shape).non_manifold_edges > 0) {
        run.tell(Severity::error, "non-manifold",
                 "Some edges have more than two faces; such a shape has no smooth surface. Weld or mend it first.");
        return;
    }
    if (options.levels > 0) {
        Mesh refined = subdivided(shape.mesh, options);
        if (run.stopped()) return;
        if (refined.empty()) {
            run.tell(
                Severity::error, "refused",
                "This shape cannot be subdivided: its faces do not fit together. Weld it or turn its faces one way.");
            return;
        }
        shape.mesh = std::move(refined);
        shape.mesh.attributes.set(Domain::whole, attribute_name::smoothed, Array<std::uint8_t>(1, 1));
    }
    run.give(std::move(shape));
}

const Registered subdivide_step(StepInfo{
    .key = "subdivide",
    .name = "Subdivide",
    .family = Family::faces,
    .purpose = "Splits every face and smooths the whole.",
    .words = "refine smooth catmull clark loop subdivision surface",
    .help =
        "Catmull–Clark for quads and polygons, Loop's rules for triangles, or splitting without smoothing. Creases "
        "keep edges "
        "sharper: by their angle, or by the edge attribute “crease”. The export may use other levels than the screen.",
    .glyph = "M4 4h16v16h-16z M12 4v16 M4 12h16 M8 4v8 M4 8h8",
    .gives = content_faces,
    .inputs = {{"shape", "Mesh", content_faces, true}},
    .parameters =
        {count_of("levels", "Levels", 1, 0, 8, 4, "Rounds on the screen; each makes four faces of one."),
         count_of("export_levels", "Levels for export", 2, 0, 8, 4, "Rounds when the recipe is exported."),
         choice_of("scheme", "Rules", {{"quads", "quads"}, {"triangles", "triangles"}, {"split_only", "split only"}},
                   "Catmull–Clark, Loop, or splitting without smoothing."),
         toggle_of("crease_by_angle", "Crease by angle", false, "Keeps edges sharper that turn by more than an angle."),
         when(angle_of("crease_angle", "Edges over", 40, 0, 180, "Edges that turn by more than this are creased."),
              "crease_by_angle"),
         when(number_of("crease", "Sharpness", 2, 0, 10, "How many rounds the crease holds; 10 for ever."),
              "crease_by_angle"),
         toggle_of("sharp_border", "Sharp border corners", true, "Keeps the corners of open borders.")},
    .telling = "{levels} levels",
    .make = run_subdivide});

}  // namespace

}  // namespace bricol
