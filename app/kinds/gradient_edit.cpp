// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/kinds/gradient_edit.h"

#include <QColorDialog>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/kinds/marks_on_bar.h"
#include "app/kinds/screen_colour.h"
#include "app/theme/theme.h"

namespace bricol {

GradientEdit::GradientEdit(QWidget* parent) : QWidget(parent) {
    setFixedHeight(46);
    setFocusPolicy(Qt::StrongFocus);
    setToolTip("Drag stops; double-click a stop for its colour, the bar for a new one; Del takes the chosen one away");
}

QRectF GradientEdit::field() const { return QRectF(rect()).adjusted(7, 4, -7, -18); }
QPointF GradientEdit::at(const GradientStop& stop) const {
    return {field().left() + std::clamp(stop.at, 0.0, 1.0) * field().width(), field().bottom() + 8};
}

void GradientEdit::show_gradient(const Gradient& gradient) {
    if (dragging_) return;
    gradient_ = gradient;
    if (chosen_ >= static_cast<int>(gradient_.stops.size())) chosen_ = -1;
    update();
}

int GradientEdit::stop_at(const QPointF& p) const {
    for (std::size_t k = 0; k < gradient_.stops.size(); ++k)
        if (const QPointF d = at(gradient_.stops[k]) - p; std::abs(d.x()) < 7 && std::abs(d.y()) < 10)
            return static_cast<int>(k);
    return -1;
}

void GradientEdit::paintEvent(QPaintEvent*) {
    using theme::Role;
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    QLinearGradient fill(field().topLeft(), field().topRight());
    for (int i = 0; i <= 32; ++i) fill.setColorAt(i / 32.0, screen_colour(gradient_.colour(i / 32.0)));
    painter.setPen(QPen(theme::color(hasFocus() ? Role::act : Role::line), 1));
    painter.setBrush(fill);
    painter.drawRoundedRect(field(), 3, 3);
    for (std::size_t k = 0; k < gradient_.stops.size(); ++k) {
        const QPointF p = at(gradient_.stops[k]);
        painter.setPen(QPen(theme::color(static_cast<int>(k) == chosen_ ? Role::chosen : Role::ink),
                            static_cast<int>(k) == chosen_ ? 2 : 1.2));
        painter.setBrush(screen_colour(gradient_.stops[k].colour));
        const QPolygonF house{{p.x(), p.y() - 7},
                              {p.x() + 5, p.y() - 2},
                              {p.x() + 5, p.y() + 6},
                              {p.x() - 5, p.y() + 6},
                              {p.x() - 5, p.y() - 2}};
        painter.drawPolygon(house);
    }
}

void GradientEdit::mousePressEvent(QMouseEvent* event) {
    chosen_ = stop_at(event->position());
    dragging_ = chosen_ >= 0;
    update();
}

void GradientEdit::mouseMoveEvent(QMouseEvent* event) {
    if (!dragging_ || chosen_ < 0) return;
    auto& stops = gradient_.stops;
    const auto k = static_cast<std::size_t>(chosen_);
    stops[k].at = between_neighbours(stops, k, (event->position().x() - field().left()) / field().width());
    emit changed(gradient_, false);
    update();
}

void GradientEdit::mouseReleaseEvent(QMouseEvent*) {
    if (!dragging_) return;
    dragging_ = false;
    emit changed(gradient_, true);
}

void GradientEdit::set_colour(const DVec3& colour) {
    if (chosen_ < 0) return;
    gradient_.stops[static_cast<std::size_t>(chosen_)].colour = colour;
    emit changed(gradient_, true);
    update();
}

void GradientEdit::mouseDoubleClickEvent(QMouseEvent* event) {
    dragging_ = false;
    if (const int k = stop_at(event->position()); k >= 0) {
        chosen_ = k;
        const QColor picked = QColorDialog::getColor(screen_colour(gradient_.stops[static_cast<std::size_t>(k)].colour),
                                                     this, "Colour of this stop");
        if (picked.isValid()) set_colour(linear_colour(picked));
        return;
    }
    const double x = to_thousandths(share_across(field(), event->position().x()));
    const DVec3 colour = gradient_.colour(x);
    const auto place = place_for(gradient_.stops, x);
    chosen_ = static_cast<int>(place - gradient_.stops.begin());
    gradient_.stops.insert(place, {x, {to_thousandths(colour.x), to_thousandths(colour.y), to_thousandths(colour.z)}});
    emit changed(gradient_, true);
    update();
}

void GradientEdit::keyPressEvent(QKeyEvent* event) {
    if (is_delete(event) && chosen_ >= 0 && gradient_.stops.size() > 1) {
        gradient_.stops.erase(gradient_.stops.begin() + chosen_);
        chosen_ = -1;
        emit changed(gradient_, true);
        update();
        return;
    }
    QWidget::keyPressEvent(event);
}

bool GradientEdit::event(QEvent* event) { return (chosen_ >= 0 && takes_delete(event)) || QWidget::event(event); }

}  // namespace bricol
