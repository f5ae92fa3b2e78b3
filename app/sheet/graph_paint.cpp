// SPDX-License-Identifier: GPL-3.0-or-later
// How the sheet of cards and wires is drawn.
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "app/sheet/graph_view.h"

#include "app/theme/theme.h"

namespace bricol {

namespace {

constexpr double corner = 7;

/// A line of right angles with its corners rounded_line.
QPainterPath rounded_line(const std::vector<QPointF>& points) {
    QPainterPath path(points.front());
    for (std::size_t i = 1; i + 1 < points.size(); ++i) {
        const QPointF in = points[i] - points[i - 1], out = points[i + 1] - points[i];
        const double a = std::hypot(in.x(), in.y()), b = std::hypot(out.x(), out.y()),
                     r = std::min({corner, a / 2, b / 2});
        if (r < 0.5) {
            path.lineTo(points[i]);
            continue;
        }
        path.lineTo(points[i] - in * (r / a));
        path.quadTo(points[i], points[i] + out * (r / b));
    }
    path.lineTo(points.back());
    return path;
}

}  // namespace

void GraphView::paint_wire(QPainter& painter, const Wire& wire, bool lit) const {
    const auto points = route(wire);
    if (points.size() < 2) return;
    QRectF reach;
    for (const QPointF& p : points) reach |= QRectF(p - QPointF(1, 1), QSizeF(2, 2));
    if (!reach.intersects(QRectF(to_sheet({0, 0}), QSizeF(width(), height()) / zoom_))) return;
    const bool far = zoom_ < far_out;
    QPen pen(theme::color(lit ? theme::Role::chosen : theme::Role::ink), far ? 1 : 1.4 / zoom_ * std::min(zoom_, 1.0));
    pen.setCosmetic(far);
    pen.setCapStyle(Qt::FlatCap);
    switch (wire.pen) {
        case Pen::curves:
            pen.setDashPattern({4, 3});
            break;
        case Pen::points:
            pen.setDashPattern({1, 3}), pen.setCapStyle(Qt::RoundCap);
            break;
        case Pen::number:
            pen.setWidthF(far ? 1 : 0.8);
            if (!lit) pen.setColor(theme::color(theme::Role::soft_ink));
            break;
        default:
            break;
    }
    painter.setBrush(Qt::NoBrush);
    if (far) {
        painter.setPen(pen);
        painter.drawPolyline(points.data(), static_cast<int>(points.size()));
        return;
    }
    const QPainterPath path = rounded_line(points);
    if (wire.pen == Pen::instances) {  // a double line: wide in ink, then its middle taken out
        pen.setWidthF(4);
        painter.strokePath(path, pen);
        painter.strokePath(path, QPen(theme::color(theme::Role::panel), 2));
    } else {
        painter.strokePath(path, pen);
    }
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme::color(theme::Role::ink));
    for (const QPointF& pin : wire.via) painter.drawEllipse(pin, 3.5, 3.5);
}

QRect GraphView::overview_rect() const { return {width() - 158, height() - 104, 148, 94}; }

void GraphView::paint_overview(QPainter& painter) const {
    const QRectF all =
        bounds(false).united(QRectF(to_sheet({0, 0}), QSizeF(width(), height()) / zoom_)).adjusted(-20, -20, 20, 20);
    const QRect box = overview_rect();
    const double scale = std::min(box.width() / all.width(), box.height() / all.height());
    painter.save();
    painter.setPen(QPen(theme::color(theme::Role::line), 1));
    QColor ground = theme::color(theme::Role::card);
    ground.setAlpha(235);
    painter.setBrush(ground);
    painter.drawRoundedRect(box, 3, 3);
    painter.setClipRect(box.adjusted(1, 1, -1, -1));
    painter.translate(box.center());
    painter.scale(scale, scale);
    painter.translate(-all.center());
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme::color(theme::Role::grid));
    for (const Area& a : areas_) painter.drawRect(a.rect);
    for (const Card& c : cards_) {
        painter.setBrush(theme::color(chosen_.contains(c.id) ? theme::Role::chosen : theme::Role::soft_ink));
        painter.drawRect(c.rect);
    }
    QPen pen(theme::color(theme::Role::act), 1.4);
    pen.setCosmetic(true);
    painter.setPen(pen);
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(QRectF(to_sheet({0, 0}), QSizeF(width(), height()) / zoom_));
    painter.restore();
}

void GraphView::paintEvent(QPaintEvent*) {
    using theme::Role;
    QPainter painter(this);
    painter.fillRect(rect(), theme::color(Role::panel));
    if (cards_.empty()) {
        painter.setPen(theme::color(Role::soft_ink));
        painter.drawText(rect(), Qt::AlignCenter, empty_text());
    }
    painter.setRenderHint(QPainter::Antialiasing, zoom_ >= far_out);
    painter.save();
    painter.scale(zoom_, zoom_);
    painter.translate(-origin_);
    const QRectF seen(to_sheet({0, 0}), QSizeF(width(), height()) / zoom_);
    paint_ground(painter, seen);
    for (const Wire& wire : wires_) {
        if (act_ == Act::wire && !pull_forward_ && wire.to == pull_to_ && wire.input == pull_input_) continue;
        paint_wire(
            painter, wire,
            !wire.fixed && chosen_.contains(wire.from) && chosen_.contains(wire.to) && chosen_.size() < cards_.size());
    }
    for (const Card& c : cards_)
        if (seen.intersects(c.rect.adjusted(-10, -20, 10, 10))) paint_card_with_pins(painter, c);
    paint_act(painter);
    painter.restore();
    painter.setRenderHint(QPainter::Antialiasing, true);
    paint_over(painter);
}

/// The raster and the frames.
void GraphView::paint_ground(QPainter& painter, const QRectF& seen) const {
    using theme::Role;
    if (zoom_ > 0.5) {  // a faint raster of points to judge alignment by
        painter.setPen(QPen(theme::color(Role::line), 1 / zoom_));
        constexpr double raster = 48;
        for (double y = std::floor(seen.top() / raster) * raster; y < seen.bottom(); y += raster)
            for (double x = std::floor(seen.left() / raster) * raster; x < seen.right(); x += raster)
                painter.drawPoint(QPointF(x, y));
    }
    for (const Area& a : areas_) {
        QColor ground = theme::color(Role::desk);
        ground.setAlpha(130);
        painter.setPen(QPen(theme::color(Role::line), 1 / zoom_));
        painter.setBrush(ground);
        painter.drawRoundedRect(a.rect, 4, 4);
        painter.setPen(theme::color(Role::soft_ink));
        painter.setFont(theme::text_font(9, 600));
        if (zoom_ > 0.2) painter.drawText(a.rect.adjusted(10, 5, -10, 0), Qt::AlignTop | Qt::AlignLeft, a.title);
        painter.drawLine(a.rect.bottomRight() + QPointF(-10, -3), a.rect.bottomRight() + QPointF(-3, -10));
    }
}

void GraphView::paint_card_with_pins(QPainter& painter, const Card& c) {
    using theme::Role;
    const bool lit = lit_.contains(c.id);
    if (lit) {
        painter.setPen(Qt::NoPen);
        painter.setBrush(theme::color(Role::act_soft));
        painter.drawRoundedRect(c.rect.adjusted(-7, -7, 7, 7), 8, 8);
    }
    if (zoom_ < far_out) {
        painter.setPen(QPen(theme::color(chosen_.contains(c.id) ? Role::chosen : Role::soft_ink), 1 / zoom_));
        painter.setBrush(theme::color(lit ? Role::act_soft : Role::card));
        painter.drawRect(c.rect);
        return;
    }
    paint_card(painter, c, chosen_.contains(c.id), zoom_);
    painter.setPen(QPen(theme::color(Role::ink), 1));
    for (std::size_t i = 0; i < c.inputs.size(); ++i) {
        painter.setBrush(theme::color(c.inputs[i].linked ? Role::ink : Role::desk));
        painter.drawPie(QRectF(c.input_at(i) - QPointF(4, 4), QSizeF(8, 8)), -90 * 16, 180 * 16);
    }
    if (!c.gives) return;
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme::color(chosen_.contains(c.id) ? Role::chosen : Role::ink));
    painter.drawRect(c.numbers_below ? QRectF(c.output_at() - QPointF(4, 0), QSizeF(9, 3))
                                     : QRectF(c.output_at() - QPointF(0, 4), QSizeF(3, 9)));
}

/// What the hand is doing: a wire being pulled, a cut, a band.
void GraphView::paint_act(QPainter& painter) const {
    using theme::Role;
    if (act_ == Act::wire) {
        const Card *from = card(pull_from_), *to = card(pull_to_);
        const QPen pen(theme::color(refusal_.empty() ? Role::act : Role::error), 1.6);
        painter.setBrush(Qt::NoBrush);
        if (pull_forward_ && from)
            painter.strokePath(rounded_line(route(from->output_at(), pointer_, {}, from->numbers_below)), pen);
        if (!pull_forward_ && to) {
            QPointF end = to->rect.center();
            for (std::size_t i = 0; i < to->inputs.size(); ++i)
                if (to->inputs[i].key == pull_input_) end = to->input_at(i);
            painter.strokePath(rounded_line(route(pointer_, end, {}, false)), pen);
        }
    }
    if (act_ == Act::stroke && stroke_.size() > 1) {
        painter.setPen(QPen(theme::color(Role::error), 1.6 / zoom_, Qt::DashLine));
        painter.drawPolyline(stroke_.data(), static_cast<int>(stroke_.size()));
    }
    if (act_ == Act::band) {
        QColor ground = theme::color(Role::chosen);
        ground.setAlpha(28);
        painter.setPen(QPen(theme::color(Role::chosen), 1 / zoom_));
        painter.setBrush(ground);
        painter.drawRect(QRectF(press_, band_to_).normalized());
    }
}

/// What lies over the sheet and does not move with it.
void GraphView::paint_over(QPainter& painter) {
    using theme::Role;
    if (act_ == Act::wire && !refusal_.empty()) {
        const QString text = QString::fromStdString(refusal_);
        painter.setFont(theme::text_font(9));
        const QRect box = painter.fontMetrics()
                              .boundingRect(text)
                              .adjusted(-8, -4, 8, 4)
                              .translated(to_view(pointer_) + QPoint(16, 26));
        painter.setPen(QPen(theme::color(Role::error), 1));
        painter.setBrush(theme::color(Role::card));
        painter.drawRoundedRect(box, 3, 3);
        painter.setPen(theme::color(Role::error));
        painter.drawText(box, Qt::AlignCenter, text);
    }
    if (overview_ && !cards_.empty() && width() > 420 && height() > 130) paint_overview(painter);
    if (const QString text = legend(); !text.isEmpty() && !cards_.empty()) {
        painter.setFont(theme::text_font(8));
        painter.setPen(theme::color(Role::soft_ink));
        painter.drawText(QRect(10, height() - 20, width() - 190, 16), Qt::AlignLeft | Qt::AlignVCenter, text);
    }
    if (hasFocus()) {
        painter.setPen(QPen(theme::color(Role::act), 1, Qt::DotLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(rect().adjusted(1, 1, -2, -2));
    }
}

}  // namespace bricol
