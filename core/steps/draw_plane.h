// SPDX-License-Identifier: GPL-3.0-or-later
// The planes curves are drawn in: the three flat views, or one of the step's own.
#pragma once

#include "core/kernels/transform.h"
#include "core/steps/step.h"

namespace bricol {

/// The plane of a flat view: "front", "side" or "top".
inline DrawPlane flat_plane(std::string_view view) {
    DrawPlane plane;
    if (view == "side") plane.axes = {Vec3(0, 1, 0), Vec3(0, 0, 1), Vec3(1, 0, 0)};
    if (view == "top") plane.axes = {Vec3(1, 0, 0), Vec3(0, 1, 0), Vec3(0, 0, 1)};
    return plane;
}

/// The plane a step's parameters "plane", "plane_at" and "plane_turn" describe. Its own plane is the top view's,
/// turned, then moved.
inline DrawPlane draw_plane(const StepRun& run) {
    const std::string& view = run.choice("plane");
    if (view != "own") return flat_plane(view);
    DrawPlane plane = flat_plane("top");
    const glm::dmat3 turn(placement(DVec3(0), run.vector("plane_turn"), DVec3(1), DVec3(0)));
    for (int i = 0; i < 3; ++i) plane.axes[static_cast<std::size_t>(i)] = Vec3(turn[i]);
    plane.origin = Vec3(run.vector("plane_at"));
    return plane;
}

}  // namespace bricol
