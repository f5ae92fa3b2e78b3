// SPDX-License-Identifier: GPL-3.0-or-later
// Places on a picture for every corner of a face: by projection, or by cutting along seams and flattening.
#pragma once

#include <atomic>
#include <string>

#include "core/kernels/transform.h"
#include "core/shape/selection.h"

namespace bricol {

enum class UvProjection : std::uint8_t { plane, box, cylinder, sphere };
struct UvOptions {
    UvProjection by = UvProjection::plane;
    int axis = 2;       ///< across the plane, or of the cylinder or sphere
    DVec3 centre{0};    ///< of box, cylinder and sphere
    bool real = false;  ///< in metres; else 0..1 over the shape's box (angles are always 0..1 a turn)
};
/// TEXCOORD_0 on the corners of the chosen faces; other faces keep theirs. Round a cylinder or sphere
/// a face that crosses the seam goes on beyond 1 rather than back. Axes follow the flat views: top x and y, front x and
/// z, side y and z.
Mesh with_uvs(const Mesh& mesh, const UvOptions& options, const Selection& faces = {});

struct UnwrapResult {
    Mesh mesh;
    std::size_t charts = 0;
    std::size_t not_discs = 0;  ///< pieces that no seam opens to a disc; they keep a projection along their mean normal
    std::vector<Vec3> not_disc_at;
    double covered = 0;  ///< share of the UV square that the charts fill
};
/// Cuts along `seams` (edges) and open borders and flattens every piece with as little change of angles as can be:
/// least squares conformal maps (B. Lévy, S. Petitjean, N. Ray and J. Maillot, 2002; CGAL behind). Pieces keep their
/// size among one another and are laid in rows into 0..1, `margin` apart.
UnwrapResult unwrapped(const Mesh& mesh, const Selection& seams, double margin);

/// Flat places of a disc of triangles; empty when it is no disc, a triangle has no area, or the solver fails. In
/// unwrap_cgal.cpp.
std::vector<DVec2> flattened_disc(const std::vector<DVec3>& points, const std::vector<std::array<Index, 3>>& triangles);

}  // namespace bricol
