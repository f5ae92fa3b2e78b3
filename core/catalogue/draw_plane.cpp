// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/catalogue/draw_plane.h"

#include "core/kernels/transform.h"

namespace bricol {

DrawPlane flat_plane(std::string_view view) {
    DrawPlane plane;
    if (view == "side") plane.axes = {Vec3(0, 1, 0), Vec3(0, 0, 1), Vec3(1, 0, 0)};
    if (view == "top") plane.axes = {Vec3(1, 0, 0), Vec3(0, 1, 0), Vec3(0, 0, 1)};
    return plane;
}

DrawPlane draw_plane(const Values& values) {
    const std::string& view = std::get<std::string>(values.find("plane")->second);
    if (view != "own") return flat_plane(view);
    DrawPlane plane = flat_plane("top");
    const DVec3& angles = std::get<DVec3>(values.find("plane_turn")->second);
    const glm::dmat3 turn(placement(DVec3(0), angles, DVec3(1), DVec3(0)));
    for (int i = 0; i < 3; ++i) plane.axes[static_cast<std::size_t>(i)] = Vec3(turn[i]);
    plane.origin = Vec3(std::get<DVec3>(values.find("plane_at")->second));
    return plane;
}

}  // namespace bricol
