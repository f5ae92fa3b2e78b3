// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/dials/slider.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/theme/theme.h"

namespace bricol {

namespace {
constexpr int margin = 5;
}

Slider::Slider(QWidget* parent) : QWidget(parent) {
    setFixedHeight(16);
    setMinimumWidth(60);
    setFocusPolicy(Qt::StrongFocus);
}

void Slider::set_range(double low, double high, double step) {
    low_ = low;
    high_ = std::max(high, low + 1e-12);
    step_ = step;
    update();
}

void Slider::show_value(double value) {
    value_ = value;
    update();
}

int Slider::handle_x() const {
    return margin + static_cast<int>(
                        std::lround(std::clamp((value_ - low_) / (high_ - low_), 0.0, 1.0) * (width() - 2 * margin)));
}

void Slider::paintEvent(QPaintEvent*) {
    using theme::Role;
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const int y = height() / 2, x = handle_x();
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme::color(Role::line));
    painter.drawRoundedRect(margin, y - 2, width() - 2 * margin, 4, 2, 2);
    painter.setBrush(theme::color(isEnabled() ? Role::act : Role::soft_ink));
    painter.drawRoundedRect(margin, y - 2, x - margin, 4, 2, 2);
    painter.setPen(QPen(theme::color(Role::act), hasFocus() ? 2 : 1.3));
    painter.setBrush(theme::color(Role::card));
    painter.drawRoundedRect(QRectF(x - 4, y - 6.5, 8, 13), 2, 2);
}

void Slider::give_at(double x, bool moving) {
    const double t = std::clamp((x - margin) / std::max(1, width() - 2 * margin), 0.0, 1.0);
    value_ = std::clamp(std::round((low_ + t * (high_ - low_)) / step_) * step_, low_, high_);
    update();
    emit moved(value_, moving);
}

void Slider::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    setFocus(Qt::MouseFocusReason);
    pressed_ = true;
    give_at(event->position().x(), true);
}

void Slider::mouseMoveEvent(QMouseEvent* event) {
    if (pressed_) give_at(event->position().x(), true);
}

void Slider::mouseReleaseEvent(QMouseEvent* event) {
    if (!pressed_ || event->button() != Qt::LeftButton) return;
    pressed_ = false;
    emit moved(value_, false);
}

void Slider::keyPressEvent(QKeyEvent* event) {
    double by = 0;
    const double speed = event->modifiers() & Qt::ShiftModifier ? 10 : 1;
    if (event->key() == Qt::Key_Right || event->key() == Qt::Key_Up) by = step_ * speed;
    if (event->key() == Qt::Key_Left || event->key() == Qt::Key_Down) by = -step_ * speed;
    if (by == 0) {
        QWidget::keyPressEvent(event);
        return;
    }
    value_ = std::clamp(value_ + by, low_, high_);
    update();
    emit moved(value_, false);
}

}  // namespace bricol
