// SPDX-License-Identifier: GPL-3.0-or-later
// The planes curves are drawn in: the three flat views, or one of the step's own. Read by the steps that draw and by
// the hand that draws for them.
#pragma once

#include "core/catalogue/value.h"

namespace bricol {

enum class FlatView { front, side, top };

/// The plane of a flat view.
DrawPlane flat_plane(FlatView view);

/// A plane of its own: the top view's, turned (degrees about x, then y, then z), then moved.
DrawPlane own_plane(const DVec3& at, const DVec3& turn);

/// The plane that the settings "plane", "plane_at" and "plane_turn" describe. A step's own plane is the top view's,
/// turned, then moved.
DrawPlane draw_plane(const Values& values);

}  // namespace bricol
