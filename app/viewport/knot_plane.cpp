// SPDX-License-Identifier: GPL-3.0-or-later
// The plane curves are drawn in, taken from a face of another part.
#include "app/viewport/knot_numbers.h"
#include "app/viewport/knot_tool.h"
#include "core/kernels/transform.h"

namespace bricol {

void KnotTool::set_choosing_plane(bool on) {
    choosing_plane_ = on && active() && has_plane_;
    if (choosing_plane_) {
        drawing_ = false;
        snap_.gather(session_);
    }
    emit changed();
}

void KnotTool::choose_plane(const glm::dvec2& at, const Projector& projector, const DVec3& eye) {
    DVec3 normal;
    const auto place = snap_.surface(at, projector, eye, &normal);
    if (!place) {
        session_.say("There is no face of another part here. Click one that is shown, or press Esc.", true);
        return;
    }
    // Across stays level, so that what is drawn stands upright on walls; on level ground it is x.
    const DVec3 level = glm::cross(DVec3(0, 0, 1), normal);
    const DVec3 across = glm::length(level) > 1e-6 ? glm::normalize(level) : DVec3(1, 0, 0);
    const DVec3 turn = turn_of(glm::dmat3(across, glm::cross(normal, across), normal));
    const auto written = [](const DVec3& v) { return Json::array({rounded(v.x), rounded(v.y), rounded(v.z)}); };
    const std::string part = session_.part(), step = session_.step();
    auto edited = set_setting(session_.recipe(), part, step, "plane", "own");
    if (edited) edited = set_setting(*edited, part, step, "plane_at", written(*place));
    if (edited) edited = set_setting(*edited, part, step, "plane_turn", written(turn));
    choosing_plane_ = false;
    session_.edit(edited, "Draw on a face", {});
    emit planeChosen(*place, normal);
    if (curves_.empty()) set_drawing(true);
    emit changed();
}

}  // namespace bricol
