// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/arrows.h"

#include <cmath>

#include "app/theme/theme.h"
#include "app/viewport/screen.h"

namespace bricol::arrows {

namespace {

constexpr double length = 46, reach = 9;  // pixels

DVec3 axis(int i) {
    DVec3 a(0);
    a[i] = 1;
    return a;
}

/// Pixels that one metre along a direction covers at a point, as a vector on the picture.
glm::dvec2 pixels_per_metre(const DVec3& at, const DVec3& direction, const Projector& projector) {
    constexpr double probe = 1e-3;
    return (projector.to_screen(at + direction * probe) - projector.to_screen(at - direction * probe)) / (2 * probe);
}

/// Tip of an axis' arrow on the picture; the point itself when the axis looks at the viewer.
glm::dvec2 tip(const DVec3& at, int i, const Projector& projector) {
    const glm::dvec2 along = pixels_per_metre(at, axis(i), projector);
    const double size = glm::length(along);
    const glm::dvec2 here = projector.to_screen(at);
    // Foreshortened as the axis is, but never so short that it cannot be caught.
    double strongest = 0;
    for (int k = 0; k < 3; ++k) strongest = std::max(strongest, glm::length(pixels_per_metre(at, axis(k), projector)));
    if (strongest <= 0 || size < 0.12 * strongest) return here;
    return here + along / size * length * std::max(0.5, size / strongest);
}

}  // namespace

int hit(const DVec3& at, const Projector& projector, const glm::dvec2& pointer) {
    const glm::dvec2 here = projector.to_screen(at);
    if (glm::distance(here, pointer) < reach) return knob;
    for (int i = 0; i < 3; ++i) {
        const glm::dvec2 along = tip(at, i, projector) - here;
        const double size = glm::length(along);
        if (size < 1) continue;
        const double t = glm::dot(pointer - here, along) / (size * size);
        if (t > 0 && t < 1.15 && glm::distance(pointer, here + along * t) < reach * 0.8) return i;
    }
    return none;
}

void paint(QPainter& painter, const DVec3& at, const Projector& projector, int hot) {
    using theme::Role;
    const glm::dvec2 here = projector.to_screen(at);
    constexpr Role roles[] = {Role::axis_x, Role::axis_y, Role::axis_z};
    for (int i = 0; i < 3; ++i) {
        const glm::dvec2 end = tip(at, i, projector), along = end - here;
        const double size = glm::length(along);
        if (size < 1) continue;
        const glm::dvec2 d = along / size, side(-d.y, d.x);
        const QColor ink = hot == i ? theme::color(Role::chosen) : theme::color(roles[i]);
        painter.setPen(QPen(ink, hot == i ? 2.6 : 1.8));
        painter.drawLine(point(here), point(end - d * 7.0));
        painter.setPen(Qt::NoPen);
        painter.setBrush(ink);
        painter.drawPolygon(
            QPolygonF({point(end), point(end - d * 9.0 + side * 4.0), point(end - d * 9.0 - side * 4.0)}));
    }
    painter.setPen(QPen(theme::color(Role::chosen), 1.6));
    painter.setBrush(hot == knob ? theme::color(Role::chosen) : theme::color(Role::card));
    painter.drawEllipse(point(here), 4.8, 4.8);
}

double pulled_along(const DVec3& at, const DVec3& direction, const Projector& projector, const glm::dvec2& from,
                    const glm::dvec2& to) {
    const glm::dvec2 along = pixels_per_metre(at, direction, projector);
    const double square = glm::dot(along, along);
    return square > 1e-9 ? glm::dot(to - from, along) / square : 0;
}

DVec3 pulled(const DVec3& at, int grip, const Camera& camera, const Projector& projector, const glm::dvec2& from,
             const glm::dvec2& to) {
    if (grip >= 0 && grip < 3) return axis(grip) * pulled_along(at, axis(grip), projector, from, to);
    DVec3 a, b;
    if (!projector.on_plane(from, at, camera.direction(), a) || !projector.on_plane(to, at, camera.direction(), b))
        return DVec3(0);
    return b - a;
}

double snapped(double value, double step) { return step > 0 ? std::round(value / step) * step : value; }

}  // namespace bricol::arrows
