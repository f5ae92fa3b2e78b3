// SPDX-License-Identifier: GPL-3.0-or-later
// What the deformers share: axis, limits, centre, and which points they move.
#pragma once

#include "core/kernels/deform.h"
#include "core/catalogue/settings.h"

namespace bricol {

inline constexpr unsigned deformable = content_faces | content_curves | content_points | content_edges;

/// The settings deformers share: which stretch of the axis they work on, about which line, and on which points.
struct DeformSpan {
    enum class Limits { shape, given };
    enum class About { middle, point };
    Limits limits = Limits::shape;
    double low = 0, high = 1;
    About about = About::middle;
    DVec3 centre{0, 0, 0};
    std::string only;
};

/// A deformer's own settings with the stretch of the axis behind them. Its struct is a DeformSpan.
template <class T>
Settings<T> with_limits(Settings<T> own) {
    using Limits = DeformSpan::Limits;
    return std::move(own) +
           Settings<T>{choice_of(static_cast<Limits T::*>(&T::limits), "limits", "Between",
                                 {{Limits::shape, "shape", "its ends"}, {Limits::given, "given", "two places"}},
                                 "Where along the axis it works; beyond, the shape goes on stiffly."),
                       when(pulled(offset_of<T>(&T::low, "low", "From", "Along the axis."), HandleKind::along, "axis"),
                            "limits=given"),
                       when(pulled(offset_of<T>(&T::high, "high", "To", "Along the axis."), HandleKind::along, "axis"),
                            "limits=given")};
}

/// The same, and the line that stays, for deformers that have one; `line_when` says when it matters.
template <class T>
Settings<T> with_span(Settings<T> own, std::string_view line_when = {}) {
    using About = DeformSpan::About;
    return with_limits(std::move(own)) +
           Settings<T>{
               when(choice_of(static_cast<About T::*>(&T::about), "about", "About",
                              {{About::middle, "middle", "its middle"}, {About::point, "point", "a point"}},
                              "The line across the axis that stays in place."),
                    line_when),
               when(pulled(vector_of<T>(&T::centre, "centre", "Point", Quantity::length, "A point on that line."),
                           HandleKind::point),
                    "about=point"),
               only_of<T>(&T::only, "Moves only the points of this set.")};
}

struct DeformFrame {
    Span span;
    DVec3 centre{0};
};

/// Span and centre as the parameters say; nothing, and a finding, when there is no room along the axis.
std::optional<DeformFrame> frame_of(StepRun& run, const DeformSpan& s, Axis axis);

/// The shape with the points of the set that a setting names led by the map: vertices and knots, whichever carry it.
Shape deformed_points(StepRun& run, const Shape& shape, const std::string& only, const PointMap& map);
void give_deformed(StepRun& run, const std::string& only, const PointMap& map);

}  // namespace bricol
