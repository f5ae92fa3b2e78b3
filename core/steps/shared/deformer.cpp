// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/shared/deformer.h"

#include "core/steps/shared/point_shares.h"

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

Shape deformed_points(StepRun& run, const Shape& shape, const std::string& only, const PointMap& map) {
    const ChosenPoints chosen = chosen_points(run, shape, only);
    return deformed(shape, map, chosen.vertices, chosen.knots);
}

void give_deformed(StepRun& run, const std::string& only, const PointMap& map) {
    run.give(deformed_points(run, run.shape(), only, map));
}

}  // namespace bricol
