// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/kinds/ramp_edit.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/theme/theme.h"

namespace bricol {

RampEdit::RampEdit(QWidget* parent) : MarksOnBar(parent) {
    setFixedHeight(96);
    setToolTip("Drag knots; double-click adds one; Del takes the chosen one away");
}

QRectF RampEdit::field() const { return QRectF(rect()).adjusted(6, 6, -6, -6); }
QPointF RampEdit::at(const RampKnot& k) const {
    return {field().left() + std::clamp(k.at, 0.0, 1.0) * field().width(),
            field().bottom() - k.value / high_ * field().height()};
}

double RampEdit::value_at(const QPointF& p) const {
    return to_thousandths(std::clamp((field().bottom() - p.y()) / field().height(), 0.0, 1.0) * high_);
}

void RampEdit::show_ramp(const DrawnRamp& ramp) {
    if (dragging()) return;
    ramp_ = ramp;
    high_ = 1;
    for (const RampKnot& k : ramp_.knots) high_ = std::max(high_, k.value);
    marks_came();
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
        painter.setPen(QPen(theme::color(static_cast<int>(k) == chosen() ? Role::chosen : Role::ink), 1.4));
        painter.setBrush(theme::color(static_cast<int>(k) == chosen() ? Role::chosen : Role::card));
        painter.drawEllipse(at(ramp_.knots[k]), 4, 4);
    }
}

void RampEdit::drag_mark(int mark, const QPointF& to) {
    auto& knots = ramp_.knots;
    const auto k = static_cast<std::size_t>(mark);
    knots[k].at = between_neighbours(knots, k, share_at(to));
    knots[k].value = value_at(to);
}

int RampEdit::add_mark(const QPointF& at) {
    return put_in_order(ramp_.knots, {to_thousandths(share_at(at)), value_at(at)});
}

}  // namespace bricol
