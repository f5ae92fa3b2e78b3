// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/solids.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

#include "core/ground/stop.h"
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

namespace {

/// An icosahedron of edge length 2; its faces counter-clockwise from outside.
struct Icosahedron {
    std::vector<DVec3> points;
    std::vector<std::array<int, 3>> faces;

    Icosahedron() {
        const double golden = std::numbers::phi;
        for (const double a : {-1.0, 1.0})
            for (const double b : {-golden, golden}) {
                points.emplace_back(0, a, b);
                points.emplace_back(a, b, 0);
                points.emplace_back(b, 0, a);
            }
        const auto beside = [&](int i, int j) { return std::abs(glm::distance(points[i], points[j]) - 2) < 1e-9; };
        for (int i = 0; i < 12; ++i)
            for (int j = i + 1; j < 12; ++j)
                for (int k = j + 1; k < 12; ++k)
                    if (beside(i, j) && beside(j, k) && beside(i, k)) {
                        const bool outward = glm::dot(points[i], glm::cross(points[j], points[k])) > 0;
                        faces.push_back(outward ? std::array<int, 3>{i, j, k} : std::array<int, 3>{i, k, j});
                    }
    }
};

/// Its faces parted into smaller triangles, points on shared edges made once.
class GeodesicGrid {
public:
    GeodesicGrid(double radius, int frequency) : radius_(radius), f_(frequency) {
        for (const auto& face : base_.faces) part(face);
    }

    Array<Vec3> points;
    Array<Index> offsets{0}, corners;

private:
    /// Point (a, b) of the face at hand: a steps from its first corner to the second, b to the third.
    Index& slot(int a, int b) { return of_face_[static_cast<std::size_t>(a) * (f_ + 1) + b]; }

    void part(const std::array<int, 3>& face) {
        of_face_.assign(static_cast<std::size_t>(f_ + 1) * (f_ + 1), no_index);
        for (int a = 0; a <= f_; ++a)
            for (int b = 0; a + b <= f_; ++b) slot(a, b) = point(face, {f_ - a - b, a, b});
        const auto triangle = [&](Index x, Index y, Index z) {
            corners.insert(corners.end(), {x, y, z});
            offsets.push_back(static_cast<Index>(corners.size()));
        };
        for (int a = 0; a < f_; ++a)
            for (int b = 0; a + b < f_; ++b) {
                stop_point(static_cast<std::size_t>(b));
                triangle(slot(a, b), slot(a + 1, b), slot(a, b + 1));
                if (a + b + 2 <= f_) triangle(slot(a + 1, b), slot(a + 1, b + 1), slot(a, b + 1));
            }
    }
    Index point(const std::array<int, 3>& face, const std::array<int, 3>& weights) {
        DVec3 sum(0);
        std::vector<std::pair<int, int>> present;
        for (std::size_t k = 0; k < 3; ++k) {
            sum += base_.points[face[k]] * static_cast<double>(weights[k]);
            if (weights[k] > 0) present.emplace_back(face[k], weights[k]);
        }
        const DVec3 place = sum / static_cast<double>(f_);
        std::ranges::sort(present);
        if (present.size() == 3) return add(place);
        const std::array<int, 3> key = present.size() == 1
                                           ? std::array{present[0].first, -1, 0}
                                           : std::array{present[0].first, present[1].first, present[0].second};
        const auto [known, fresh] = on_edge_.try_emplace(key, 0);
        if (fresh) known->second = add(place);
        return known->second;
    }
    Index add(const DVec3& p) {
        points.push_back(Vec3(glm::normalize(p) * radius_));
        return static_cast<Index>(points.size() - 1);
    }

    const double radius_;
    const int f_;
    const Icosahedron base_;
    std::vector<Index> of_face_;
    std::map<std::array<int, 3>, Index> on_edge_;  ///< ends and place along an edge, or a corner alone
};

/// Longitude and latitude; corners of a face that straddles the seam are drawn to one side of it.
Array<Vec2> uvs_by_longitude(const Array<Vec3>& points, const Array<Index>& corners) {
    Array<Vec2> uvs;
    for (std::size_t c = 0; c < corners.size(); c += 3) {
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
    return uvs;
}

}  // namespace

Mesh make_geodesic_sphere(double radius, int frequency) {
    GeodesicGrid grid(radius, frequency);
    Array<Vec2> uvs = uvs_by_longitude(grid.points, grid.corners);
    Array<Vec3> normals;
    for (const Vec3& p : grid.points) normals.push_back(glm::normalize(p));
    const auto count = static_cast<Index>(grid.points.size());
    Mesh mesh(std::move(grid.points), make_topology(count, std::move(grid.offsets), std::move(grid.corners)));
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
