// SPDX-License-Identifier: GPL-3.0-or-later
// Deformers as maps of space: each takes a point and says where it goes.
#pragma once

#include <functional>

#include "core/kernels/transform.h"
#include "core/shape/sets.h"
#include "core/shape/selection.h"

namespace bricol {

using PointMap = std::function<DVec3(const DVec3&)>;

/// Applies a map to the chosen mesh vertices and to the chosen knots of curves, with their handles. Knots are counted
/// over all curves; handles that were found from the neighbours stand as they are from then on.
/// NORMAL is dropped, everything else carried. Instances must be real geometry first. Runs on all threads.
Shape deformed(const Shape& shape, const PointMap& map, const Selection& vertices = {}, const Selection& knots = {});

/// An axis with limits: deformers work between `low` and `high` along it, and go on stiffly beyond.
struct Span {
    int axis = 2;
    double low = 0, high = 1;
    double length() const { return high - low; }
};
/// The span of a box along an axis.
Span span_of(const Box& box, int axis);

/// Bends the span by `degrees` towards `toward` (another axis). The neutral line, at `centre` across, keeps its length:
/// an arc of radius length/angle. The low end stays in place, or the middle when `hold_middle`.
PointMap bend_map(const Span& span, int toward, double degrees, const DVec3& centre, bool hold_middle);

/// Turns about the axis through `centre`, from 0 at the low end to `degrees` at the high end.
PointMap twist_map(const Span& span, double degrees, const DVec3& centre);

enum class Ramp : std::uint8_t { straight, eased, bulge };
/// Sizes across the axis: 1 at the low end, `first` and `second` (along the two other axes) at the high end. `eased`
/// starts and ends without a kink; `bulge` adds `bulge` times a half sine in the middle.
PointMap taper_map(const Span& span, double first, double second, const DVec3& centre, Ramp ramp, double bulge);

/// Stretches the span by `factor` from its low end; keeping the volume, the shape grows thinner by 1/sqrt(factor).
PointMap stretch_map(const Span& span, double factor, const DVec3& centre, bool keep_volume);

/// Leans the axis towards `toward` by `degrees`.
PointMap shear_map(const Span& span, int toward, double degrees);

/// A cage of `counts` control points per axis over a box, each with a move (metres), x fastest. Smooth: Bernstein
/// polynomials (T. Sederberg and S. Parry, "Free-form deformation of solid geometric models", 1986); else straight.
PointMap lattice_map(const Box& box, const std::array<int, 3>& counts, std::vector<DVec3> moves, bool smooth);

}  // namespace bricol
