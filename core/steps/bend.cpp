// SPDX-License-Identifier: GPL-3.0-or-later
#include <cmath>
#include <fmt/format.h>

#include "core/kernels/array.h"
#include "core/kernels/edit_faces.h"
#include "core/kernels/weld.h"
#include "core/steps/deformer.h"

namespace bricol {

namespace {

void run_bend(StepRun& run) {
    const auto frame = frame_of(run, "axis");
    if (!frame) return;
    const int axis = run.axis("axis"), toward = run.axis("toward");
    if (axis == toward) {
        run.tell(Severity::error, "same-axis", "The shape cannot bend towards its own axis. Choose another direction.");
        return;
    }
    const Shape& shape = run.shape();
    const double angle = run.number("angle");
    // The inside of the bend may not come nearer than the middle of its circle.
    if (const auto box = box_of(shape); box && angle != 0) {
        const double radius = frame->span.length() / std::abs(glm::radians(angle));
        const double inside =
            angle > 0 ? box->high[toward] - frame->centre[toward] : frame->centre[toward] - box->low[toward];
        if (inside > radius * (1 + 1e-6))
            run.tell(
                Severity::caution, "too-tight",
                fmt::format("The shape is {} thick on the inside of a bend of radius {}: it folds over itself. Bend "
                            "less, or make it longer.",
                            format_value(inside, Quantity::length, "m"), format_value(radius, Quantity::length, "m")));
    }
    Shape bent = deformed(shape, bend_map(frame->span, toward, angle, frame->centre, run.word("hold") == "middle"),
                          run.word("only").empty() ? Mask{} : run.chosen(shape.mesh, Domain::vertex));
    if (run.toggle("weld") && bent.mesh.face_count() > 0) {
        const WeldResult welded = weld(bent.mesh, run.number("distance"), false);
        if (welded.welded == 0 && std::abs(std::abs(angle) - 360) < 1e-9)
            run.tell(Severity::note, "nothing-welded", "The ends do not meet, so nothing was welded.");
        bent.mesh = welded.mesh;
        const Mask inner = doubled_faces(bent.mesh);
        if (count_of(inner) > 0) bent.mesh = without_faces(bent.mesh, inner);
    }
    run.give(std::move(bent));
}

const Registered bend_step(StepInfo{
    .key = "bend",
    .name = "Bend",
    .family = Family::bend,
    .purpose = "Bends a shape about an axis; 360° closes a strip to a ring.",
    .words = "curl arc roll curve ring wrap",
    .help = "The line through the middle keeps its length and becomes an arc. Ends that meet can be welded, and the "
            "walls between them dropped.",
    .glyph = "M4 20 C4 10 10 4 20 4 M8 20 C8 12 12 8 20 8 M4 20h4 M20 4v4",
    .gives = 0,
    .inputs = {{"shape", "Shape", deformable, true}},
    .parameters = with_span(
        {pulled(angle_of("angle", "Angle", 90, -3600, 3600, "Of the whole span."), HandleKind::about, "axis^toward"),
         axis_of("axis", "Lies along", "x", "The axis that is bent."),
         axis_of("toward", "Bends towards", "z", "Where the high end goes."),
         choice_of("hold", "Holds", {{"low", "the low end"}, {"middle", "the middle"}}, "What stays in place."),
         toggle_of("weld", "Weld the ends", false, "Joins points that come together."),
         when(length_of("distance", "Within", 0.0001, 0, 0.02, "Points nearer than this are welded."), "weld")}),
    .telling = "{angle}",
    .make = run_bend});

}  // namespace

}  // namespace bricol
