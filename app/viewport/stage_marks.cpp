// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/stage_marks.h"

#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "app/theme/theme.h"
#include "app/viewport/screen.h"
#include "core/kernels/transform.h"
#include "core/shape/view_axes.h"

namespace bricol {

namespace {

constexpr double caught_within = 10;  // pixels
constexpr double rim = 0.06;          // of the view, round a picture's frame

/// Draws lines between places; what is behind the eye is left out.
class Lines {
public:
    Lines(QPainter& painter, const ViewFrame& view)
        : painter_(painter),
          projector_(view.camera, view.size.width(), view.size.height()),
          flat_(view.camera.flat()) {}

    std::optional<QPointF> at(const DVec3& place) const {
        double depth = 0;
        const glm::dvec2 seen = projector_.to_screen(place, &depth);
        if (!flat_ && depth <= 1e-6) return std::nullopt;
        return point(seen);
    }
    void line(const DVec3& a, const DVec3& b) const {
        const auto from = at(a), to = at(b);
        if (from && to) painter_.drawLine(*from, *to);
    }
    void loop(const std::vector<DVec3>& places) const {
        for (std::size_t i = 0; i < places.size(); ++i) line(places[i], places[(i + 1) % places.size()]);
    }
    void ring(const DVec3& middle, const DVec3& a, const DVec3& b) const {
        std::vector<DVec3> places;
        for (int i = 0; i < 40; ++i) {
            const double angle = glm::two_pi<double>() * i / 40;
            places.push_back(middle + a * std::cos(angle) + b * std::sin(angle));
        }
        loop(places);
    }

private:
    QPainter& painter_;
    Projector projector_;
    bool flat_;
};

/// Where a sun is drawn: it has a direction alone, so it stands off what is looked at.
DVec3 mark_of(const StageLamp& lamp, const ViewFrame& view) {
    if (lamp.kind != StageLamp::Kind::sun) return lamp.at;
    return view.camera.target + glm::normalize(lamp.at - lamp.aim) * (view.camera.distance * 0.22);
}

void draw_lamp(const Lines& lines, const ViewFrame& view, const StageLamp& lamp) {
    const ViewAxes axes(lamp.aim - lamp.at);
    const DVec3 at = mark_of(lamp, view);
    const double small = view.camera.metres_per_pixel(std::max(1, view.size.height())) * 9;
    using Kind = StageLamp::Kind;
    switch (lamp.kind) {
        case Kind::rectangle: {
            const DVec3 x = axes.right * (lamp.width / 2), y = axes.up * (lamp.height / 2);
            lines.loop({at - x - y, at + x - y, at + x + y, at - x + y});
            lines.line(at, at + axes.ahead * std::max({lamp.width, lamp.height, 2 * small}) * 0.5);
            break;
        }
        case Kind::disc:
            lines.ring(at, axes.right * lamp.radius, axes.up * lamp.radius);
            lines.line(at, at + axes.ahead * std::max(lamp.radius, 2 * small));
            break;
        case Kind::spot: {
            const double reach = 0.35 * glm::distance(lamp.at, lamp.aim),
                         wide = reach * std::tan(glm::radians(std::min(lamp.angle, 170.0) / 2));
            const DVec3 middle = at + axes.ahead * reach;
            lines.ring(middle, axes.right * wide, axes.up * wide);
            for (const DVec3& side : {axes.right, -axes.right, axes.up, -axes.up}) lines.line(at, middle + side * wide);
            break;
        }
        case Kind::sun:
            lines.ring(at, axes.right * small, axes.up * small);
            for (int i = -1; i <= 1; ++i)
                lines.line(at + axes.right * (i * small), at + axes.right * (i * small) + axes.ahead * (5 * small));
            break;
        case Kind::point:
            for (const DVec3& way : {axes.right, axes.up, axes.ahead}) lines.line(at - way * small, at + way * small);
            break;
    }
}

void draw_camera(const Lines& lines, const ViewFrame& view, const StageCamera& camera) {
    const ViewAxes axes(camera);
    const double aspect = static_cast<double>(camera.width) / std::max(1, camera.height);
    const double width = aspect >= 1 ? camera.film : camera.film * aspect, height = width / aspect;
    const double reach = std::max(0.12 * glm::distance(camera.eye, camera.aim),
                                  view.camera.metres_per_pixel(std::max(1, view.size.height())) * 30);
    const DVec3 middle = camera.eye + axes.ahead * reach,
                x = axes.right * (reach * width / 2 / std::max(camera.focal, 1e-3)),
                y = axes.up * (reach * height / 2 / std::max(camera.focal, 1e-3));
    const std::vector<DVec3> corners{middle - x - y, middle + x - y, middle + x + y, middle - x + y};
    lines.loop(corners);
    for (const DVec3& corner : corners) lines.line(camera.eye, corner);
    lines.loop({middle - x * 0.4 + y * 1.15, middle + x * 0.4 + y * 1.15, middle + y * 1.6});  // which side is up
}

template <class T>
StageName name_of(const OnStage<T>& entry) {
    return {entry.part, entry.step};
}

}  // namespace

void paint_stage(QPainter& painter, const ViewFrame& view, const Stage& stage, const StageName& chosen,
                 const StageName& through) {
    const Lines lines(painter, view);
    painter.setBrush(Qt::NoBrush);
    painter.setFont(theme::text_font(8.5));
    const auto draw = [&](const auto& entry, const DVec3& at, const auto& outline) {
        if (name_of(entry) == through) return;
        const bool own = name_of(entry) == chosen;
        const QColor ink = theme::color(own ? theme::Role::chosen : theme::Role::ink);
        painter.setPen(QPen(theme::color(theme::Role::card), own ? 4 : 3.2));
        outline();
        painter.setPen(QPen(ink, own ? 1.8 : 1.2));
        outline();
        const auto middle = lines.at(at);
        if (!middle) return;
        painter.setBrush(theme::color(theme::Role::card));
        painter.drawEllipse(*middle, 3.5, 3.5);
        painter.setBrush(Qt::NoBrush);
        paint_tag(painter, *middle, QString::fromStdString(entry.title.empty() ? entry.step : entry.title));
    };
    for (const auto& camera : stage.cameras)
        draw(camera, camera.piece.eye, [&] { draw_camera(lines, view, camera.piece); });
    for (const auto& lamp : stage.lamps)
        draw(lamp, mark_of(lamp.piece, view), [&] { draw_lamp(lines, view, lamp.piece); });
}

std::optional<StageName> stage_at(const ViewFrame& view, const Stage& stage, const QPointF& at,
                                  const StageName& through) {
    const Projector projector(view.camera, view.size.width(), view.size.height());
    std::optional<StageName> found;
    double nearest = caught_within;
    const auto look = [&](const auto& entry, const DVec3& place) {
        double depth = 0;
        const double distance = glm::distance(projector.to_screen(place, &depth), glm::dvec2(at.x(), at.y()));
        if ((!view.camera.flat() && depth <= 0) || distance >= nearest || name_of(entry) == through) return;
        nearest = distance;
        found = name_of(entry);
    };
    for (const auto& camera : stage.cameras) look(camera, camera.piece.eye);
    for (const auto& lamp : stage.lamps) look(lamp, mark_of(lamp.piece, view));
    return found;
}

QRectF picture_frame(QSize view, double aspect) {
    const double wide = view.width() * (1 - 2 * rim), high = view.height() * (1 - 2 * rim),
                 width = std::min(wide, high * aspect), height = width / aspect;
    return {(view.width() - width) / 2, (view.height() - height) / 2, width, height};
}

void paint_picture_frame(QPainter& painter, const QRectF& frame, QSize view, bool thirds, bool margin) {
    QPainterPath outside;
    outside.addRect(QRectF(QPointF(0, 0), QSizeF(view)));
    outside.addRect(frame);
    QColor dim = theme::color(theme::Role::desk);
    dim.setAlpha(150);
    painter.fillPath(outside, dim);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme::color(theme::Role::ink), 1.2));
    painter.drawRect(frame);
    const auto fine = [&](const QLineF& line) {
        painter.setPen(QPen(QColor(255, 255, 255, 110), 1));
        painter.drawLine(line.translated(1, 1));
        painter.setPen(QPen(QColor(0, 0, 0, 110), 1));
        painter.drawLine(line);
    };
    if (thirds)
        for (const double share : {1.0 / 3, 2.0 / 3}) {
            const double x = frame.left() + share * frame.width(), y = frame.top() + share * frame.height();
            fine({x, frame.top(), x, frame.bottom()});
            fine({frame.left(), y, frame.right(), y});
        }
    if (!margin) return;
    const QRectF safe =
        frame.adjusted(0.05 * frame.width(), 0.05 * frame.height(), -0.05 * frame.width(), -0.05 * frame.height());
    fine({safe.topLeft(), safe.topRight()}), fine({safe.topRight(), safe.bottomRight()});
    fine({safe.bottomRight(), safe.bottomLeft()}), fine({safe.bottomLeft(), safe.topLeft()});
}

}  // namespace bricol
