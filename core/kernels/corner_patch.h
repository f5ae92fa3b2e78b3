// SPDX-License-Identifier: GPL-3.0-or-later
// Round profiles, and the patch of quads that closes a corner where several of them meet.
#pragma once

#include <functional>
#include <span>

#include "core/ground/types.h"

namespace bricol {

/// A conic from `a` to `b` that leaves both towards `pole`. Profile 1 is the circle when both are equally far from the
/// pole, 0 the straight line, above 1 nearer to the pole, negative the same hollow. Points are spread evenly by angle.
/// Source: rational quadratic Bézier form of a circle, L. Piegl and W. Tiller, "The NURBS Book", 1997, section 7.3.
class Conic {
public:
    Conic(const DVec3& a, const DVec3& b, const DVec3& pole, double profile);
    DVec3 at(double t) const;  ///< t from 0 (a) to 1 (b)

private:
    DVec3 a_, b_, pole_;
    double weight_, turn_;
};

/// Fills a closed ring of at least three arcs, each of `segments`+1 points, the last of one being the first of the
/// next, with quads (and one polygon in the middle when the number of segments is odd). New points lie on the sphere
/// through the arcs when there is one, else on a Coons patch (S. Coons, 1967). Faces turn the way the ring runs.
void fill_corner(std::span<const std::span<const Index>> arcs, int segments, const Array<Vec3>& points,
                 const std::function<Index(const DVec3&)>& new_point,
                 const std::function<void(std::span<const Index>)>& new_face);

}  // namespace bricol
