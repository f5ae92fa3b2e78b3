// SPDX-License-Identifier: GPL-3.0-or-later
// A shape and its reflection, joined along the plane between them.
#pragma once

#include "core/shape/shape.h"

namespace bricol {

struct MirrorOptions {
    int axis = 0;           ///< normal of the plane: 0 x, 1 y, 2 z
    double at = 0;          ///< where the plane crosses that axis (metres)
    bool keep_high = true;  ///< the side that is reflected, when the shape is cut
    bool cut = false;       ///< first take away what lies beyond the plane
    double weld = 1e-4;     ///< points nearer to the plane than this (metres) are shared by both halves
    bool hold = true;       ///< and are set exactly onto it
};

struct MirrorResult {
    Shape shape;
    std::size_t welded = 0;  ///< vertices shared by both halves
    std::size_t near_misses =
        0;  ///< border vertices (any, of a closed half) within twenty weld distances of the plane, not welded
    double smallest_gap = 0;    ///< width of the narrowest slit left by near misses (metres), 0 when none
    double widest_miss = 0;     ///< distance from the plane of the farthest near miss: weld by this to close all
    std::size_t far_welds = 0;  ///< welded vertices no border needed: the middle may have been closed by mistake
    std::vector<Vec3> places;   ///< the near misses
};

/// Mesh: reflected copy appended, seam vertices shared, faces lying in the plane dropped (they would be inner walls).
/// Curves: open curves that end on the plane are joined to their reflection. Attributes are carried to both halves.
MirrorResult mirrored(const Shape& shape, const MirrorOptions& options);

/// The part of a mesh on one side of an axis plane, faces clipped, attributes at new corners interpolated.
/// New vertices lie exactly on the plane. Loose edges are kept when both ends are inside.
Mesh clipped(const Mesh& mesh, int axis, double at, bool keep_high);

/// The part of a mesh where p . normal >= at (normal of unit length). Polygons that fall into several pieces come back
/// as triangles.
Mesh clipped_by_plane(const Mesh& mesh, const DVec3& normal, double at);

}  // namespace bricol
