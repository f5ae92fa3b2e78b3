// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include "core/kernels/choose.h"
#include "core/kernels/curve_edit.h"
#include "core/catalogue/step.h"

namespace bricol {

namespace {

void run_curve_from_edges(StepRun& run) {
    const Mesh& mesh = run.shape().mesh;
    const std::string& which = run.word("which");
    Mask edges = run.chosen(mesh, Domain::edge);
    if (which == "open" || which == "sharp") {
        const Mask rule = which == "open" ? open_edges(mesh) : sharp_edges(mesh, run.number("angle"), Turn::both);
        for (std::size_t e = 0; e < edges.size(); ++e) edges[e] = edges[e] && rule[e];
    }
    const std::size_t count = count_of(edges);
    if (count == 0) {
        run.tell(Severity::error, "no-edges",
                 which == "open" ? "The mesh has no open edges here."
                                 : "No edge is chosen. Name a set, or choose another rule.");
        return;
    }
    Shape shape;
    if (run.toggle("keep_mesh")) shape.mesh = mesh;
    std::size_t loops = 0;
    for (const Polyline& line : edge_lines(mesh, edges)) {
        Curve curve = curve_from(line);
        loops += curve.closed;
        if (run.toggle("smooth"))
            for (Knot& knot : curve.knots) knot.kind = KnotKind::smooth;
        curve.sampling.per_span = run.integer("pieces");
        shape.curves.push_back(std::move(curve));
    }
    run.tell(Severity::note, "curves-made",
             fmt::format("{} edges gave {} curve{}, {} of them closed.", count, shape.curves.size(),
                         shape.curves.size() == 1 ? "" : "s", loops));
    run.give(std::move(shape));
}

const Registered curve_from_edges_step(StepInfo{
    .key = "curve_from_edges",
    .name = "Curve from edges",
    .family = Family::curves,
    .purpose = "Curves along edges of a mesh; loops are found.",
    .words = "extract border outline wire edges to curve loop rim",
    .help = "From a set, the open border, edges sharper than an angle, or all. Chains part where more than two chosen "
            "edges meet.",
    .glyph = "M4 7 L12 3 L20 7 L12 11z M4 7v9l8 4l8 -4v-9 M12 11v9",
    .gives = content_curves,
    .inputs = {{"shape", "Mesh", content_faces | content_edges, true}},
    .parameters = {choice_of("which", "Edges",
                             {{"open", "open border"}, {"set", "all of the set"}, {"sharp", "sharper than"}},
                             "Which edges become curves."),
                   when(angle_of("angle", "Angle", 30, 0, 180, "Edges that turn by more than this."), "which=sharp"),
                   toggle_of("smooth", "Smooth", false, "Smooth knots; otherwise corners."),
                   when(sampling_of("pieces"), "smooth"),
                   toggle_of("keep_mesh", "Keep the mesh", false, "Passes the mesh along with the curves."),
                   only_of("Only edges of this set.")},
    .telling = "{which}",
    .make = run_curve_from_edges});

}  // namespace

}  // namespace bricol
