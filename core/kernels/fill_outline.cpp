// SPDX-License-Identifier: GPL-3.0-or-later
// Faces inside outlines.
#include "core/kernels/loft.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/ground/stop.h"
#include "core/kernels/normals.h"
#include "core/kernels/rebuild.h"
#include "core/kernels/transform.h"
#include "core/kernels/triangulate.h"
#include "core/kernels/point_row.h"

namespace bricol {

namespace {

/// A plane through a loop: two directions in it and the normal about which the loop turns.
struct Plane {
    DVec3 origin, across, over, normal;
    DVec2 flat(const DVec3& p) const { return {glm::dot(p - origin, across), glm::dot(p - origin, over)}; }
};
Plane plane_of(const Row& loop) {
    Plane plane;
    plane.origin = middle_of_row(loop);
    const DVec3 area = area_vector(loop);
    plane.normal = glm::length(area) > 1e-300 ? glm::normalize(area) : DVec3(0, 0, 1);
    const DVec3 helper = std::abs(plane.normal.z) < 0.9 ? DVec3(0, 0, 1) : DVec3(1, 0, 0);
    plane.across = glm::normalize(glm::cross(helper, plane.normal));
    plane.over = glm::cross(plane.normal, plane.across);
    return plane;
}

bool within(const DVec2& p, const std::vector<DVec2>& loop) {
    bool in = false;
    for (std::size_t i = 0, j = loop.size() - 1; i < loop.size(); j = i++)
        if ((loop[i].y > p.y) != (loop[j].y > p.y) &&
            p.x < (loop[j].x - loop[i].x) * (p.y - loop[i].y) / (loop[j].y - loop[i].y) + loop[i].x)
            in = !in;
    return in;
}

struct FillBuilder {
    Array<Vec3> points;
    Array<Index> offsets{0}, corners;
    Array<Vec2> uv;

    Index add_points(const Row& row) {
        const auto base = static_cast<Index>(points.size());
        for (const DVec3& p : row) points.push_back(Vec3(p));
        return base;
    }
    void face(std::span<const Index> vertices) {
        corners.insert(corners.end(), vertices.begin(), vertices.end());
        offsets.push_back(static_cast<Index>(corners.size()));
    }
};

/// A grid between four runs of a loop.
void add_grid(FillBuilder& out, Row loop, bool turn) {
    if (loop.size() % 2 == 1) {  // opposite runs need equal counts: halve the longest side
        std::size_t longest = 0;
        double most = 0;
        for (std::size_t i = 0; i < loop.size(); ++i)
            if (const double d = glm::distance(loop[i], loop[(i + 1) % loop.size()]); d > most) most = d, longest = i;
        loop.insert(loop.begin() + static_cast<std::ptrdiff_t>(longest) + 1,
                    (loop[longest] + loop[(longest + 1) % loop.size()]) * 0.5);
    }
    const std::size_t n = loop.size(), half = n / 2;
    // Runs of a and half - a pieces from a start: the one whose four corners are sharpest, squarer ones first.
    std::vector<double> sharp(n);
    for (std::size_t i = 0; i < n; ++i) {
        const DVec3 in = loop[i] - loop[(i + n - 1) % n], to = loop[(i + 1) % n] - loop[i];
        sharp[i] =
            std::acos(std::clamp(glm::dot(in, to) / std::max(glm::length(in) * glm::length(to), 1e-300), -1.0, 1.0));
    }
    std::size_t start = 0, across = std::max<std::size_t>(1, half / 2);
    double best = -1;
    for (std::size_t a = 1; a < half; ++a)
        for (std::size_t s = 0; s < half; ++s) {
            const double score =
                sharp[s] + sharp[(s + a) % n] + sharp[(s + half) % n] + sharp[(s + half + a) % n] -
                1e-3 * std::abs(static_cast<double>(2 * a) - static_cast<double>(half)) / static_cast<double>(half);
            if (score > best) best = score, start = s, across = a;
        }
    const std::size_t w = across, h = half - across;
    const auto at = [&](std::size_t i) { return loop[(start + i) % n]; };
    std::vector<Row> grid(h + 1, Row(w + 1));
    for (std::size_t v = 0; v <= h; ++v)
        for (std::size_t u = 0; u <= w; ++u) {
            const double s = static_cast<double>(u) / static_cast<double>(w),
                         t = static_cast<double>(v) / static_cast<double>(h);
            const DVec3 low = at(u), high = at(w + h + w - u), left = at((2 * w + 2 * h - v) % n), right = at(w + v);
            grid[v][u] =
                low * (1 - t) + high * t + left * (1 - s) + right * s -
                (at(0) * (1 - s) * (1 - t) + at(w) * s * (1 - t) + at(w + h) * s * t + at(2 * w + h) * (1 - s) * t);
        }
    const auto base = static_cast<Index>(out.points.size());
    for (const Row& row : grid) out.add_points(row);
    for (std::size_t v = 0; v < h; ++v)
        for (std::size_t u = 0; u < w; ++u) {
            const auto index = [&](std::size_t r, std::size_t c) { return base + static_cast<Index>(r * (w + 1) + c); };
            std::array<Index, 4> face = {index(v, u), index(v, u + 1), index(v + 1, u + 1), index(v + 1, u)};
            if (turn) std::swap(face[1], face[3]);
            out.face(face);
        }
}

}  // namespace

namespace {

/// A loop is a hole of the smallest one round it in the same plane; holes of holes are fills again. The loop that each
/// belongs to: itself, or the one it is a hole of.
std::vector<std::size_t> owners(std::span<const Row> loops, std::span<const Plane> planes) {
    std::vector<std::size_t> owner(loops.size());
    for (std::size_t i = 0; i < loops.size(); ++i) {
        owner[i] = i;
        std::size_t depth = 0;
        double smallest = 1e300;
        for (std::size_t j = 0; j < loops.size(); ++j) {
            stop_point();
            if (i == j || std::abs(glm::dot(planes[i].normal, planes[j].normal)) < 0.999) continue;
            const double size = std::sqrt(glm::length(area_vector(loops[j])));
            if (std::abs(glm::dot(loops[i][0] - planes[j].origin, planes[j].normal)) > 1e-4 * size) continue;
            std::vector<DVec2> flat;
            for (const DVec3& p : loops[j]) flat.push_back(planes[j].flat(p));
            if (!within(planes[j].flat(loops[i][0]), flat)) continue;
            ++depth;
            if (size < smallest) smallest = size, owner[i] = j;
        }
        if (depth % 2 == 0) owner[i] = i;
    }
    return owner;
}

/// One outline, the first of the members, with the others as its holes. False when it crosses itself and became one
/// face as it is.
bool add_filled(FillBuilder& out, std::span<const Row* const> members, const Plane& plane, FillStyle style, bool turn) {
    std::vector<std::vector<DVec2>> flat;
    const auto base = static_cast<Index>(out.points.size());
    for (const Row* row : members) {
        auto& places = flat.emplace_back();
        for (const DVec3& p : *row) places.push_back(plane.flat(p));
        out.add_points(*row);
    }
    const bool one_face = style == FillStyle::face && members.size() == 1;
    const auto triangles = one_face ? std::vector<std::array<int, 3>>{} : triangulate_loops(flat);
    if (triangles.empty()) {
        std::vector<Index> face(members[0]->size());
        for (std::size_t k = 0; k < face.size(); ++k)
            face[k] = base + static_cast<Index>(turn ? face.size() - 1 - k : k);
        out.face(face);
        return one_face;
    }
    std::vector<DVec2> all;
    for (const auto& loop : flat) all.insert(all.end(), loop.begin(), loop.end());
    for (auto t : triangles) {
        const DVec2 a = all[t[1]] - all[t[0]], b = all[t[2]] - all[t[0]];
        if ((a.x * b.y - a.y * b.x < 0) != turn) std::swap(t[1], t[2]);
        const std::array<Index, 3> face = {base + static_cast<Index>(t[0]), base + static_cast<Index>(t[1]),
                                           base + static_cast<Index>(t[2])};
        out.face(face);
    }
    return true;
}

/// UVs over the whole, in a plane.
Array<Vec2> uvs_in(const Plane& plane, const FillBuilder& out) {
    DVec2 low(1e300), high(-1e300);
    for (const Vec3& p : out.points) {
        const DVec2 f = plane.flat(DVec3(p));
        low = glm::min(low, f), high = glm::max(high, f);
    }
    const double size = std::max({high.x - low.x, high.y - low.y, 1e-12});
    Array<Vec2> uv;
    for (const Index v : out.corners) uv.push_back(Vec2((plane.flat(DVec3(out.points[v])) - low) / size));
    return uv;
}

}  // namespace

FillResult filled(std::span<const Polyline> lines, FillStyle style, const DVec3& facing) {
    FillResult result;
    std::vector<Row> loops;
    std::vector<Plane> planes;
    for (const Polyline& line : lines) {
        Row row = row_of(line);
        if (!line.closed || row.size() < 3) {
            ++result.open;
            continue;
        }
        const Plane& plane = planes.emplace_back(plane_of(row));
        for (const DVec3& p : row)
            result.off_plane = std::max(result.off_plane, std::abs(glm::dot(p - plane.origin, plane.normal)));
        loops.push_back(std::move(row));
    }
    if (loops.empty()) return result;
    const std::vector<std::size_t> owner = owners(loops, planes);
    FillBuilder out;
    for (std::size_t i = 0; i < loops.size(); ++i) {
        if (owner[i] != i) continue;
        const bool turn = glm::length(facing) > 0 && glm::dot(planes[i].normal, facing) < 0;
        std::vector<const Row*> members{&loops[i]};
        for (std::size_t hole = 0; hole < loops.size(); ++hole)
            if (hole != i && owner[hole] == i) members.push_back(&loops[hole]);
        if (style == FillStyle::grid && members.size() == 1 && loops[i].size() >= 4) {
            add_grid(out, loops[i], turn);
            continue;
        }
        result.grid_with_holes |= style == FillStyle::grid && members.size() > 1;
        result.crossing += !add_filled(out, members, planes[i], style, turn);
    }
    Array<Vec2> uv = uvs_in(planes[0], out);
    const auto count = static_cast<Index>(out.points.size());
    result.mesh = Mesh(std::move(out.points), make_topology(count, std::move(out.offsets), std::move(out.corners)));
    result.mesh.attributes.set(Domain::corner, attribute_name::uv, std::move(uv));
    result.mesh = with_normals_by_angle(result.mesh, 40);
    return result;
}

}  // namespace bricol
