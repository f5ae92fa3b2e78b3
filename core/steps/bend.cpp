// SPDX-License-Identifier: GPL-3.0-or-later
#include <cmath>
#include <fmt/format.h>

#include "core/kernels/array.h"
#include "core/kernels/remove_elements.h"
#include "core/kernels/weld.h"
#include "core/steps/shared/deformer.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Bend : DeformSpan {
    enum class Hold { low, middle };
    double angle = 90;
    Axis axis = Axis::x;
    Axis toward = Axis::z;
    Hold hold = Hold::low;
    bool weld = false;
    double distance = 0.0001;
};

void run_bend(const Bend& s, StepRun& run) {
    const auto frame = frame_of(run, s, s.axis);
    if (!frame) return;
    const int axis = index_of(s.axis), toward = index_of(s.toward);
    if (axis == toward) {
        run.tell(Severity::error, "same-axis", "The shape cannot bend towards its own axis. Choose another direction.");
        return;
    }
    const Shape& shape = run.shape();
    const double angle = s.angle;
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
    Shape bent = deformed_points(run, shape, s.only,
                                 bend_map(frame->span, toward, angle, frame->centre, s.hold == Bend::Hold::middle));
    if (s.weld && bent.mesh.face_count() > 0) {
        // Points of one end with those of the other, as they lay along the axis; nothing in between is touched.
        const Span& span = frame->span;
        Array<Index> end(shape.mesh.vertex_count(), no_index);
        for (std::size_t v = 0; v < end.size(); ++v) {
            const double along =
                (static_cast<double>((*shape.mesh.positions)[v][axis]) - span.low) / (span.high - span.low);
            if (along < 0.3) end[v] = 0;
            if (along > 0.7) end[v] = 1;
        }
        const WeldResult welded = weld_between(bent.mesh, s.distance, end);
        if (welded.welded == 0 && std::abs(std::abs(angle) - 360) < 1e-9)
            run.tell(Severity::caution, "nothing-welded", "The ends do not meet, so nothing was welded.");
        bent.mesh = welded.mesh;
        const Mask inner = doubled_faces(bent.mesh);
        if (count_of(inner) > 0) bent.mesh = without_faces(bent.mesh, inner);
    }
    run.give(std::move(bent));
}

const StepOf<Bend> bend_step(
    StepInfo{
        .key = "bend",
        .name = "Bend",
        .family = Family::bend,
        .purpose = "Bends a shape about an axis; 360° closes a strip to a ring.",
        .words = "curl arc roll curve ring wrap",
        .help =
            "The line through the middle keeps its length and becomes an arc. Ends that meet can be welded, and the "
            "walls between them dropped.",
        .glyph = "M4 20 C4 10 10 4 20 4 M8 20 C8 12 12 8 20 8 M4 20h4 M20 4v4",
        .gives = 0,
        .inputs = {{"shape", "Shape", deformable, true}},
        .telling = "{angle}"},
    with_span<Bend>({pulled(angle_of(&Bend::angle, "angle", "Angle", -3600, 3600, "Of the whole span."),
                            HandleKind::about, "axis^toward"),
                     axis_of(&Bend::axis, "axis", "Lies along", "The axis that is bent."),
                     axis_of(&Bend::toward, "toward", "Bends towards", "Where the high end goes."),
                     choice_of(&Bend::hold, "hold", "Holds",
                               {{Bend::Hold::low, "low", "the low end"}, {Bend::Hold::middle, "middle", "the middle"}},
                               "What stays in place."),
                     toggle_of(&Bend::weld, "weld", "Weld the ends", "Joins points that come together."),
                     when(length_of(&Bend::distance, "distance", "Within", 0, 0.02,
                                    "Points nearer than this are welded."),
                          "weld")}),
    run_bend);

}  // namespace

}  // namespace bricol
