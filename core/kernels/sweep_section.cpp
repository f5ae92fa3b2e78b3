// SPDX-License-Identifier: GPL-3.0-or-later
// Sections: what is swept.
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/ground/numbers.h"
#include "core/kernels/sweep_wall.h"

namespace bricol {

double area_of(const SectionLoop& loop) {
    double sum = 0;
    for (std::size_t i = 0; i < loop.points.size(); ++i)
        sum += cross2(loop.points[i], loop.points[(i + 1) % loop.points.size()]);
    return sum / 2;
}

bool inside(const DVec2& p, const SectionLoop& loop) {
    bool in = false;
    for (std::size_t i = 0, j = loop.points.size() - 1; i < loop.points.size(); j = i++) {
        const DVec2 &a = loop.points[i], &b = loop.points[j];
        if ((a.y > p.y) != (b.y > p.y) && p.x < (b.x - a.x) * (p.y - a.y) / (b.y - a.y) + a.x) in = !in;
    }
    return in;
}

SectionLoop round_section(double radius, int sides) {
    SectionLoop loop;
    for (int i = 0; i < sides; ++i) {
        const double angle = 2 * pi * i / sides;
        loop.points.emplace_back(radius * std::cos(angle), radius * std::sin(angle));
    }
    loop.sharp.assign(loop.points.size(), 0);
    return loop;
}

SectionLoop rectangle_section(double width, double height) {
    SectionLoop loop;
    loop.points = {
        {-width / 2, -height / 2}, {width / 2, -height / 2}, {width / 2, height / 2}, {-width / 2, height / 2}};
    loop.sharp.assign(4, 1);
    return loop;
}

std::vector<SectionLoop> sections_from(std::span<const Polyline> lines, bool to_middle, double* left_out) {
    DVec3 low(1e300), high(-1e300);
    for (const Polyline& line : lines)
        for (const Vec3& p : line.points) low = glm::min(low, DVec3(p)), high = glm::max(high, DVec3(p));
    const DVec3 size = high - low;
    // Flat views: front x and z, side y and z, top x and y.
    int across = 0, up = 2, away = 1;
    if (size.x < size.y && size.x < size.z)
        across = 1, away = 0;
    else if (size.z < size.y)
        up = 1, away = 2;
    if (left_out) *left_out = lines.empty() ? 0 : size[away];
    const DVec3 origin = to_middle ? (low + high) * 0.5 : DVec3(0);
    std::vector<SectionLoop> loops;
    for (const Polyline& line : lines) {
        SectionLoop loop;
        loop.closed = line.closed;
        for (const Vec3& p : line.points) loop.points.emplace_back(p[across] - origin[across], p[up] - origin[up]);
        loop.sharp = line.sharp;
        loops.push_back(std::move(loop));
    }
    return loops;
}

}  // namespace bricol
