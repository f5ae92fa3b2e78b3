// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include "core/kernels/line_values.h"
#include "core/kernels/loft.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Fill {
    enum class Style { face, triangles, grid };
    enum class Faces { own, up, given };
    Style style = Style::face;
    Faces faces = Faces::own;
    DVec3 facing{0, 0, 1};
    bool keep_curves = false;
};

void run_fill(const Fill& s, StepRun& run) {
    const Fill::Style style = s.style;
    DVec3 facing(0);
    if (s.faces == Fill::Faces::up) facing = {0, 0, 1};
    if (s.faces == Fill::Faces::given) facing = s.facing;
    const std::vector<Polyline> lines = lines_of(run.shape());
    FillResult result = filled(lines,
                               style == Fill::Style::face   ? FillStyle::face
                               : style == Fill::Style::grid ? FillStyle::grid
                                                            : FillStyle::triangles,
                               facing);
    if (result.mesh.empty()) {
        run.tell(Severity::error, "nothing-to-fill",
                 "There is no closed curve to fill. Close the curve, or join its pieces first.");
        return;
    }
    if (result.open > 0)
        run.tell(Severity::caution, "open-curve",
                 fmt::format("{} open curve{} left out. Close {} first.", result.open,
                             result.open == 1 ? " was" : "s were", result.open == 1 ? "it" : "them"));
    if (result.off_plane > 1e-5 && style != Fill::Style::grid)
        run.tell(Severity::note, "not-flat",
                 fmt::format("The outline leaves its plane by {}; the face over it is not flat.",
                             format_value(result.off_plane, Quantity::length, "m")));
    if (result.crossing > 0)
        run.tell(Severity::caution, "crosses-itself",
                 "An outline crosses itself, so its face folds over. Move its knots apart.");
    if (result.grid_with_holes)
        run.tell(Severity::note, "grid-with-holes", "A grid cannot go round holes; triangles were made there.");
    give_line_values(result.mesh, lines);
    Shape shape;
    shape.mesh = std::move(result.mesh);
    if (s.keep_curves) shape.curves = run.shape().curves;
    run.give(std::move(shape));
}

const StepOf<Fill> fill_step(
    StepInfo{
        .key = "fill",
        .name = "Fill",
        .family = Family::surface,
        .purpose = "Faces inside closed curves.",
        .words = "cap face planar surface patch",
        .help =
            "Curves inside others are holes. As one face, as triangles, or as a grid that follows the outline from its "
            "four sharpest corners.",
        .glyph = "M5 5h14v14h-14z M5 10h14 M5 14.5h14 M10 5v14 M14.5 5v14",
        .inputs = {{"shape", "Outlines", content_curves | content_edges, true}},
        .telling = "{style}"},
    {choice_of(&Fill::style, "style", "With",
               {{Fill::Style::face, "face", "one face"},
                {Fill::Style::triangles, "triangles", "triangles"},
                {Fill::Style::grid, "grid", "grid"}},
               "What fills an outline; holes always give triangles."),
     choice_of(&Fill::faces, "faces", "Looks",
               {{Fill::Faces::own, "own", "as the curve turns"},
                {Fill::Faces::up, "up", "up"},
                {Fill::Faces::given, "given", "a direction"}},
               "The side that faces out."),
     when(vector_of(&Fill::facing, "facing", "Direction", Quantity::plain, "Faces look this way."), "faces=given"),
     toggle_of(&Fill::keep_curves, "keep_curves", "Keep the curves", "Passes the curves along with the faces.")},
    run_fill);

}  // namespace

}  // namespace bricol
