// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/catalogue/draw_plane.h"

#include "core/kernels/transform.h"

namespace bricol {

DrawPlane flat_plane(FlatView view) {
    DrawPlane plane;
    if (view == FlatView::side) plane.axes = {Vec3(0, 1, 0), Vec3(0, 0, 1), Vec3(1, 0, 0)};
    if (view == FlatView::top) plane.axes = {Vec3(1, 0, 0), Vec3(0, 1, 0), Vec3(0, 0, 1)};
    return plane;
}

DrawPlane own_plane(const DVec3& at, const DVec3& turn) {
    DrawPlane plane = flat_plane(FlatView::top);
    const glm::dmat3 turned(placement(DVec3(0), turn, DVec3(1), DVec3(0)));
    for (int i = 0; i < 3; ++i) plane.axes[static_cast<std::size_t>(i)] = Vec3(turned[i]);
    plane.origin = Vec3(at);
    return plane;
}

DrawPlane draw_plane(const Values& values) {
    const std::string& view = std::get<std::string>(values.find("plane")->second);
    if (view != "own")
        return flat_plane(view == "side" ? FlatView::side : view == "top" ? FlatView::top : FlatView::front);
    return own_plane(std::get<DVec3>(values.find("plane_at")->second),
                     std::get<DVec3>(values.find("plane_turn")->second));
}

}  // namespace bricol
