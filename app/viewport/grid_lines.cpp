// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/grid_lines.h"

#include <algorithm>
#include <cmath>

#include "app/theme/theme.h"

namespace bricol {

namespace {

glm::vec3 rgb_of(theme::Role role) {
    const QColor c = theme::color(role);
    return {c.redF(), c.greenF(), c.blueF()};
}

}  // namespace

std::vector<float> grid_lines(const Camera& camera, const std::optional<DrawPlane>& plane, double fine_step) {
    // The plane that faces the artist: the ground, or the plane of a flat view.
    DVec3 a(1, 0, 0), b(0, 1, 0);
    theme::Role first = theme::Role::axis_x, second = theme::Role::axis_y;
    if (camera.view == View::front) b = DVec3(0, 0, 1), second = theme::Role::axis_z;
    if (camera.view == View::side)
        a = DVec3(0, 1, 0), b = DVec3(0, 0, 1), first = theme::Role::axis_y, second = theme::Role::axis_z;
    std::vector<float> vertices;
    DVec3 base(0);
    if (plane) a = DVec3(plane->axes[0]), b = DVec3(plane->axes[1]), base = DVec3(plane->origin);
    const double reach = camera.flat() ? camera.distance * 1.4 : camera.distance * 2.2;
    const DVec3 middle = a * glm::dot(camera.target - base, a) + b * glm::dot(camera.target - base, b);
    const auto add = [&](const DVec3& p, const glm::vec3& ink, double strength) {
        const double far = glm::distance(p, middle) / reach;
        const double fade = camera.flat() ? 1 : std::max(0.0, 1 - far * far);
        for (int i = 0; i < 3; ++i) vertices.push_back(static_cast<float>(base[i] + p[i]));
        for (int i = 0; i < 3; ++i) vertices.push_back(ink[i]);
        vertices.push_back(static_cast<float>(strength * fade));
    };
    const auto lines = [&](double step, theme::Role role, double strength) {
        const int count = std::min(120, static_cast<int>(reach / step) + 1);
        const double ca = std::round(glm::dot(middle, a) / step), cb = std::round(glm::dot(middle, b) / step);
        for (int i = -count; i <= count; ++i)
            for (int direction = 0; direction < 2; ++direction) {
                const DVec3 along = direction ? b : a, across = direction ? a : b;
                const double place = ((direction ? ca : cb) + i) * step;
                const double centre = (direction ? cb : ca) * step;
                const bool axis = std::abs(place) < step * 0.01;
                const glm::vec3 ink = rgb_of(axis ? (direction ? second : first) : role);
                const int pieces = camera.flat() ? 1 : 8;  // so that the fade follows the line
                for (int k = -pieces; k < pieces; ++k) {
                    add(across * place + along * (centre + reach * k / pieces), ink, axis ? 0.9 : strength);
                    add(across * place + along * (centre + reach * (k + 1) / pieces), ink, axis ? 0.9 : strength);
                }
            }
    };
    lines(fine_step, theme::Role::grid, 0.55);
    lines(fine_step * 10, theme::Role::grid_strong, 0.75);
    return vertices;
}

}  // namespace bricol
