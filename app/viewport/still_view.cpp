// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/still_view.h"

#include <QSettings>
#include <cmath>

namespace bricol {

StageCamera stage_camera(const Camera& camera, double aspect) {
    StageCamera stage;
    stage.eye = camera.eye(), stage.aim = camera.target;
    stage.up = camera.up(), stage.roll = 0;
    // The film's width lies along the longer side.
    const double height = aspect >= 1 ? stage.film / aspect : stage.film,
                 tangent = std::tan(glm::radians(camera.half_angle));
    stage.focal = height / 2 / tangent;
    if (camera.flat()) {
        stage.flat = 2 * camera.distance * tangent;
        stage.eye = camera.target + camera.direction() * (camera.distance * 50);
    }
    return stage;
}

StillView::StillView(Session& session, QObject* parent) : QObject(parent), session_(session) {
    dark_ = QSettings().value("picture/dark", false).toBool();
    connect(&worker_, &StillWorker::refined, this, [this](const QImage& image, int samples, double noise, int number) {
        if (number != number_) return;  // of what was seen before
        picture_ = image;
        samples_ = samples, noise_ = noise;
        emit changed();
    });
    connect(&worker_, &StillWorker::failed, this, [this](const QString& why) { session_.say(why, true); });
    connect(&session, &Session::opened, this, [this] { only_light_.clear(); });
}

void StillView::set_only_light(const std::string& light) {
    if (only_light_ == light) return;
    only_light_ = light;
    emit lightChanged();
}

void StillView::set_dark(bool dark) {
    if (dark_ == dark) return;
    dark_ = dark;
    QSettings().setValue("picture/dark", dark);
    emit lightChanged();
}

void StillView::begin(const Camera& camera, const StageCamera* lens, QSize pixels) {
    const Made* made = session_.made();
    if (!made || pixels.width() < 8 || pixels.height() < 8) return;
    const Recipe& recipe = session_.made_recipe();
    std::vector<ShapePtr> shapes = delivered_shapes(recipe, *made, {});
    if (shapes.empty()) return;
    const double aspect = static_cast<double>(pixels.width()) / pixels.height();
    StageCamera view = stage_camera(camera, aspect);
    if (lens && !camera.flat()) {
        // The same picture from the lens's own focal length: the film is as wide as the view shows.
        view.film *= lens->focal / view.focal;
        view.focal = lens->focal;
        view.f_number = lens->f_number, view.sharp_at = lens->sharp_at, view.exposure = lens->exposure;
        if (view.sharp_at <= 0) view.sharp_at = glm::distance(lens->eye, lens->aim);
    }
    StagedWishes wishes;
    wishes.camera = &view;
    wishes.aspect = aspect;
    wishes.dark = dark_;
    wishes.only_light = only_light_;
    StillOptions options;
    options.width = pixels.width(), options.height = pixels.height();
    options.samples = most_samples;
    worker_.request(staged_scene(std::move(shapes), stage_of(recipe, *made), wishes), options, ++number_);
}

void StillView::moved() {
    ++number_;
    samples_ = 0;
    picture_ = {};
    worker_.stop();
}

QString StillView::words() const {
    if (samples_ == 0) return {};
    return QString("%1 of %2 paths · noise %3 %").arg(samples_).arg(most_samples).arg(noise_ * 100, 0, 'f', 1);
}

}  // namespace bricol
