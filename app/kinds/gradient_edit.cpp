// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/kinds/gradient_edit.h"

#include <QColorDialog>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/kinds/screen_colour.h"
#include "app/theme/theme.h"

namespace bricol {

GradientEdit::GradientEdit(QWidget* parent) : MarksOnBar(parent) {
    setFixedHeight(46);
    setToolTip("Drag stops; double-click a stop for its colour, the bar for a new one; Del takes the chosen one away");
}

QRectF GradientEdit::field() const { return QRectF(rect()).adjusted(7, 4, -7, -18); }
QPointF GradientEdit::at(const GradientStop& stop) const {
    return {field().left() + std::clamp(stop.at, 0.0, 1.0) * field().width(), field().bottom() + 8};
}

void GradientEdit::show_gradient(const Gradient& gradient) {
    if (dragging()) return;
    gradient_ = gradient;
    marks_came();
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
        painter.setPen(QPen(theme::color(static_cast<int>(k) == chosen() ? Role::chosen : Role::ink),
                            static_cast<int>(k) == chosen() ? 2 : 1.2));
        painter.setBrush(screen_colour(gradient_.stops[k].colour));
        const QPolygonF house{{p.x(), p.y() - 7},
                              {p.x() + 5, p.y() - 2},
                              {p.x() + 5, p.y() + 6},
                              {p.x() - 5, p.y() + 6},
                              {p.x() - 5, p.y() - 2}};
        painter.drawPolygon(house);
    }
}

void GradientEdit::drag_mark(int mark, const QPointF& to) {
    auto& stops = gradient_.stops;
    const auto k = static_cast<std::size_t>(mark);
    stops[k].at = between_neighbours(stops, k, share_at(to));
}

int GradientEdit::add_mark(const QPointF& at) {
    const double x = to_thousandths(share_at(at));
    const DVec3 colour = gradient_.colour(x);
    return put_in_order(gradient_.stops,
                        {x, {to_thousandths(colour.x), to_thousandths(colour.y), to_thousandths(colour.z)}});
}

void GradientEdit::open_mark(int mark) {
    const QColor picked = QColorDialog::getColor(screen_colour(gradient_.stops[static_cast<std::size_t>(mark)].colour),
                                                 this, "Colour of this stop");
    if (picked.isValid()) set_colour(linear_colour(picked));
}

void GradientEdit::set_colour(const DVec3& colour) {
    if (chosen() < 0) return;
    gradient_.stops[static_cast<std::size_t>(chosen())].colour = colour;
    tell(true);
    update();
}

}  // namespace bricol
