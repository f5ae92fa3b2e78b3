// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/view_marks.h"

#include <algorithm>
#include <cmath>

#include "app/theme/theme.h"
#include "app/viewport/screen.h"
#include "core/formula/units.h"
#include "core/kernels/flatten.h"

namespace bricol {

namespace {

QPointF tripod_centre(const ViewFrame& view) { return {view.size.width() - 62.0, view.size.height() - 58.0}; }

}  // namespace

void paint_curves(QPainter& painter, const ViewFrame& view, const std::vector<ShapePtr>& shapes) {
    const Projector projector(view.camera, view.size.width(), view.size.height());
    painter.setPen(QPen(theme::color(theme::Role::ink), 1.4));
    painter.setBrush(Qt::NoBrush);
    for (const ShapePtr& shape : shapes) {
        for (const Curve& curve : shape->curves) {
            const Polyline line = flatten(curve);
            QPolygonF drawn;
            for (const Vec3& p : line.points) drawn << point(projector.to_screen(DVec3(p)));
            if (line.closed && !drawn.isEmpty()) drawn << drawn.first();
            painter.drawPolyline(drawn);
        }
        if (shape->mesh.face_count() == 0 && shape->mesh.edge_count() == 0 &&
            !shape->mesh.empty()) {  // points alone, as scattering gives them
            QPolygonF dots;
            const std::size_t stride = std::max<std::size_t>(1, shape->mesh.vertex_count() / 20000);
            for (std::size_t i = 0; i < shape->mesh.vertex_count(); i += stride)
                dots << point(projector.to_screen(DVec3((*shape->mesh.positions)[i])));
            painter.setPen(
                QPen(theme::color(theme::Role::ink), dots.size() > 2000 ? 2 : 4, Qt::SolidLine, Qt::RoundCap));
            painter.drawPoints(dots);
            painter.setPen(QPen(theme::color(theme::Role::ink), 1.4));
        }
        if (shape->mesh.face_count() > 0 || shape->mesh.edge_count() > 20000) continue;
        for (const auto& [a, b] : shape->mesh.topology->edges)
            painter.drawLine(point(projector.to_screen(DVec3((*shape->mesh.positions)[a]))),
                             point(projector.to_screen(DVec3((*shape->mesh.positions)[b]))));
    }
}

void paint_grid_labels(QPainter& painter, const ViewFrame& view, double step) {
    // In a flat view the strong lines carry their place, along the lower and the right edge.
    if (!view.camera.flat()) return;
    const double pixel = view.camera.metres_per_pixel(std::max(1, view.size.height()));
    if (step / pixel > 400) step /= 5;
    painter.setFont(theme::number_font(8));
    painter.setPen(theme::color(theme::Role::soft_ink));
    const auto label = [&](double place) {
        return QString::fromStdString(
            format_value(std::abs(place) < step * 0.01 ? 0 : place, Quantity::length, view.unit));
    };
    const double across = glm::dot(view.camera.target, view.camera.right()),
                 up = glm::dot(view.camera.target, view.camera.up());
    const double half_width = view.size.width() / 2.0 * pixel, half_height = view.size.height() / 2.0 * pixel;
    for (double place = std::ceil((across - half_width) / step) * step; place < across + half_width; place += step) {
        const double x = (place - across) / pixel + view.size.width() / 2.0;
        if (x > 150 && x < view.size.width() - 110)
            painter.drawText(QRectF(x - 40, view.size.height() - 17, 80, 14), Qt::AlignCenter, label(place));
    }
    for (double place = std::ceil((up - half_height) / step) * step; place < up + half_height; place += step) {
        const double y = view.size.height() / 2.0 - (place - up) / pixel;
        if (y > 60 && y < view.size.height() - 60)
            painter.drawText(QRectF(view.size.width() - 68, y - 15, 62, 14), Qt::AlignRight | Qt::AlignVCenter,
                             label(place));
    }
}

void paint_scale_bar(QPainter& painter, const ViewFrame& view) {
    const double pixel = view.camera.metres_per_pixel(std::max(1, view.size.height()));
    double length = std::pow(10, std::floor(std::log10(pixel * 150)));
    for (const double factor : {5.0, 2.0})
        if (length * factor / pixel <= 150) {
            length *= factor;
            break;
        }
    const double w = length / pixel;
    const QPointF a(20, view.size.height() - 24), b(20 + w, view.size.height() - 24);
    painter.setPen(QPen(theme::color(theme::Role::ink), 1.3));
    painter.drawLine(a, b);
    for (const QPointF& p : {a, (a + b) / 2, b}) painter.drawLine(p - QPointF(0, 4), p + QPointF(0, 4));
    painter.setFont(theme::number_font(8.5));
    painter.drawText(QRectF(a.x(), a.y() - 22, w, 16), Qt::AlignCenter,
                     QString::fromStdString(format_value(length, Quantity::length, view.unit)));
}

void paint_tripod(QPainter& painter, const ViewFrame& view) {
    using theme::Role;
    const QPointF centre = tripod_centre(view);
    struct Arm {
        DVec3 axis;
        Role role;
        const char* name;
    };
    Arm arms[] = {{{1, 0, 0}, Role::axis_x, "x"}, {{0, 1, 0}, Role::axis_y, "y"}, {{0, 0, 1}, Role::axis_z, "z"}};
    std::sort(std::begin(arms), std::end(arms), [&](const Arm& a, const Arm& b) {
        return glm::dot(a.axis, view.camera.direction()) < glm::dot(b.axis, view.camera.direction());
    });
    painter.setFont(theme::text_font(8.5, 600));
    for (const Arm& arm : arms) {
        const QPointF end =
            centre + QPointF(glm::dot(arm.axis, view.camera.right()), -glm::dot(arm.axis, view.camera.up())) * 30;
        painter.setPen(QPen(theme::color(arm.role), 2, Qt::SolidLine, Qt::RoundCap));
        painter.drawLine(centre, end);
        const QPointF away = end - centre;
        const double length = std::hypot(away.x(), away.y());
        if (length > 6)
            painter.drawText(QRectF(end + away / length * 9 - QPointF(8, 8), QSizeF(16, 16)), Qt::AlignCenter,
                             arm.name);
    }
}

std::optional<View> view_at_tripod(const ViewFrame& view, const QPointF& at) {
    const QPointF centre = tripod_centre(view), off = at - centre;
    if (std::hypot(off.x(), off.y()) > 46) return std::nullopt;
    const std::pair<DVec3, View> arms[] = {{{1, 0, 0}, View::side}, {{0, 1, 0}, View::front}, {{0, 0, 1}, View::top}};
    for (const auto& [axis, face] : arms) {
        const QPointF end =
            centre + QPointF(glm::dot(axis, view.camera.right()), -glm::dot(axis, view.camera.up())) * 34;
        if (std::hypot(at.x() - end.x(), at.y() - end.y()) < 13 &&
            std::hypot(end.x() - centre.x(), end.y() - centre.y()) > 12)
            return face;
    }
    return View::free;
}

void paint_hint(QPainter& painter, const ViewFrame& view, const QString& text) {
    painter.setFont(theme::text_font(9));
    const QRectF box(0, 0, painter.fontMetrics().horizontalAdvance(text) + 20, 22);
    const QRectF placed = box.translated((view.size.width() - box.width()) / 2, view.size.height() - 34);
    QColor ground = theme::color(theme::Role::card);
    ground.setAlphaF(0.86f);
    painter.setPen(Qt::NoPen);
    painter.setBrush(ground);
    painter.drawRoundedRect(placed, 3, 3);
    painter.setPen(theme::color(theme::Role::soft_ink));
    painter.drawText(placed, Qt::AlignCenter, text);
}

void paint_tag(QPainter& painter, const QPointF& at, const QString& text) {
    painter.setFont(theme::text_font(9));
    const QRectF box(at + QPointF(14, -30), QSizeF(painter.fontMetrics().horizontalAdvance(text) + 14, 21));
    painter.setPen(QPen(theme::color(theme::Role::line), 1));
    painter.setBrush(theme::color(theme::Role::card));
    painter.drawRoundedRect(box, 3, 3);
    painter.setPen(theme::color(theme::Role::ink));
    painter.drawText(box, Qt::AlignCenter, text);
}

}  // namespace bricol
