// SPDX-License-Identifier: GPL-3.0-or-later
// What the deformers share: axis, limits, centre, and which points they move.
#pragma once

#include "core/kernels/deform.h"
#include "core/catalogue/step.h"

namespace bricol {

inline constexpr unsigned deformable = content_faces | content_curves | content_points | content_edges;

inline std::vector<ParameterInfo> with_span(std::vector<ParameterInfo> own) {
    own.push_back(choice_of("limits", "Between", {{"shape", "its ends"}, {"given", "two places"}},
                            "Where along the axis it works; beyond, the shape goes on stiffly."));
    own.push_back(
        when(pulled(offset_of("low", "From", 0, "Along the axis."), HandleKind::along, "axis"), "limits=given"));
    own.push_back(
        when(pulled(offset_of("high", "To", 1, "Along the axis."), HandleKind::along, "axis"), "limits=given"));
    own.push_back(choice_of("about", "About", {{"middle", "its middle"}, {"point", "a point"}},
                            "The line across the axis that stays in place."));
    own.push_back(when(
        pulled(vector_of("centre", "Point", Quantity::length, {0, 0, 0}, "A point on that line."), HandleKind::point),
        "about=point"));
    own.push_back(only_of("Moves only the points of this set."));
    return own;
}

struct DeformFrame {
    Span span;
    DVec3 centre{0};
};

/// Span and centre as the parameters say; nothing, and a finding, when there is no room along the axis.
inline std::optional<DeformFrame> frame_of(StepRun& run, std::string_view axis_key) {
    const auto box = box_of(run.shape());
    if (!box) return std::nullopt;
    DeformFrame frame;
    frame.span = span_of(*box, run.axis(axis_key));
    if (run.word("limits") == "given") {
        frame.span.low = run.number("low");
        frame.span.high = run.number("high");
    }
    if (frame.span.high <= frame.span.low) {
        run.tell(Severity::error, "no-span",
                 "There is no length along the axis to work on. Choose another axis, or put To above From.");
        return std::nullopt;
    }
    frame.centre = run.word("about") == "point" ? run.vector("centre") : box->centre();
    return frame;
}

inline void give_deformed(StepRun& run, const PointMap& map) {
    const Shape& shape = run.shape();
    run.give(deformed(shape, map, run.word("only").empty() ? Mask{} : run.chosen(shape.mesh, Domain::vertex)));
}

}  // namespace bricol
