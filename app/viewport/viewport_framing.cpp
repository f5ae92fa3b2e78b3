// SPDX-License-Identifier: GPL-3.0-or-later
// What part of space the viewport shows.
#include <glm/common.hpp>

#include "app/viewport/viewport.h"

namespace bricol {

std::optional<Box> Viewport::shown_box(bool everything) const { return builder_.shown_box(everything); }

void Viewport::frame_newcomers() {
    const Made* made = session_.made();
    if (!made) return;
    const bool first = seen_.empty();  // then everything was framed
    bool outside = false;
    const Recipe& recipe = session_.made_recipe();
    for (std::size_t p = 0; p < recipe.parts.size(); ++p) {
        if (!made->parts[p] || !made->parts[p]->measures.box || recipe.parts[p]->hidden) continue;
        if (!seen_.insert(recipe.parts[p]->name).second || first) continue;
        const Box& box = *made->parts[p]->measures.box;
        const Projector projector(camera_, width(), height());
        for (int corner = 0; corner < 8; ++corner) {
            const DVec3 at(corner & 1 ? box.high.x : box.low.x, corner & 2 ? box.high.y : box.low.y,
                           corner & 4 ? box.high.z : box.low.z);
            double depth = 0;
            const glm::dvec2 seen = projector.to_screen(at, &depth);
            outside |=
                (!camera_.flat() && depth <= 0) || seen.x < 0 || seen.y < 0 || seen.x > width() || seen.y > height();
        }
    }
    const auto everything = shown_box(true);
    if (!outside || !everything) return;
    Camera wanted = camera_;
    wanted.frame(*everything, static_cast<double>(width()) / std::max(1, height()));
    framing_.stop();
    framing_.disconnect(this);
    connect(&framing_, &QVariantAnimation::valueChanged, this, [this, from = camera_, wanted](const QVariant& at) {
        const double share = at.toDouble();
        camera_.target = glm::mix(from.target, wanted.target, share);
        camera_.distance = std::exp(glm::mix(std::log(from.distance), std::log(wanted.distance), share));
        redraw(false);
        emit viewChanged();
    });
    framing_.setStartValue(0.0);
    framing_.setEndValue(1.0);
    framing_.start();
}

void Viewport::frame_choice() {
    if (const auto box = shown_box(false)) camera_.frame(*box, static_cast<double>(width()) / std::max(1, height()));
    redraw(false);
}

void Viewport::frame_all() {
    framed_ = true;
    framing_.stop();
    auto box = shown_box(true);
    if (!box) box = Box{DVec3(-0.5, -0.5, 0), DVec3(0.5, 0.5, 1)};
    camera_.frame(*box, static_cast<double>(width()) / std::max(1, height()));
    redraw(false);
}

}  // namespace bricol
