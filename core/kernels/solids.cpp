// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/solids.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

#include "core/kernels/normals.h"
#include "core/kernels/transform.h"

namespace bricol {

namespace {

Polyline outline(const std::vector<DVec2>& places, bool closed) {
    Polyline line;
    line.closed = closed;
    for (const DVec2& p : places) {
        line.points.push_back(Vec3(static_cast<float>(p.x), 0, static_cast<float>(p.y)));
        line.sharp.push_back(1);
        line.knot.push_back(-1);
    }
    return line;
}

Mesh turned_round(const Polyline& line, int segments) {
    LatheOptions turn;
    turn.segments = segments;
    turn.caps = false;
    turn.weld = 0;
    return lathe(line, turn);
}

}  // namespace

Mesh make_geodesic_sphere(double radius, int frequency) {
    const double golden = std::numbers::phi;
    std::vector<DVec3> base;
    for (const double a : {-1.0, 1.0})
        for (const double b : {-golden, golden}) {
            base.emplace_back(0, a, b);
            base.emplace_back(a, b, 0);
            base.emplace_back(b, 0, a);
        }
    // The faces of an icosahedron: triples of corners at edge length 2 from one another, counter-clockwise from
    // outside.
    std::vector<std::array<int, 3>> faces;
    const auto beside = [&](int i, int j) { return std::abs(glm::distance(base[i], base[j]) - 2) < 1e-9; };
    for (int i = 0; i < 12; ++i)
        for (int j = i + 1; j < 12; ++j)
            for (int k = j + 1; k < 12; ++k)
                if (beside(i, j) && beside(j, k) && beside(i, k)) {
                    const bool outward = glm::dot(base[i], glm::cross(base[j], base[k])) > 0;
                    faces.push_back(outward ? std::array<int, 3>{i, j, k} : std::array<int, 3>{i, k, j});
                }
    const int f = frequency;
    Array<Vec3> points;
    std::map<std::array<int, 4>, Index> on_edge;  // ends and place along an edge, or a corner alone
    const auto add = [&](const DVec3& p) {
        points.push_back(Vec3(glm::normalize(p) * radius));
        return static_cast<Index>(points.size() - 1);
    };
    Array<Index> offsets{0}, corners;
    std::vector<Index> row_points;
    for (const auto& [i, j, k] : faces) {
        // Point (a, b): a steps from i to j, b steps from i to k.
        row_points.assign(static_cast<std::size_t>(f + 1) * (f + 1), no_index);
        const auto slot = [&](int a, int b) -> Index& { return row_points[static_cast<std::size_t>(a) * (f + 1) + b]; };
        for (int a = 0; a <= f; ++a)
            for (int b = 0; a + b <= f; ++b) {
                const int c = f - a - b;
                const DVec3 p = (base[i] * static_cast<double>(c) + base[j] * static_cast<double>(a) +
                                 base[k] * static_cast<double>(b)) /
                                static_cast<double>(f);
                std::array<std::pair<int, int>, 3> weights = {{{i, c}, {j, a}, {k, b}}};
                std::vector<std::pair<int, int>> present;
                for (const auto& w : weights)
                    if (w.second > 0) present.push_back(w);
                std::ranges::sort(present);
                if (present.size() == 3) {
                    slot(a, b) = add(p);
                    continue;
                }
                const std::array<int, 4> key =
                    present.size() == 1 ? std::array<int, 4>{present[0].first, -1, 0, 0}
                                        : std::array<int, 4>{present[0].first, present[1].first, present[0].second, 0};
                const auto [place, fresh] = on_edge.try_emplace(key, 0);
                if (fresh) place->second = add(p);
                slot(a, b) = place->second;
            }
        const auto triangle = [&](Index x, Index y, Index z) {
            corners.insert(corners.end(), {x, y, z});
            offsets.push_back(static_cast<Index>(corners.size()));
        };
        for (int a = 0; a < f; ++a)
            for (int b = 0; a + b < f; ++b) {
                triangle(slot(a, b), slot(a + 1, b), slot(a, b + 1));
                if (a + b + 2 <= f) triangle(slot(a + 1, b), slot(a + 1, b + 1), slot(a, b + 1));
            }
    }
    Array<Vec2> uvs;
    for (std::size_t c = 0; c < corners.size(); c += 3) {
        // Longitude and latitude; corners of a face that straddles the seam are drawn to one side of it.
        std::array<Vec2, 3> uv;
        for (int k = 0; k < 3; ++k) {
            const Vec3 n = glm::normalize(points[corners[c + k]]);
            uv[k] = {static_cast<float>(0.5 + std::atan2(n.y, n.x) / (2 * std::numbers::pi)),
                     static_cast<float>(0.5 + std::asin(glm::clamp(n.z, -1.0f, 1.0f)) / std::numbers::pi)};
        }
        const float low = std::min({uv[0].x, uv[1].x, uv[2].x});
        for (Vec2& u : uv)
            if (u.x - low > 0.5f) u.x -= 1;
        uvs.insert(uvs.end(), uv.begin(), uv.end());
    }
    Array<Vec3> normals;
    for (const Vec3& p : points) normals.push_back(glm::normalize(p));
    const auto count = static_cast<Index>(points.size());
    Mesh mesh(std::move(points), make_topology(count, std::move(offsets), std::move(corners)));
    mesh.attributes.set(Domain::vertex, attribute_name::normal, std::move(normals));
    mesh.attributes.set(Domain::corner, attribute_name::uv, std::move(uvs));
    return mesh;
}

Mesh make_rounded_box(const RoundedBoxOptions& options) {
    const double shortest = std::min({options.size.x, options.size.y, options.size.z});
    const double radius = std::min(options.radius, shortest / 2);
    const int r = std::max(1, options.round_segments);
    // A grid box whose outer rows are bent onto the roundings: where the straight run begins and ends, per axis. A box
    // as wide as its two roundings has no straight run.
    std::array<std::vector<double>, 3> stations;  // place on the flat box, -1..1 per rounding step kept apart
    std::array<int, 3> counts{};
    for (int axis = 0; axis < 3; ++axis) {
        const bool run = options.size[axis] - 2 * radius > 1e-9 * options.size[axis];
        const int straight = run ? options.segments[axis] : 0;
        counts[axis] = 2 * r + straight;
        const double inner = options.size[axis] / 2 - radius;
        for (int i = 0; i <= r; ++i)
            stations[axis].push_back(-inner - radius * std::tan(std::numbers::pi / 4 * (r - i) / r));
        for (int i = 1; i < straight; ++i) stations[axis].push_back(-inner + 2 * inner * i / straight);
        for (int i = run ? 0 : 1; i <= r; ++i)
            stations[axis].push_back(inner + radius * std::tan(std::numbers::pi / 4 * i / r));
    }
    Mesh box = make_box(options.size, counts);
    Array<Vec3> points = *box.positions;
    for (Vec3& p : points) {
        DVec3 at, core;
        for (int axis = 0; axis < 3; ++axis) {
            const auto i = std::lround((p[axis] / options.size[axis] + 0.5) * counts[axis]);
            at[axis] = stations[axis][static_cast<std::size_t>(i)];
            const double inner = options.size[axis] / 2 - radius;
            core[axis] = std::clamp(at[axis], -inner, inner);
        }
        // Stations are tangents: pushed from the core box to the radius they stand at even angles along every edge.
        const DVec3 out = at - core;
        const double length = glm::length(out);
        p = Vec3(length > 0 ? core + out * (radius / length) : core);
    }
    box.positions = std::make_shared<const Array<Vec3>>(std::move(points));
    return with_normals_by_angle(box, 60);
}

Mesh make_disc(double radius, double hole, int segments, int rings, CapStyle style) {
    std::vector<DVec2> places;
    const double inner = std::clamp(hole, 0.0, radius * 0.999);
    if (style == CapStyle::face && inner == 0) {
        Array<Vec3> points;
        Array<Index> offsets{0, static_cast<Index>(segments)}, corners;
        Array<Vec2> uvs;
        for (int s = 0; s < segments; ++s) {
            const double a = 2 * std::numbers::pi * s / segments;
            points.push_back(Vec3(radius * std::cos(a), radius * std::sin(a), 0));
            uvs.push_back({static_cast<float>(0.5 + std::cos(a) / 2), static_cast<float>(0.5 + std::sin(a) / 2)});
            corners.push_back(static_cast<Index>(s));
        }
        Mesh mesh(std::move(points),
                  make_topology(static_cast<Index>(segments), std::move(offsets), std::move(corners)));
        mesh.attributes.set(Domain::corner, attribute_name::uv, std::move(uvs));
        return mesh;
    }
    const int count = style == CapStyle::rings ? std::max(1, rings) : 1;
    for (int i = 0; i <= count; ++i) places.push_back({radius + (inner - radius) * i / count, 0});
    Mesh mesh = turned_round(outline(places, false), segments);
    const Array<Vec3> flat = face_normals(mesh);
    return !flat.empty() && flat[0].z < 0 ? flipped(mesh) : mesh;
}

Mesh make_cone(double base_radius, double top_radius, double height, int segments, int levels) {
    std::vector<DVec2> places;
    for (int i = 0; i <= levels; ++i) {
        const double t = static_cast<double>(i) / levels;
        places.push_back({base_radius + (top_radius - base_radius) * t, height * (t - 0.5)});
    }
    return with_normals_by_angle(with_borders_filled(turned_round(outline(places, false), segments)), 40);
}

Mesh make_tube(double radius, double wall, double height, int segments, int levels) {
    const double inner = std::max(radius - wall, radius * 1e-4), half = height / 2;
    std::vector<DVec2> places;
    for (int i = 0; i <= levels; ++i) places.push_back({radius, -half + height * i / levels});
    for (int i = levels; i >= 0; --i) places.push_back({inner, -half + height * i / levels});
    return turned_round(outline(places, true), segments);
}

}  // namespace bricol
