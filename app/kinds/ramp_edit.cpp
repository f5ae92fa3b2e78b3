// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/kinds/ramp_edit.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/kinds/marks_on_bar.h"
#include "app/theme/theme.h"

namespace bricol {

RampEdit::RampEdit(QWidget* parent) : QWidget(parent) {
    setFixedHeight(96);
    setFocusPolicy(Qt::StrongFocus);
    setToolTip("Drag knots; double-click adds one; Del takes the chosen one away");
}

QRectF RampEdit::field() const { return QRectF(rect()).adjusted(6, 6, -6, -6); }
QPointF RampEdit::at(const RampKnot& k) const {
    return {field().left() + std::clamp(k.at, 0.0, 1.0) * field().width(),
            field().bottom() - k.value / high_ * field().height()};
}

void RampEdit::show_ramp(const DrawnRamp& ramp) {
    if (dragging_) return;
    ramp_ = ramp;
    high_ = 1;
    for (const RampKnot& k : ramp_.knots) high_ = std::max(high_, k.value);
    if (chosen_ >= static_cast<int>(ramp_.knots.size())) chosen_ = -1;
    update();
}

int RampEdit::knot_at(const QPointF& p) const {
    for (std::size_t k = 0; k < ramp_.knots.size(); ++k)
        if (const QPointF d = at(ramp_.knots[k]) - p; std::hypot(d.x(), d.y()) < 8) return static_cast<int>(k);
    return -1;
}

void RampEdit::paintEvent(QPaintEvent*) {
    using theme::Role;
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(theme::color(hasFocus() ? Role::act : Role::line), 1));
    painter.setBrush(theme::color(Role::card));
    painter.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 3, 3);
    painter.setPen(QPen(theme::color(Role::grid), 1));
    for (const double share : {0.25, 0.5, 0.75}) {
        painter.drawLine(QPointF(field().left() + share * field().width(), field().top()),
                         QPointF(field().left() + share * field().width(), field().bottom()));
        painter.drawLine(QPointF(field().left(), field().top() + share * field().height()),
                         QPointF(field().right(), field().top() + share * field().height()));
    }
    QPolygonF line;
    const int steps = static_cast<int>(field().width());
    for (int i = 0; i <= steps; ++i) {
        const double x = static_cast<double>(i) / std::max(1, steps);
        line << at({x, ramp_.value(x)});
    }
    painter.setPen(QPen(theme::color(Role::ink), 1.6));
    painter.setBrush(Qt::NoBrush);
    painter.drawPolyline(line);
    for (std::size_t k = 0; k < ramp_.knots.size(); ++k) {
        painter.setPen(QPen(theme::color(static_cast<int>(k) == chosen_ ? Role::chosen : Role::ink), 1.4));
        painter.setBrush(theme::color(static_cast<int>(k) == chosen_ ? Role::chosen : Role::card));
        painter.drawEllipse(at(ramp_.knots[k]), 4, 4);
    }
}

void RampEdit::mousePressEvent(QMouseEvent* event) {
    chosen_ = knot_at(event->position());
    dragging_ = chosen_ >= 0;
    update();
}

void RampEdit::mouseMoveEvent(QMouseEvent* event) {
    if (!dragging_ || chosen_ < 0) return;
    auto& knots = ramp_.knots;
    const auto k = static_cast<std::size_t>(chosen_);
    knots[k].at = between_neighbours(knots, k, (event->position().x() - field().left()) / field().width());
    knots[k].value =
        to_thousandths(std::clamp((field().bottom() - event->position().y()) / field().height(), 0.0, 1.0) * high_);
    emit changed(ramp_, false);
    update();
}

void RampEdit::mouseReleaseEvent(QMouseEvent*) {
    if (!dragging_) return;
    dragging_ = false;
    emit changed(ramp_, true);
}

void RampEdit::mouseDoubleClickEvent(QMouseEvent* event) {
    if (knot_at(event->position()) >= 0) return;
    const double x = to_thousandths(share_across(field(), event->position().x()));
    const auto place = place_for(ramp_.knots, x);
    chosen_ = static_cast<int>(place - ramp_.knots.begin());
    ramp_.knots.insert(
        place, {x, to_thousandths(std::clamp((field().bottom() - event->position().y()) / field().height(), 0.0, 1.0) *
                                  high_)});
    emit changed(ramp_, true);
    update();
}

void RampEdit::keyPressEvent(QKeyEvent* event) {
    if (is_delete(event) && chosen_ >= 0 && ramp_.knots.size() > 1) {
        ramp_.knots.erase(ramp_.knots.begin() + chosen_);
        chosen_ = -1;
        emit changed(ramp_, true);
        update();
        return;
    }
    QWidget::keyPressEvent(event);
}

bool RampEdit::event(QEvent* event) { return (chosen_ >= 0 && takes_delete(event)) || QWidget::event(event); }

}  // namespace bricol
