// SPDX-License-Identifier: GPL-3.0-or-later
// What part of space the viewport shows.
#include <glm/common.hpp>

#include <QPainter>

#include "app/theme/theme.h"
#include "app/viewport/view_marks.h"
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
    if (!outside || !everything || through_) return;
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
    leave_camera();
    if (const auto box = shown_box(false)) camera_.frame(*box, static_cast<double>(width()) / std::max(1, height()));
    redraw(false);
}

void Viewport::frame_all() {
    framed_ = true;
    leave_camera();
    framing_.stop();
    auto box = shown_box(true);
    if (!box) box = Box{DVec3(-0.5, -0.5, 0), DVec3(0.5, 0.5, 1)};
    camera_.frame(*box, static_cast<double>(width()) / std::max(1, height()));
    redraw(false);
}

/// What stands in words over the picture: why it is empty, or what the pointer can do now.
void Viewport::paint_words(QPainter& painter) {
    const ViewFrame frame{camera_, size(), session_.recipe().unit};
    const bool nothing = session_.made() && !shown_box(true);
    if (nothing && !tool_.active() && !sticks_.active()) {
        painter.setPen(theme::color(theme::Role::soft_ink));
        painter.setFont(theme::text_font(11));
        const bool begun = session_.worker().busy() && std::ranges::any_of(session_.recipe().parts, [](const auto& p) {
                               return !p->steps.empty();
                           });
        painter.drawText(rect(), Qt::AlignCenter,
                         begun ? "It is being made; the strip says how far it is."
                               : "Nothing to see yet.\nPress / and type what to make: “drawn curve”, “box” …");
    } else if (spot_asked_) {
        paint_hint(painter, frame, "Click what it shall point at · Esc leaves it");
    } else if (shading_->still && !stills_.words().isEmpty()) {
        paint_hint(painter, frame, stills_.words());
    } else if (tracing_) {
        paint_hint(painter, frame,
                   "Click a spot: the steps that made it light up on the strip and the sheet · Esc ends");
    } else if (picks_.picking()) {
        paint_hint(painter, frame,
                   picks_.moves() ? "Click to pick · pull what is picked · Shift adds · Ctrl takes away · "
                                    "figures and Enter finish a pull · Esc ends"
                                  : "Click or drag to pick · Shift adds · Ctrl takes away · double-click an "
                                    "edge for its loop · Esc ends");
    } else if (sticks_.active()) {
        paint_hint(painter, frame, sticks_.hint());
    } else if (joints_.active()) {
        paint_hint(painter, frame, JointTool::hint());
    } else if (tool_.choosing_plane()) {
        paint_hint(painter, frame, "Click a face of another part to draw in its plane · Esc ends");
    } else if (tool_.drawing()) {
        paint_hint(painter, frame,
                   "Click to set knots · Shift straight · Ctrl without snapping · pull for a smooth knot · Enter ends");
    }
}

}  // namespace bricol
