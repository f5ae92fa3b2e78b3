// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/primitives.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

#include "core/ground/stop.h"
#include "core/kernels/normals.h"
#include "core/kernels/rebuild.h"

namespace bricol {

namespace {

Mesh with_uvs(Mesh mesh, Array<Vec2> uvs) {
    mesh.attributes.set(Domain::corner, attribute_name::uv, std::move(uvs));
    return mesh;
}

Knot profile_knot(double radius, double height) {
    Knot knot;
    knot.at = Vec3(static_cast<float>(radius), 0, static_cast<float>(height));
    return knot;
}

}  // namespace

Mesh make_grid(double width, double depth, int across, int deep) {
    Array<Vec3> points;
    for (int y = 0; y <= deep; ++y)
        for (int x = 0; x <= across; ++x)
            points.push_back(Vec3(width * (static_cast<double>(x) / across - 0.5),
                                  depth * (static_cast<double>(y) / deep - 0.5), 0));
    Array<Index> offsets{0}, corners;
    Array<Vec2> uvs;
    const auto vertex = [&](int x, int y) { return static_cast<Index>(y * (across + 1) + x); };
    for (int y = 0; y < deep; ++y)
        for (int x = 0; x < across; ++x) {
            for (const auto& [dx, dy] : {std::pair{0, 0}, {1, 0}, {1, 1}, {0, 1}}) {
                corners.push_back(vertex(x + dx, y + dy));
                uvs.push_back({static_cast<float>(x + dx) / across, static_cast<float>(y + dy) / deep});
            }
            offsets.push_back(static_cast<Index>(corners.size()));
        }
    const auto count = static_cast<Index>(points.size());
    return with_uvs(Mesh(std::move(points), make_topology(count, std::move(offsets), std::move(corners))),
                    std::move(uvs));
}

Mesh make_box(const DVec3& size, const std::array<int, 3>& segments) {
    Array<Vec3> points;
    std::map<std::array<int, 3>, Index> known;
    const auto vertex = [&](const std::array<int, 3>& at) {
        const auto [place, fresh] = known.try_emplace(at, static_cast<Index>(points.size()));
        if (fresh)
            points.push_back(Vec3(size.x * (static_cast<double>(at[0]) / segments[0] - 0.5),
                                  size.y * (static_cast<double>(at[1]) / segments[1] - 0.5),
                                  size.z * (static_cast<double>(at[2]) / segments[2] - 0.5)));
        return place->second;
    };
    Array<Index> offsets{0}, corners;
    Array<Vec2> uvs;
    for (int axis = 0; axis < 3; ++axis)
        for (int high = 0; high < 2; ++high) {
            // (a, b, axis) is right-handed, so (a, b) counter-clockwise faces along +axis; swapped for the low side.
            int a = (axis + 1) % 3, b = (axis + 2) % 3;
            if (!high) std::swap(a, b);
            for (int j = 0; j < segments[b]; ++j)
                for (int i = 0; i < segments[a]; ++i) {
                    for (const auto& [di, dj] : {std::pair{0, 0}, {1, 0}, {1, 1}, {0, 1}}) {
                        std::array<int, 3> at{};
                        at[axis] = high ? segments[axis] : 0;
                        at[a] = i + di;
                        at[b] = j + dj;
                        corners.push_back(vertex(at));
                        uvs.push_back(
                            {static_cast<float>(i + di) / segments[a], static_cast<float>(j + dj) / segments[b]});
                    }
                    offsets.push_back(static_cast<Index>(corners.size()));
                }
        }
    const auto count = static_cast<Index>(points.size());
    return with_uvs(Mesh(std::move(points), make_topology(count, std::move(offsets), std::move(corners))),
                    std::move(uvs));
}

Mesh make_cylinder(const CylinderOptions& options) {
    Curve profile;
    const double half = options.height / 2;
    const int rings = options.caps == CapStyle::rings ? std::max(1, options.rings) : 1;
    const bool poles = options.caps == CapStyle::fan || options.caps == CapStyle::rings;
    if (poles)
        for (int i = 0; i < rings; ++i) profile.knots.push_back(profile_knot(options.radius * i / rings, -half));
    for (int i = 0; i <= options.levels; ++i)
        profile.knots.push_back(profile_knot(options.radius, -half + options.height * i / options.levels));
    if (poles)
        for (int i = rings - 1; i >= 0; --i) profile.knots.push_back(profile_knot(options.radius * i / rings, half));
    LatheOptions turn;
    turn.segments = options.segments;
    turn.caps = false;
    turn.weld = 0;
    Mesh wall = lathe(flatten(profile), turn);
    return options.caps == CapStyle::face ? with_normals_by_angle(with_borders_filled(wall), turn.smooth_angle) : wall;
}

Mesh make_sphere(double radius, int slices, int rings) {
    Polyline arc;
    for (int i = 0; i <= rings; ++i) {
        const double t = std::numbers::pi * i / rings;
        const double across = i == 0 || i == rings ? 0 : std::sin(t);
        arc.points.push_back(Vec3(static_cast<float>(radius * across), 0, static_cast<float>(-radius * std::cos(t))));
    }
    LatheOptions turn;
    turn.segments = slices;
    turn.weld = 0;
    turn.smooth_angle = 95;  // a coarse ball is still a ball
    return lathe(arc, turn);
}

Mesh make_torus(double ring_radius, double tube_radius, int ring_segments, int tube_segments) {
    Polyline circle;
    circle.closed = true;
    for (int i = 0; i < tube_segments; ++i) {
        const double t = 2 * std::numbers::pi * i / tube_segments;
        circle.points.push_back(Vec3(static_cast<float>(ring_radius + tube_radius * std::cos(t)), 0,
                                     static_cast<float>(tube_radius * std::sin(t))));
    }
    LatheOptions turn;
    turn.segments = ring_segments;
    turn.weld = 0;
    turn.smooth_angle = 125;
    return lathe(circle, turn);
}

Mesh with_borders_filled(const Mesh& mesh) {
    const Topology& t = *mesh.topology;
    const Adjacency& near = t.adjacency();
    // On a border the new face runs against its neighbour: from the corner's next vertex back to its own.
    std::map<Index, Index> next;
    for (std::size_t f = 0; f < t.face_count(); ++f) {
        stop_point(f);
        const auto face = t.face(f);
        for (std::size_t i = 0; i < face.size(); ++i)
            if (near.faces_of_edge(t.corner_edge[t.face_offsets[f] + i]).size() == 1)
                next[face[(i + 1) % face.size()]] = face[i];
    }
    FaceList faces = faces_of(mesh);
    std::vector<std::vector<Index>> loops;
    while (!next.empty()) {
        std::vector<Index> loop;
        for (auto at = next.begin(); at != next.end(); at = next.find(loop.back())) {
            loop.push_back(at->second);
            next.erase(at);
        }
        if (loop.size() >= 3) loops.push_back(std::move(loop));
    }
    for (const auto& loop : loops) faces.add(loop);
    Mesh out = rebuilt(mesh, *mesh.positions, {}, std::move(faces));
    if (const auto* old = mesh.attributes.values<Vec2>(Domain::corner, attribute_name::uv)) {
        Array<Vec2> uvs = *old;
        for (const auto& loop : loops) {
            Vec3 low((*mesh.positions)[loop[0]]), high = low;
            for (Index v : loop) low = glm::min(low, (*mesh.positions)[v]), high = glm::max(high, (*mesh.positions)[v]);
            const Vec3 size = high - low;
            const int thin = size.x <= size.y && size.x <= size.z ? 0 : size.y <= size.z ? 1 : 2;
            const int a = (thin + 1) % 3, b = (thin + 2) % 3;
            const float whole = std::max({size[a], size[b], 1e-12f});
            for (Index v : loop) {
                const Vec3 at = ((*mesh.positions)[v] - low) / whole;
                uvs.push_back({at[a], at[b]});
            }
        }
        out.attributes.set(Domain::corner, attribute_name::uv, std::move(uvs));
    }
    return out;
}

}  // namespace bricol
