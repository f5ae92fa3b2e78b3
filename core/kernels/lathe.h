// SPDX-License-Identifier: GPL-3.0-or-later
// Turns a profile about an axis: full turns, part turns, helices and straight pulls.
#pragma once

#include <atomic>

#include "core/kernels/flatten.h"

namespace bricol {

/// Which side of the profile is moved onto the axis before turning.
enum class AxisSide : std::uint8_t { as_drawn, inner, middle, outer };

/// An axis with the two directions across it; (across, over, along) is right-handed.
struct Frame {
    DVec3 centre{0}, across{1, 0, 0}, over{0, 1, 0}, along{0, 0, 1};
};
/// Frame of a main axis: 0 x, 1 y, 2 z.
Frame axis_frame(int axis, const DVec3& centre);

struct LatheOptions {
    Frame frame;
    int segments = 32;   ///< pieces per turn, at least 1
    double angle = 360;  ///< degrees per turn; 0 pulls straight
    double turns = 1;    ///< how many times angle and rise are repeated
    double rise = 0;     ///< metres along the axis per turn
    AxisSide side = AxisSide::as_drawn;
    float weld = 1e-4f;  ///< points nearer to the axis than this (metres) become one pole
    bool caps = true;    ///< close part turns and pulls; open ends are led to the axis
    bool uvs = true, normals = true;
    float smooth_angle = 40;  ///< degrees: profile corners sharper than this are shaded sharp
};

/// The solid of one profile. Faces are quads, triangles at poles, one polygon per cap; they face outwards whichever way
/// the profile was drawn. UVs (corners) run 0..1 round and along the profile. NORMAL is on vertices when nothing is
/// sharp, else on corners; vertices get what the profile's knots carry. Empty when fewer than two different points
/// remain. O(points x segments). Volume and area follow the second and first theorem of Pappus and Guldin as segments
/// and points grow. `cap_faces` is told how many faces at the end of the list close the turn: one of the start and one
/// of the end, in turn.
Mesh lathe(const Polyline& profile, const LatheOptions& options, std::size_t* cap_faces = nullptr);

/// The profile as the lathe uses it: moved to the axis by `side`, repeats dropped, ends led to the axis for caps.
struct LatheProfile {
    struct Point {
        double u, v, h;     ///< across, over and along the axis (metres)
        double radius;      ///< distance from the axis, 0 when welded
        std::int32_t knot;  ///< of the polyline, -1 when none
        Index source;       ///< number of the polyline's point; ends led to the axis have that of the end
        bool sharp;
    };
    std::vector<Point> points;
    bool closed = false;
    bool full_turn = false;  ///< comes back to where it started
    bool planar = false;     ///< lies in one plane with the axis, on one side of it
    int repeats = 0;         ///< points dropped because they sat on their neighbour
};
LatheProfile prepare_profile(const Polyline& profile, const LatheOptions& options);

}  // namespace bricol
