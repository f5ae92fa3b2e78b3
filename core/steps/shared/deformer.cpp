// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/shared/deformer.h"

namespace bricol {

std::optional<DeformFrame> frame_of(StepRun& run, const DeformSpan& s, Axis axis) {
    const auto box = box_of(run.shape());
    if (!box) return std::nullopt;
    DeformFrame frame;
    frame.span = span_of(*box, index_of(axis));
    if (s.limits == DeformSpan::Limits::given) {
        frame.span.low = s.low;
        frame.span.high = s.high;
    }
    if (frame.span.high <= frame.span.low) {
        run.tell(Severity::error, "no-span",
                 "There is no length along the axis to work on. Choose another axis, or put To above From.");
        return std::nullopt;
    }
    frame.centre = s.about == DeformSpan::About::point ? s.centre : box->centre();
    return frame;
}

void give_deformed(StepRun& run, const std::string& only, const PointMap& map) {
    const Shape& shape = run.shape();
    run.give(deformed(shape, map, run.selected(shape.mesh, Domain::vertex, only)));
}

}  // namespace bricol
