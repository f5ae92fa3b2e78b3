// SPDX-License-Identifier: GPL-3.0-or-later
// A curve to travel along: measured by its length, with a frame at every point.
#pragma once

#include "core/kernels/flatten.h"

namespace bricol {

/// How the directions across a path are found.
struct PathOptions {
    bool fixed_up = false;  ///< `up` as far as the path lets it; else frames that turn least
    DVec3 up{0, 0, 1};      ///< for fixed frames, and what the first of the others starts from
    /// With a fixed up: past a vertical the frame stays on the side it was carried to instead of turning over within a
    /// piece, where a swept wall would go through itself.
    bool turn_over = true;
};

/// Where one stands at some length along a path. Seen by a traveller: `right` is along x up, all of unit length.
struct Station {
    DVec3 at{0}, along{1, 0, 0}, right{0, -1, 0}, up{0, 0, 1};
    double radius = 1;  ///< factor of the knots about here
    double roll = 0;    ///< radians, of the knots about here
};

struct Path {
    std::vector<Station> points;      ///< no two neighbours in one place
    std::vector<double> length;       ///< metres from the start to each point
    std::vector<std::uint8_t> sharp;  ///< the direction breaks here; `along` halves the corner
    bool closed = false;
    double whole = 0;                   ///< metres, closing piece included
    double closing_turn = 0;            ///< radians spread along a closed path so that least-turn frames meet
    std::vector<Vec3> upright;          ///< where the path runs along a fixed up, so that the frame before was kept
    std::vector<Vec3> turned_over;      ///< where a fixed up would have turned the frame over, and did not
    std::vector<KnotValues> values;     ///< of the knots about each point; empty when none carries any
    std::size_t repeats = 0;            ///< points left out because they sat on their neighbour
    std::vector<std::uint32_t> finder;  ///< for even shares of the length: the last point at or before it

    /// The piece a length lies on, and the share 0..1 along it; lengths outside are held to the ends. Constant time on
    /// even pieces.
    std::size_t piece_at(double where, double& share) const;

    std::size_t size() const { return points.size(); }
    bool empty() const { return points.empty(); }
    /// Number of pieces between points.
    std::size_t pieces() const { return closed ? points.size() : points.size() - (points.empty() ? 0 : 1); }
    /// Metres from point i to the next, along the path; of a closed one's last point to the first.
    double length_of_piece(std::size_t i) const { return (i + 1 < length.size() ? length[i + 1] : whole) - length[i]; }
    /// Radians by which the path turns at point i; 0 at open ends.
    double turn_at(std::size_t i) const;
    /// Radius of the circle through point i and its neighbours (metres), and the unit way to its middle; infinite where
    /// three points lie in line, and at open ends.
    double bend_at(std::size_t i, DVec3* inward = nullptr) const;
    /// The station at a length: between points the frames blend; before the start and behind the end of an open path it
    /// goes straight on, a closed one goes round. Precondition: not empty.
    Station at(double length) const;
    /// What the knots about a length carry, blended between points; empty when none carries anything.
    KnotValues values_at(double length) const;
};

/// Least-turn frames by double reflection (W. Wang, B. Jüttler, D. Zheng and Y. Liu, "Computation of rotation
/// minimizing frames", ACM Transactions on Graphics 27, 2008): an error of fourth order in the step. On closed paths
/// the angle by which they miss themselves is spread evenly along the length. Empty when fewer than two different
/// points remain.
Path make_path(const Polyline& line, const PathOptions& options);

/// The curve, and every curve of the shape, with at least so many pieces a bent span: for measuring along it.
Curve finer(Curve curve, int pieces = 64);
Shape finer(Shape shape, int pieces = 64);

/// The path of a curve, its own sampling made at least `finest` times as fine where it bends.
Path make_path(const Curve& curve, const PathOptions& options, int finest = 1);

/// The same path with points put in, so that no piece is longer than that: what turns about a straight piece needs
/// them. O(points).
Path in_pieces_up_to(const Path& path, double longest);

/// Two directions across a path, kept as rails beside it: a point goes along with the piece it is on. Straight pieces
/// meet in mitres, so that what runs beside the path stays parallel to it and as wide.
class Rails {
public:
    /// `mitre_limit` bounds how much longer a rail may be at a corner. `level`: right stays in the ground plane and up
    /// is z.
    explicit Rails(const Path& path, bool level = false, double mitre_limit = 4);
    /// The place `right` and `up` metres beside the path at a length; straight on beyond open ends.
    DVec3 at(double length, double right, double up) const;

private:
    struct Rail {
        double length = 0;  ///< metres from the start
        DVec3 at{0}, right{0}, up{0};
    };
    std::vector<Rail> rails_;  ///< of a closed path the first again at the end
    DVec3 first_{0}, last_{0};
    bool closed_ = false, level_ = false;
    double whole_ = 0, slots_ = 0;
    std::vector<std::uint32_t> finder_;
};

/// Every curve and every chain of loose edges of a shape, as lines.
std::vector<Polyline> lines_of(const Shape& shape);

}  // namespace bricol
