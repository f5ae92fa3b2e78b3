// SPDX-License-Identifier: GPL-3.0-or-later
// Cameras and lamps in the view: looking through, outlines, what is clicked.
#include <QPainter>
#include <QSettings>
#include <cmath>

#include "app/theme/theme.h"
#include "app/viewport/spot.h"
#include "app/viewport/viewport.h"

namespace bricol {

namespace {

double aspect_of(const StageCamera& camera) { return static_cast<double>(camera.width) / std::max(1, camera.height); }

}  // namespace

void Viewport::look_through(const std::optional<StageName>& camera) {
    if (camera == through_) return;
    framing_.stop();
    if (through_) camera_.use_usual_lens();
    through_ = camera;
    lens_.reset();
    follow_camera();
    rebuild_scene();
    redraw(false);
    emit throughChanged();
    emit viewChanged();
}

void Viewport::follow_camera() {
    if (!through_ || !session_.made()) return;
    const Stage stage = stage_of(session_.made_recipe(), *session_.made());
    const StageCamera* seen = nullptr;
    for (const auto& camera : stage.cameras)
        if (StageName{camera.part, camera.step} == *through_) seen = &camera.piece;
    if (!seen) {  // it was taken out, switched off, or cannot be
        leave_camera();
        return;
    }
    lens_ = *seen;
    const DVec3 back = seen->eye - seen->aim;
    camera_.view = View::free;
    camera_.target = seen->aim;
    camera_.distance = glm::length(back);
    camera_.pitch = glm::degrees(std::asin(std::clamp(back.z / camera_.distance, -1.0, 1.0)));
    if (std::abs(back.x) + std::abs(back.y) > 1e-9 * camera_.distance)
        camera_.yaw = glm::degrees(std::atan2(back.y, back.x));
    camera_.roll = seen->roll;
    const double aspect = aspect_of(*seen), height = aspect >= 1 ? seen->film / aspect : seen->film;
    const QRectF frame = picture_frame(size(), aspect);
    camera_.half_angle =
        glm::degrees(std::atan(height / 2 / std::max(seen->focal, 1e-3) * this->height() / frame.height()));
}

void Viewport::stand_at_first_camera() {
    const Stage stage = stage_of(session_.made_recipe(), *session_.made());
    if (stage.cameras.empty()) return;
    through_ = StageName{stage.cameras.front().part, stage.cameras.front().step};
    follow_camera();
    leave_camera();
}

void Viewport::leave_camera() {
    if (!through_) return;
    through_.reset();
    lens_.reset();
    camera_.use_usual_lens();
    emit throughChanged();
}

void Viewport::set_guides(bool thirds, bool margin) {
    thirds_ = thirds, margin_ = margin;
    update();
}

void Viewport::set_occlusion(bool on) {
    occlusion_ = on;
    QSettings().setValue("occlusion", on);
    redraw(false);
}

void Viewport::set_stage_shown(bool on) {
    if (stage_shown_ == on) return;
    stage_shown_ = on;
    update();
}

bool Viewport::stage_wanted() const {
    const Step* step = session_.chosen_step();
    const StepInfo* info = step ? find_step_info(step->type) : nullptr;
    return stage_shown_ || (info && info->family == Family::light);
}

void Viewport::ask_spot(std::function<void(const DVec3& at)> got) {
    spot_asked_ = std::move(got);
    setCursor(spot_asked_ ? Qt::CrossCursor : Qt::ArrowCursor);
    update();
}

bool Viewport::press_stage(const QPointF& at) {
    if (spot_asked_ && renderer_) {
        const auto spot = spot_at(*renderer_, scene_, camera_, size(), at);
        if (!spot) {
            session_.say("There is no shape there to aim at. Click one, or press Esc.");
            return true;
        }
        const auto got = std::exchange(spot_asked_, nullptr);
        setCursor(Qt::ArrowCursor);
        got(spot->at);
        update();
        return true;
    }
    if (!stage_wanted() || !session_.made()) return false;
    const auto found = stage_at({camera_, size(), {}}, stage_of(session_.made_recipe(), *session_.made()), at,
                                through_.value_or(StageName{}));
    if (!found || (found->part == session_.part() && found->step == session_.step())) return false;
    session_.choose(found->part, found->step);
    return true;
}

void Viewport::light_scene() {
    scene_.lamps.clear();
    scene_.sky = {};
    if (!session_.made()) return;
    const Stage stage = stage_of(session_.made_recipe(), *session_.made());
    const auto shines = [&](const auto& entry) {
        return stills_.only_light().empty() || stills_.only_light() == entry.part + "." + entry.step;
    };
    for (const auto& lamp : stage.lamps)
        if (shines(lamp)) scene_.lamps.push_back(lamp.piece);
    if (stage.sky && shines(*stage.sky)) scene_.sky = stage.sky->piece;
}

bool Viewport::stage_changed() {
    std::vector<std::shared_ptr<const StagePiece>> now;
    if (session_.made())
        for (const auto& part : session_.made()->steps)
            for (const auto& outcome : part)
                if (outcome && outcome->stage) now.push_back(outcome->stage);
    // Hidden parts do not shine.
    std::swap(now, stage_seen_);
    return now != stage_seen_;
}

void Viewport::begin_still() {
    if (shading_->still && turning_ == Qt::NoButton && !handles_.holding())
        stills_.begin(camera_, lens_ ? &*lens_ : nullptr, (QSizeF(size()) * devicePixelRatioF()).toSize());
}

void Viewport::paint_stage_marks(QPainter& painter) {
    if (lens_) paint_picture_frame(painter, picture_frame(size(), aspect_of(*lens_)), size(), thirds_, margin_);
    if (!stage_wanted() || !session_.made()) return;
    paint_stage(painter, {camera_, size(), {}}, stage_of(session_.made_recipe(), *session_.made()),
                {session_.part(), session_.step()}, through_.value_or(StageName{}));
}

}  // namespace bricol
