// SPDX-License-Identifier: GPL-3.0-or-later
// Long structures over ground: a plan curve steers, a height curve lifts.
#pragma once

#include <span>

#include "core/kernels/path.h"

namespace bricol {

/// Heights over the distance from the origin, both in metres, rising distances.
struct HeightLine {
    std::vector<double> distance, height;
    bool empty() const { return distance.empty(); }
    /// Straight between points; the first and last height beyond.
    double at(double where) const;
    /// Height gained per metre there.
    double slope_at(double where) const;
};

/// The line of a curve whose one ground coordinate is the distance: the one it extends along most. `turns_back` when
/// the curve does not run one way, and then nothing is given.
HeightLine height_line(const Polyline& line, bool* turns_back);

/// How a curve is laid in equal straight lengths: each at most `longest` metres, or so many `pieces`; both 0 for the
/// curve itself.
struct StraightLengths {
    double longest = 0;
    int pieces = 0;
    bool any() const { return longest > 0 || pieces > 0; }
    /// How many of them make up `whole` metres.
    int over(double whole) const;
};

/// The line in equal pieces along the distance.
HeightLine in_pieces(const HeightLine& line, const StraightLengths& lengths);
/// The path in straight lengths, at least three of a closed one; frames found anew.
Polyline in_lengths(const Polyline& line, const StraightLengths& lengths);

/// The line in the ground plane. `off` tells how far it left that (metres).
Polyline ground_plan(Polyline line, double* off);
/// A metre from the origin along a direction of the ground plane.
Path straight_path(const Vec3& along);
/// Corners drawn between a line's ends.
std::vector<Vec3> sharp_corners(const Polyline& line);

/// Where a path bends most between its corners.
struct Bend {
    double radius = 1e300;  ///< metres
    Vec3 at{0};
};
Bend tightest_bend(const Path& path);
/// Metres gained or lost per metre, at most.
double steepest_of(const HeightLine& heights);

/// Distances along the plan at which the structure bends: between its straight lengths, or at its drawn corners.
std::vector<double> joints_of(const Path& plan, bool in_lengths);
/// The same with those of the heights, rising, counted from `begin` (metres). No plan is a straight one.
std::vector<double> joints_of(const Path* plan, const StraightLengths& along, const HeightLine& heights,
                              const StraightLengths& up, double begin);
/// A mesh with an edge across wherever the plane square to the axis goes through it at one of these places: faces that
/// reach over a joint would cut its corner. Places that cut nothing do nothing. O(places x faces).
Mesh cut_across(Mesh mesh, int axis, std::span<const double> places);

/// Lays a point of the straight structure: along x, y to the left, z up, from one origin. Its plan place is beside the
/// plan curve at that length, its height its own plus the line's: what was level across stays level, to the last bit.
class Alignment {
public:
    Alignment(const Path& plan, HeightLine heights);
    DVec3 at(double along, double left, double up) const;

private:
    double height_at(double along) const;  ///< as HeightLine::at, found in constant time on even pieces

    Rails rails_;
    HeightLine heights_;
    std::vector<std::uint32_t> finder_;  ///< for even shares of the distance: the last point at or before it
};

}  // namespace bricol
