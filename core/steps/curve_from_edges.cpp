// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include "core/kernels/choose.h"
#include "core/kernels/curve_edit.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct CurveFromEdges {
    enum class Which { open, set, sharp };
    Which which = Which::open;
    double angle = 30;
    bool smooth = false;
    int pieces = 8;
    bool keep_mesh = false;
    std::string only;
};

void run_curve_from_edges(const CurveFromEdges& s, StepRun& run) {
    const Mesh& mesh = run.shape().mesh;
    const CurveFromEdges::Which which = s.which;
    Mask edges = run.chosen(mesh, Domain::edge, s.only);
    if (which == CurveFromEdges::Which::open || which == CurveFromEdges::Which::sharp) {
        const Mask rule =
            which == CurveFromEdges::Which::open ? open_edges(mesh) : sharp_edges(mesh, s.angle, Turn::both);
        for (std::size_t e = 0; e < edges.size(); ++e) edges[e] = edges[e] && rule[e];
    }
    const std::size_t count = count_of(edges);
    if (count == 0) {
        run.tell(Severity::error, "no-edges",
                 which == CurveFromEdges::Which::open ? "The mesh has no open edges here."
                                                      : "No edge is chosen. Name a set, or choose another rule.");
        return;
    }
    Shape shape;
    if (s.keep_mesh) shape.mesh = mesh;
    std::size_t loops = 0;
    for (const Polyline& line : edge_lines(mesh, edges)) {
        Curve curve = curve_from(line);
        loops += curve.closed;
        if (s.smooth)
            for (Knot& knot : curve.knots) knot.kind = KnotKind::smooth;
        curve.sampling.per_span = s.pieces;
        shape.curves.push_back(std::move(curve));
    }
    run.tell(Severity::note, "curves-made",
             fmt::format("{} edges gave {} curve{}, {} of them closed.", count, shape.curves.size(),
                         shape.curves.size() == 1 ? "" : "s", loops));
    run.give(std::move(shape));
}

const StepOf<CurveFromEdges> curve_from_edges_step(
    StepInfo{
        .key = "curve_from_edges",
        .name = "Curve from edges",
        .family = Family::curves,
        .purpose = "Curves along edges of a mesh; loops are found.",
        .words = "extract border outline wire edges to curve loop rim",
        .help =
            "From a set, the open border, edges sharper than an angle, or all. Chains part where more than two chosen "
            "edges meet.",
        .glyph = "M4 7 L12 3 L20 7 L12 11z M4 7v9l8 4l8 -4v-9 M12 11v9",
        .gives = content_curves,
        .inputs = {{"shape", "Mesh", content_faces | content_edges, true}},
        .telling = "{which}"},
    {choice_of(&CurveFromEdges::which, "which", "Edges",
               {{CurveFromEdges::Which::open, "open", "open border"},
                {CurveFromEdges::Which::set, "set", "all of the set"},
                {CurveFromEdges::Which::sharp, "sharp", "sharper than"}},
               "Which edges become curves."),
     when(angle_of(&CurveFromEdges::angle, "angle", "Angle", 0, 180, "Edges that turn by more than this."),
          "which=sharp"),
     toggle_of(&CurveFromEdges::smooth, "smooth", "Smooth", "Smooth knots; otherwise corners."),
     when(sampling_of(&CurveFromEdges::pieces, "pieces"), "smooth"),
     toggle_of(&CurveFromEdges::keep_mesh, "keep_mesh", "Keep the mesh", "Passes the mesh along with the curves."),
     only_of(&CurveFromEdges::only, "Only edges of this set.")},
    run_curve_from_edges);

}  // namespace

}  // namespace bricol
