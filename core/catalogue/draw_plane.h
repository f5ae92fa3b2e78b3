// SPDX-License-Identifier: GPL-3.0-or-later
// The planes curves are drawn in: the three flat views, or one of the step's own. Read by the steps that draw and by
// the hand that draws for them.
#pragma once

#include "core/catalogue/value.h"

namespace bricol {

/// The plane of a flat view: "front", "side" or "top".
DrawPlane flat_plane(std::string_view view);

/// The plane that the settings "plane", "plane_at" and "plane_turn" describe. A step's own plane is the top view's,
/// turned, then moved.
DrawPlane draw_plane(const Values& values);

}  // namespace bricol
