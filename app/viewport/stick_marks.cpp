// SPDX-License-Identifier: GPL-3.0-or-later
// A stick figure as it is drawn over the picture, and the rings that size its knots.
#include <QPixmapCache>
#include <array>
#include <cmath>

#include "app/theme/theme.h"
#include "app/viewport/knot_numbers.h"
#include "app/viewport/stick_tool.h"

namespace bricol {

namespace {

constexpr double least_ring = 16;  // pixels, so that grips of thin knots can be caught
constexpr double knot_middle = 8;  // of its mark, pixels from either side

/// A knot's mark, drawn once for all knots that look alike: dotted rims take long to draw.
QPixmap knot_mark(const QColor& ink, const QColor& fill, int radius, bool joint, double ratio) {
    const QString key =
        QString("knot %1 %2 %3 %4 %5").arg(ink.rgba()).arg(fill.rgba()).arg(radius).arg(joint).arg(ratio);
    QPixmap mark;
    if (QPixmapCache::find(key, &mark)) return mark;
    mark = QPixmap(QSizeF(2 * knot_middle * ratio, 2 * knot_middle * ratio).toSize());
    mark.setDevicePixelRatio(ratio);
    mark.fill(Qt::transparent);
    QPainter painter(&mark);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(ink, joint ? 1.6 : 1, joint ? Qt::SolidLine : Qt::DotLine));
    painter.setBrush(fill);
    painter.drawEllipse(QPointF(knot_middle, knot_middle), radius, radius);
    QPixmapCache::insert(key, mark);
    return mark;
}

}  // namespace

StickTool::Grips StickTool::grips_of(int k, const Projector& projector, const Camera& camera) const {
    Grips out;
    out.middle = projector.to_screen(knots_[k].at);
    out.pixels_per_metre = glm::distance(projector.to_screen(knots_[k].at + camera.right()), out.middle);
    const DVec2 girth = girth_of(k) * out.pixels_per_metre;
    const double across = std::max(girth.x, least_ring), over = std::max(girth.y, least_ring),
                 both = std::max({across, over}) + 6;
    out.across = out.middle + glm::dvec2(across, 0);
    out.over = out.middle + glm::dvec2(0, -over);
    out.both = out.middle + glm::dvec2(0.7071, 0.7071) * both;
    out.roll = out.middle + glm::dvec2(-std::cos(knots_[k].roll), -std::sin(knots_[k].roll)) * (both + 10);
    return out;
}

glm::dvec2 StickTool::size_grip(int knot, const Projector& projector, const Camera& camera) const {
    return grips_of(knot, projector, camera).both;
}

void StickTool::pull_grip(const glm::dvec2& at, const Projector& projector, const Camera& camera) {
    const Grips grips = grips_of(held_.knot, projector, camera);
    const glm::dvec2 from = press_at_ - grips.middle, to = at - grips.middle;
    const double out = (glm::length(to) - glm::length(from)) / grips.pixels_per_metre;
    const double angle = std::atan2(from.x * to.y - from.y * to.x, glm::dot(from, to));
    // A formula stays one, with what was pulled added to it.
    const auto number = [](const Json& written, double before, double now) {
        now = std::max(0.0005, std::round(now * 2000) / 2000);
        return written.is_string() ? moved_number(written, now - before) : Json(now);
    };
    const auto put = [&](Json& knot, const DVec2& before, const DVec2& now) {
        const Json written = knot.contains("girth") ? knot["girth"] : Json();
        const bool two = written.is_array() && written.size() == 2;
        if (!two && now.x == now.y)
            knot["girth"] = number(written, before.x, now.x);
        else
            knot["girth"] = Json::array({number(two ? written[0] : written, before.x, now.x),
                                         number(two ? written[1] : written, before.y, now.y)});
    };
    edit(held_.grip == Grip::roll ? "Roll a knot" : "Size a knot", QString("sticks %1").arg(drag_number_),
         [&](Json& list) {
             for (const int k : session_.knots()) {
                 if (k >= static_cast<int>(knots_before_.size())) continue;
                 const DrawnStick& knot = knots_before_[k];
                 const DVec2 girth = knot.girth.x < 0 ? DVec2(girth_) : knot.girth;
                 // All chosen ones by the same share of their own girth as the one in hand.
                 const DrawnStick& lead = knots_before_[held_.knot];
                 const DVec2 own = lead.girth.x < 0 ? DVec2(girth_) : lead.girth;
                 const auto share = [&](double g) { return std::max(0.02, (g + out) / g); };
                 switch (held_.grip) {
                     case Grip::both:
                         put(list[k], girth, girth * share(std::max(own.x, own.y)));
                         break;
                     case Grip::across:
                         put(list[k], girth, {girth.x * share(own.x), girth.y});
                         break;
                     case Grip::over:
                         put(list[k], girth, {girth.x, girth.y * share(own.y)});
                         break;
                     case Grip::roll: {
                         const double roll = std::round(glm::degrees(knot.roll + angle) / 5) * 5;
                         list[k].erase("roll");
                         if (roll != 0) list[k]["roll"] = roll;
                         break;
                     }
                     case Grip::knot:
                     case Grip::none:
                         break;
                 }
             }
         });
}

void StickTool::paint_bones(QPainter& painter, const Projector& projector) const {
    const QColor ink = theme::color(theme::Role::chosen);
    const auto mirrored = [&](DVec3 p) {
        p[mirror_] = -p[mirror_];
        return point(projector.to_screen(p));
    };
    QColor fill = ink;
    fill.setAlpha(46);
    for (const DrawnStick& knot : knots_) {  // narrower towards the end they lead to
        const int from = knot.from < 0 ? -1 : knot_numbered(knot.from);
        if (from < 0) continue;
        const QPointF a = point(projector.to_screen(knots_[from].at)), b = point(projector.to_screen(knot.at));
        const QPointF way = b - a;
        const double length = std::hypot(way.x(), way.y());
        const QPointF side = length > 0 ? QPointF(-way.y(), way.x()) / length * 4 : QPointF();
        const std::array<QPointF, 4> bone{a, a + way * 0.15 + side, b, a + way * 0.15 - side};
        painter.setPen(QPen(ink, 1));
        painter.setBrush(fill);
        painter.drawConvexPolygon(bone.data(), static_cast<int>(bone.size()));
        if (mirror_ < 0) continue;
        painter.setPen(QPen(ink, 1, Qt::DotLine));
        painter.drawLine(mirrored(knots_[from].at), mirrored(knot.at));
    }
}

void StickTool::paint(QPainter& painter, const Camera& camera, const QSize& size) const {
    if (!active()) return;
    using theme::Role;
    const Projector projector(camera, size.width(), size.height());
    const QColor ink = theme::color(Role::chosen), act = theme::color(Role::act);
    paint_bones(painter, projector);
    for (int k = 0; k < static_cast<int>(knots_.size()); ++k) {
        const QPointF at = point(projector.to_screen(knots_[k].at));
        const bool chosen = session_.knots().contains(k), hot = hot_.knot == k && hot_.grip == Grip::knot;
        if (chosen) {
            const Grips grips = grips_of(k, projector, camera);
            const DVec2 girth = girth_of(k) * grips.pixels_per_metre;
            painter.setBrush(Qt::NoBrush);
            painter.setPen(QPen(act, 1.6));
            painter.drawEllipse(at, girth.x, girth.y);
            painter.setPen(QPen(act, 1.2, Qt::DashLine));
            painter.drawLine(at, point(grips.roll));
            painter.setBrush(theme::color(Role::card));
            painter.setPen(QPen(act, 1.4));
            painter.drawEllipse(point(grips.across), 4, 4);
            painter.drawEllipse(point(grips.over), 4, 4);
            painter.drawEllipse(point(grips.roll), 3, 3);
            painter.drawRect(QRectF(point(grips.both) - QPointF(4, 4), QSizeF(8, 8)));
        }
        const QColor fill = chosen ? ink : hot ? act : theme::color(Role::card);
        painter.drawPixmap(at - QPointF(knot_middle, knot_middle),
                           knot_mark(ink, fill, hot ? 6 : 5, knots_[k].joint, painter.device()->devicePixelRatioF()));
        painter.setPen(QPen(ink, knots_[k].joint ? 1.6 : 1, knots_[k].joint ? Qt::SolidLine : Qt::DotLine));
        painter.setBrush(fill);
        if (knots_[k].root) painter.drawRect(QRectF(at - QPointF(8, 8), QSizeF(16, 16)));
        if ((chosen || hot) && !knots_[k].name.empty()) {
            painter.setFont(theme::text_font(9));
            painter.setPen(theme::color(Role::ink));
            painter.drawText(at + QPointF(10, -8), QString::fromStdString(knots_[k].name));
        }
    }
    if (boxing_ && moved_) {
        painter.setPen(QPen(ink, 1, Qt::DashLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(QRectF(point(press_at_), point(now_at_)).normalized());
    }
}

}  // namespace bricol
