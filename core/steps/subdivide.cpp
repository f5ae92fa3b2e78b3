// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/subdivide.h"

#include <cmath>
#include <fmt/format.h>

#include "core/kernels/measure.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Subdivide {
    enum class Scheme { quads, triangles, split_only };
    int levels = 1;
    int export_levels = 2;
    Scheme scheme = Scheme::quads;
    bool crease_by_angle = false;
    double crease_angle = 40;
    double crease = 2;
    bool sharp_border = true;
};

void run_subdivide(const Subdivide& s, StepRun& run) {
    SubdivideOptions options;
    const Subdivide::Scheme scheme = s.scheme;
    options.scheme = scheme == Subdivide::Scheme::triangles    ? SubdivisionScheme::loop
                     : scheme == Subdivide::Scheme::split_only ? SubdivisionScheme::split_only
                                                               : SubdivisionScheme::catmull_clark;
    options.levels = run.for_export ? s.export_levels : s.levels;
    options.sharp_border = s.sharp_border;
    options.crease_angle = s.crease_by_angle ? static_cast<float>(s.crease_angle) : 180;
    options.crease = static_cast<float>(s.crease);
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

const StepOf<Subdivide> subdivide_step(
    StepInfo{
        .key = "subdivide",
        .name = "Subdivide",
        .family = Family::faces,
        .purpose = "Splits every face and smooths the whole.",
        .words = "refine smooth catmull clark loop subdivision surface",
        .help =
            "Catmull–Clark for quads and polygons, Loop's rules for triangles, or splitting without smoothing. Creases "
            "keep edges "
            "sharper: by their angle, or by the edge attribute “crease”. The export may use other levels than the "
            "screen.",
        .glyph = "M4 4h16v16h-16z M12 4v16 M4 12h16 M8 4v8 M4 8h8",
        .gives = content_faces,
        .inputs = {{"shape", "Mesh", content_faces, true}},
        .reads = {attribute_name::crease},
        .telling = "{levels} levels"},
    {count_of(&Subdivide::levels, "levels", "Levels", 0, 8, 4, "Rounds on the screen; each makes four faces of one."),
     count_of(&Subdivide::export_levels, "export_levels", "Levels for export", 0, 8, 4,
              "Rounds when the recipe is exported."),
     choice_of(&Subdivide::scheme, "scheme", "Rules",
               {{Subdivide::Scheme::quads, "quads", "quads"},
                {Subdivide::Scheme::triangles, "triangles", "triangles"},
                {Subdivide::Scheme::split_only, "split_only", "split only"}},
               "Catmull–Clark, Loop, or splitting without smoothing."),
     toggle_of(&Subdivide::crease_by_angle, "crease_by_angle", "Crease by angle",
               "Keeps edges sharper that turn by more than an angle."),
     when(angle_of(&Subdivide::crease_angle, "crease_angle", "Edges over", 0, 180,
                   "Edges that turn by more than this are creased."),
          "crease_by_angle"),
     when(number_of(&Subdivide::crease, "crease", "Sharpness", 0, 10, "How many rounds the crease holds; 10 for ever."),
          "crease_by_angle"),
     toggle_of(&Subdivide::sharp_border, "sharp_border", "Sharp border corners", "Keeps the corners of open borders.")},
    run_subdivide);

}  // namespace

}  // namespace bricol
