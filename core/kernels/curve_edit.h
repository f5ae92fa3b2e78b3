// SPDX-License-Identifier: GPL-3.0-or-later
// Curves changed as curves: their knots and handles stay, nothing is turned into points that need not be.
#pragma once

#include <span>

#include "core/kernels/flatten.h"

namespace bricol {

/// The same curve run from its end to its start.
Curve reversed(const Curve& curve);

/// The stretch between two lengths (metres from the start; negative `from`, or `to` beyond the whole, goes straight
/// on). Spans are parted exactly (P. de Casteljau, 1959); lengths are found to 1e-9 of the span. A closed curve opens;
/// `from` > `to` runs over its start.
Curve trimmed(const Curve& curve, double from, double to);

/// Length along the curve as it is described, fillets included (metres); to 1e-9 of each span.
double length_of(const Curve& curve);

struct JoinOptions {
    double within = 1e-4;  ///< ends nearer than this are one knot (metres)
    double reach = 0;      ///< straight ends are extended or cut by up to this to meet in a corner
    float fillet = 0;      ///< radius of the corners where curves meet, kept as a number
    bool close = true;     ///< the last end to the first, when they meet
};
struct JoinResult {
    std::vector<Curve> curves;
    std::size_t joined = 0;       ///< ends that met
    double nearest_miss = 1e300;  ///< smallest distance between ends that did not (metres)
    Vec3 miss_at{0};
};
/// Chains open curves whose ends meet, turned round where needed; the one with the lowest number leads. Closed ones
/// pass through.
JoinResult joined_curves(std::span<const Curve> curves, const JoinOptions& options);

struct OffsetOptions {
    double distance = 0.01;  ///< metres; positive to the right as the curve runs, seen against `normal`
    DVec3 normal{0, 0, 1};   ///< of the curve's plane
    bool round = false;      ///< round corners; else mitres, up to four times the distance
};
/// A line beside a line in its plane; where it would fold back, the folds are cut out (pieces nearer to the line than
/// the distance). Several lines can come of one. Closed lines by Clipper (B. Vatti, 1992, behind), in time near the
/// points; open ones O(points^2).
std::vector<Polyline> offset_lines(const Polyline& line, const OffsetOptions& options);

/// Every knot led towards the middle of its neighbours, `rounds` times by `strength` (0..1); ends of open curves stay.
Curve relaxed(Curve curve, int rounds, double strength);

/// Ends of an open curve made to leave along a main axis (0 x, 1 y, 2 z; the way they already go), so that what is
/// swept along it begins and ends square to that axis.
void hold_ends(Curve& curve, int axis);

/// Curves through points: in their order, along an axis, or each time to the nearest that is left.
enum class ThreadOrder : std::uint8_t { given, axis, nearest };
std::vector<std::size_t> threaded(std::span<const Vec3> points, ThreadOrder order, int axis);

/// Curves along chosen edges; loops become closed curves, and chains part where more than two edges meet.
std::vector<Polyline> edge_lines(const Mesh& mesh, std::span<const std::uint8_t> edges);

/// The plane a curve lies in: its unit normal (the turn of its area), and the farthest a point leaves it (metres).
DVec3 plane_normal(const Polyline& line, double* off_plane = nullptr);

}  // namespace bricol
