// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include "core/kernels/choose.h"
#include "core/kernels/uv.h"
#include "core/steps/shared/uv_checks.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Unwrap {
    std::string seams;
    bool by_angle = true;
    double angle = 60;
    double margin = 0.02;
    double stretch = 2;
};

void run_unwrap(const Unwrap& s, StepRun& run) {
    Shape shape = run.shape();
    if (run.too_many(static_cast<double>(shape.mesh.face_count()), 1e5, "faces", "Unwrap before subdividing.")) return;
    Mask seams(shape.mesh.edge_count(), 0);
    if (!s.seams.empty()) seams = run.chosen(shape.mesh, Domain::edge, s.seams);
    if (s.by_angle) {
        const Mask sharp = sharp_edges(shape.mesh, s.angle, Turn::both);
        for (std::size_t e = 0; e < seams.size(); ++e) seams[e] |= sharp[e];
    }
    UnwrapResult result = unwrapped(shape.mesh, seams, s.margin);
    if (result.not_discs > 0)
        run.tell(Severity::caution, "not-a-disc",
                 fmt::format("{} of {} pieces cannot be laid flat: a closed piece, or one with holes, needs more "
                             "seams, and faces without area must go. {} flattened as seen from one side.",
                             result.not_discs, result.charts, result.not_discs == 1 ? "It is" : "They are"))
            .places = std::move(result.not_disc_at);
    shape.mesh = std::move(result.mesh);
    run.tell(Severity::note, "unwrapped",
             fmt::format("{} piece{}, filling {:.0f} % of the UV square.", result.charts, result.charts == 1 ? "" : "s",
                         result.covered * 100));
    tell_uvs(run, shape.mesh, true, s.stretch);
    run.give(std::move(shape));
}

const StepOf<Unwrap> unwrap_step(
    StepInfo{
        .key = "unwrap",
        .name = "Unwrap",
        .family = Family::look,
        .purpose = "Cuts along marked seams and lays the pieces flat as UVs.",
        .words = "uv texture flatten seams charts islands parameterise",
        .help =
            "Seams are a set of edges, and edges sharper than an angle when asked. Pieces are flattened with as little "
            "change of angles as can be, keep their size among one another and fill 0 to 1.",
        .glyph = "M8 3h8v6h5v6h-5v6H8v-6H3V9h5z M8 9h8v6H8z",
        .gives = 0,
        .inputs = {{"shape", "Mesh", content_faces, true}},
        .telling = "{seams}"},
    {set_of(&Unwrap::seams, "seams", "Seams", "Edges to cut along."),
     toggle_of(&Unwrap::by_angle, "by_angle", "Sharp edges too", "Also cuts along edges sharper than an angle."),
     when(angle_of(&Unwrap::angle, "angle", "Sharper than", 0, 180, "How far the two faces of an edge turn."),
          "by_angle"),
     number_of(&Unwrap::margin, "margin", "Margin", 0, 0.5, "Left free between pieces, as a share of the whole."),
     stretch_limit_of(&Unwrap::stretch)},
    run_unwrap);

}  // namespace

}  // namespace bricol
