// SPDX-License-Identifier: GPL-3.0-or-later
// Long structures over ground: a plan curve steers, a height curve lifts.
#pragma once

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

/// The line in equal pieces along the distance, each at most `longest` metres; unchanged for 0.
HeightLine in_pieces(const HeightLine& line, double longest);
/// The path as straight lengths of at most `longest` metres (equal ones), frames found anew; unchanged for 0.
Polyline in_lengths(const Polyline& line, double longest);

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
