// SPDX-License-Identifier: GPL-3.0-or-later
// Curves of the chosen step as they are drawn over the picture: knots, handles, how they bend, width and roll.
#include <cmath>

#include "app/theme/theme.h"
#include "app/viewport/knot_numbers.h"
#include "app/viewport/knot_tool.h"
#include "core/kernels/path.h"

namespace bricol {

namespace {

constexpr double plain_ring = 34;  // pixels that a width of 1 is drawn as

}  // namespace

glm::dvec2 KnotTool::width_grip(const Knot& knot, const Projector& projector) const {
    const double ring = plain_ring * std::max(0.15, static_cast<double>(std::abs(knot.radius))),
                 angle = static_cast<double>(knot.roll);
    return projector.to_screen(DVec3(knot.at)) +
           glm::dvec2(std::sin(angle), -std::cos(angle)) * ring;  // upright for no roll
}

void KnotTool::pull_width(const glm::dvec2& at, const Projector& projector) {
    const Curve& curve = curves_before_[held_.curve];
    const Knot& knot = curve.knots[held_.knot];
    const glm::dvec2 middle = projector.to_screen(DVec3(knot.at)), from = press_at_ - middle, to = at - middle;
    // One of the two at a time: farther out or in is the width, round about the roll.
    const double out = glm::length(to) - glm::length(from),
                 angle = std::atan2(from.x * to.y - from.y * to.x, glm::dot(from, to));
    const bool turning = std::abs(angle) * glm::length(from) > std::abs(out);
    const double width = std::max(0.0, std::round((static_cast<double>(knot.radius) + out / plain_ring) * 20) / 20);
    const double roll = std::round(glm::degrees(static_cast<double>(knot.roll) + angle) / 5) * 5;
    edit(turning ? "Roll a knot" : "Size a knot", QString("width %1").arg(drag_number_), [&](Json& curves) {
        curves = before_;
        for (const int k : session_.knots()) {
            if (k >= static_cast<int>(curve.knots.size())) continue;
            Json& json = curves[curve.source_curve]["knots"][curve.knots[k].source];
            if (turning) {
                if (roll == 0)
                    json.erase("roll");
                else
                    json["roll"] = roll;
            } else {
                if (width == 1)
                    json.erase("radius");
                else
                    json["radius"] = width;
            }
        }
    });
}

void KnotTool::paint_comb(QPainter& painter, const Projector& projector) const {
    for (const Curve& curve : curves_) {
        const Path path = make_path(curve, {}, 24);
        const std::size_t n = path.size();
        // The strongest bend is drawn as 60 pixels; teeth stand on the outside.
        std::vector<DVec3> teeth(n, DVec3(0));
        double strongest = 0;
        for (std::size_t i = 0; i < n; ++i) {
            DVec3 inward(0);
            const double radius = path.sharp[i] ? 0 : path.bend_at(i, &inward);
            if (radius <= 0 || !std::isfinite(radius)) continue;
            teeth[i] = -inward / radius;
            strongest = std::max(strongest, 1 / radius);
        }
        if (strongest <= 0) continue;
        painter.setPen(QPen(theme::color(theme::Role::act), 1));
        QPolygonF ends;
        for (std::size_t i = 0; i < n; ++i) {
            const glm::dvec2 from = projector.to_screen(path.points[i].at);
            const glm::dvec2 unit = projector.to_screen(path.points[i].at + teeth[i] / strongest * 1e-3) - from;
            const double size = glm::length(unit), share = glm::length(teeth[i]) / strongest;
            const glm::dvec2 end = size > 1e-9 ? from + unit / size * (60 * share) : from;
            painter.drawLine(point(from), point(end));
            ends << point(end);
        }
        painter.setPen(QPen(theme::color(theme::Role::act), 1.4));
        painter.drawPolyline(ends);
    }
}

/// A ring as wide as the knot's width, with a spoke that stands at its roll.
void KnotTool::paint_width(QPainter& painter, const Projector& projector, const Knot& knot) const {
    const QPointF at = point(projector.to_screen(DVec3(knot.at))), grip = point(width_grip(knot, projector));
    const double ring = std::hypot(grip.x() - at.x(), grip.y() - at.y());
    painter.setPen(QPen(theme::color(theme::Role::act), 1.2, Qt::DashLine));
    painter.setBrush(Qt::NoBrush);
    painter.drawEllipse(at, ring, ring);
    painter.setPen(QPen(theme::color(theme::Role::act), 1.6));
    painter.drawLine(at, grip);
    painter.setBrush(theme::color(theme::Role::card));
    painter.drawRect(QRectF(grip - QPointF(4, 4), QSizeF(8, 8)));
    painter.setFont(theme::number_font(8.5));
    painter.setPen(theme::color(theme::Role::ink));
    painter.drawText(
        grip + QPointF(9, 4),
        QString::fromStdString(
            "× " + format_number(static_cast<double>(knot.radius), 3) +
            (knot.roll != 0 ? "  " + format_number(glm::degrees(static_cast<double>(knot.roll)), 4) + "°" : "")));
}

void KnotTool::paint(QPainter& painter, const Camera& camera, const QSize& size) const {
    if (!active()) return;
    using theme::Role;
    const Projector projector(camera, size.width(), size.height());
    const QColor ink = theme::color(Role::chosen);
    if (comb_) paint_comb(painter, projector);
    for (int c = 0; c < static_cast<int>(curves_.size()); ++c) {
        const Curve& curve = curves_[c];
        const Polyline line = flatten(curve);
        QPolygonF drawn;
        for (const Vec3& p : line.points) drawn << point(projector.to_screen(DVec3(p)));
        if (line.closed && !drawn.isEmpty()) drawn << drawn.first();
        painter.setPen(QPen(ink, 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawPolyline(drawn);
        const std::vector<Knot> knots = with_handles(curve);
        for (int k = 0; k < static_cast<int>(knots.size()); ++k) {
            const Knot& knot = knots[k];
            const QPointF at = point(projector.to_screen(DVec3(knot.at)));
            const bool chosen = session_.curve() == c && session_.knots().contains(k);
            if (chosen)
                for (const Vec3& handle : {knot.in, knot.out}) {
                    if (glm::length(handle) < 1e-7f) continue;
                    const QPointF end = point(projector.to_screen(DVec3(knot.at + handle)));
                    painter.setPen(QPen(theme::color(Role::act), 1.2));
                    painter.drawLine(at, end);
                    painter.setBrush(theme::color(Role::card));
                    painter.drawEllipse(end, 3.5, 3.5);
                }
            if (chosen && widths_) paint_width(painter, projector, knot);
            painter.setPen(QPen(ink, 1.5));
            painter.setBrush(chosen ? ink : theme::color(Role::card));
            if (knot.kind == KnotKind::corner)
                painter.drawPolygon(
                    QPolygonF({at + QPointF(0, -5), at + QPointF(5, 0), at + QPointF(0, 5), at + QPointF(-5, 0)}));
            else if (knot.kind == KnotKind::smooth)
                painter.drawEllipse(at, 4.2, 4.2);
            else
                painter.drawRect(QRectF(at - QPointF(3.8, 3.8), QSizeF(7.6, 7.6)));
        }
    }
    if (drawing_ && hover_) {
        const QPointF at = point(projector.to_screen(*hover_));
        const int c = session_.curve();
        painter.setPen(QPen(ink, 1, Qt::DashLine));
        if (c < static_cast<int>(curves_.size()) && !curves_[c].closed && !curves_[c].knots.empty())
            painter.drawLine(point(projector.to_screen(
                                 DVec3((from_start() ? curves_[c].knots.front() : curves_[c].knots.back()).at))),
                             at);
        painter.setPen(QPen(ink, 1.5));
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(at, 5, 5);
        const DVec3 n = like_curve().plane.numbers(*hover_);
        const std::string unit = session_.recipe().unit;
        painter.setFont(theme::number_font(8.5));
        painter.setPen(theme::color(Role::ink));
        painter.drawText(at + QPointF(10, -8), QString::fromStdString(format_value(n.x, Quantity::length, unit) + ", " +
                                                                      format_value(n.y, Quantity::length, unit)));
    }
    if (snapped_on_ && (pressed_ || drawing_)) {  // on a place of another part
        const QPointF at = point(projector.to_screen(*snapped_on_));
        painter.setPen(QPen(theme::color(Role::act), 1.6));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(QRectF(at - QPointF(7, 7), QSizeF(14, 14)));
    }
    if (boxing_ && moved_) {
        painter.setPen(QPen(ink, 1, Qt::DashLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(QRectF(point(press_at_), point(now_at_)).normalized());
    }
}

}  // namespace bricol
