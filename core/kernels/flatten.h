// SPDX-License-Identifier: GPL-3.0-or-later
// Turns curves into points: handles, fillets and sampling happen here and nowhere else.
#pragma once

#include <span>

#include "core/shape/shape.h"

namespace bricol {

/// A curve as points. `sharp[i]` tells that the direction breaks at point i; `knot[i]` is the knot of the curve the
/// point sits on, or -1 between knots. Lines that were no curves (loose edges) leave what follows it empty.
struct Polyline {
    Array<Vec3> points;
    std::vector<std::uint8_t> sharp;
    std::vector<std::int32_t> knot;
    std::vector<DVec3> tangent;  ///< unit direction of the curve itself; the way out of breaks, zero for a single point
    std::vector<float> radius, roll;  ///< the knots' own, straight between neighbours
    std::vector<KnotValues> values;   ///< the knots' own, blended between neighbours; empty when no knot has any
    bool closed = false;
};

/// A fillet that did not fit: the radius was held to what its two sides allow.
struct HeldFillet {
    int knot = 0;
    float wanted = 0, used = 0;  ///< metres; used is 0 when no circle touches both sides
};

/// Length of the handles of a cubic that follows a circle of radius 1 over `angle` radians: 4/3 tan(angle/4).
/// Source: A. Riškus, "Approximation of a cubic Bezier curve by circular arcs", 2006. Good to 2.8e-4 of the radius
/// over a quarter turn.
double arc_handle(double angle);

/// Handles of every knot as used: smooth knots without handles get theirs from their neighbours (parallel to the line
/// between them, a third of the distance to each).
std::vector<Knot> with_handles(const Curve& curve);

/// The curve with each corner fillet replaced by knots along its arc, which touches both sides; spans that bend are
/// parted where it does. Fillets too large for their sides are held back and told in `held` (when given). Smooth knots
/// have none.
Curve with_fillets(const Curve& curve, std::vector<HeldFillet>* held = nullptr);

/// Points along the curve at its own sampling. Straight spans stay one piece. Empty for a curve without knots.
Polyline flatten(const Curve& curve, std::vector<HeldFillet>* held = nullptr);

/// Every chain of loose edges (edges without faces) of a mesh; chains part where more than two edges meet.
/// `vertices`, when given, gets the mesh's vertex at each point of each.
std::vector<Polyline> loose_edge_lines(const Mesh& mesh, std::vector<std::vector<Index>>* vertices = nullptr);

/// A polyline as a curve of corners, which carry what its points carry.
Curve curve_from(const Polyline& line);

/// Length along the points, closing piece included (metres).
double length_of(const Polyline& line);

}  // namespace bricol
