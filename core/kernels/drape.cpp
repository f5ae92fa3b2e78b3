// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/drape.h"

#include <algorithm>
#include <cmath>

#include "core/ground/stop.h"
#include "core/kernels/uv_check.h"
#include "core/kernels/triangulate.h"
#include "core/ground/numbers.h"
#include "core/ground/parallel.h"

namespace bricol {

namespace {}  // namespace

DrapeSurface::DrapeSurface(const Mesh& mesh) : mesh_(mesh) {
    const auto* uv = mesh.attributes.values<Vec2>(Domain::corner, attribute_name::uv);
    if (!uv || mesh.face_count() == 0) return;
    const Triangles cut = triangulated(mesh);
    low_ = DVec2(1e300), high_ = DVec2(-1e300);
    vertex_uv_.assign(mesh.vertex_count(), DVec2(0));
    for (std::size_t t = 0; t < cut.count(); ++t) {
        stop_point(t);
        Triangle triangle;
        for (int k = 0; k < 3; ++k) {
            const Index corner = cut.corners[3 * t + k];
            triangle.vertex[k] = mesh.topology->corner_vertex[corner];
            triangle.uv[k] = DVec2((*uv)[corner]);
        }
        if (std::abs(cross2(triangle.uv[1] - triangle.uv[0], triangle.uv[2] - triangle.uv[0])) < 1e-14) {
            ++folded_;
            continue;
        }
        bool out = false;
        for (int k = 0; k < 3; ++k) {
            vertex_uv_[triangle.vertex[k]] = triangle.uv[k];
            low_ = glm::min(low_, triangle.uv[k]), high_ = glm::max(high_, triangle.uv[k]);
            out |= triangle.uv[k].x < -1e-6 || triangle.uv[k].y < -1e-6 || triangle.uv[k].x > 1 + 1e-6 ||
                   triangle.uv[k].y > 1 + 1e-6;
        }
        outside_ += out;
        triangles_.push_back(triangle);
    }
    if (triangles_.empty()) return;
    double covered = 0;
    for (const Triangle& t : triangles_) covered += std::abs(cross2(t.uv[1] - t.uv[0], t.uv[2] - t.uv[0])) / 2;
    rectangular_ = covered > (high_.x - low_.x) * (high_.y - low_.y) * (1 - 1e-5);
    // Cells of about two triangles each; a triangle is listed in every cell its box touches.
    const double side = std::sqrt(static_cast<double>(triangles_.size()) / 2);
    columns_ = rows_ = std::clamp(static_cast<int>(side), 1, 2048);
    const DVec2 room = glm::max(high_ - low_, DVec2(1e-12));
    const auto cell_of = [&](const DVec2& p) {
        return std::pair{std::clamp(static_cast<int>((p.x - low_.x) / room.x * columns_), 0, columns_ - 1),
                         std::clamp(static_cast<int>((p.y - low_.y) / room.y * rows_), 0, rows_ - 1)};
    };
    const DVec2 edge = room * 1e-9;
    const auto cells = [&](const Triangle& t) {
        const DVec2 a = glm::min(t.uv[0], glm::min(t.uv[1], t.uv[2])) - edge,
                    b = glm::max(t.uv[0], glm::max(t.uv[1], t.uv[2])) + edge;
        return std::pair{cell_of(a), cell_of(b)};
    };
    cell_start_.assign(static_cast<std::size_t>(columns_) * rows_ + 1, 0);
    const auto each = [&](const Triangle& t, auto&& doing) {
        const auto [from, to] = cells(t);
        for (int y = from.second; y <= to.second; ++y)
            for (int x = from.first; x <= to.first; ++x) doing(static_cast<std::size_t>(y) * columns_ + x);
    };
    for (const Triangle& t : triangles_) each(t, [&](std::size_t c) { ++cell_start_[c + 1]; });
    for (std::size_t c = 1; c < cell_start_.size(); ++c) cell_start_[c] += cell_start_[c - 1];
    cell_triangle_.resize(cell_start_.back());
    std::vector<std::uint32_t> next(cell_start_.begin(), cell_start_.end() - 1);
    for (std::size_t i = 0; i < triangles_.size(); ++i)
        each(triangles_[i], [&](std::size_t c) { cell_triangle_[next[c]++] = static_cast<std::uint32_t>(i); });
}

int DrapeSurface::find(const DVec2& uv, DVec3& weights, double slack) const {
    const DVec2 room = glm::max(high_ - low_, DVec2(1e-12));
    const DVec2 beside = room * slack;
    if (uv.x < low_.x - beside.x || uv.y < low_.y - beside.y || uv.x > high_.x + beside.x || uv.y > high_.y + beside.y)
        return -1;
    const int x = std::clamp(static_cast<int>((uv.x - low_.x) / room.x * columns_), 0, columns_ - 1),
              y = std::clamp(static_cast<int>((uv.y - low_.y) / room.y * rows_), 0, rows_ - 1);
    const std::size_t cell = static_cast<std::size_t>(y) * columns_ + x;
    int best = -1;
    double least = -slack;
    for (std::uint32_t k = cell_start_[cell]; k < cell_start_[cell + 1]; ++k) {
        const Triangle& t = triangles_[cell_triangle_[k]];
        const DVec2 a = t.uv[1] - t.uv[0], b = t.uv[2] - t.uv[0], p = uv - t.uv[0];
        const double area = cross2(a, b), v = cross2(p, b) / area, w = cross2(a, p) / area;
        const double inside = std::min({1 - v - w, v, w});
        if (inside <= least) continue;
        least = inside;
        best = static_cast<int>(cell_triangle_[k]);
        weights = {1 - v - w, v, w};
        if (inside >= 0) break;
    }
    return best;
}

void DrapeSurface::stand(const Options& options, std::vector<DVec3>& at, std::vector<DVec3>& normal) const {
    at.resize(mesh_.vertex_count());
    normal.assign(mesh_.vertex_count(), DVec3(0));
    for (std::size_t i = 0; i < at.size(); ++i) {
        const DVec3 flat = options.origin + DVec3(vertex_uv_[i] * options.size, 0);
        at[i] = flat + (DVec3((*mesh_.positions)[i]) - flat) * options.amount;
    }
    for (const Triangle& t : triangles_) {
        // Seen from the side from which the UVs run counter-clockwise, as flat they are seen from above.
        const double hand = cross2(t.uv[1] - t.uv[0], t.uv[2] - t.uv[0]) < 0 ? -1 : 1;
        for (int k = 0; k < 3; ++k) {
            const DVec3 a = at[t.vertex[(k + 1) % 3]] - at[t.vertex[k]],
                        b = at[t.vertex[(k + 2) % 3]] - at[t.vertex[k]];
            const DVec3 n = glm::cross(a, b);
            const double length = glm::length(n);
            if (length <= 0) continue;
            normal[t.vertex[k]] += n / length * (hand * std::atan2(length, glm::dot(a, b)));
        }
    }
    for (DVec3& n : normal) {
        const double length = glm::length(n);
        n = length > 0 ? n / length : DVec3(0, 0, 1);
    }
}

DrapeSurface::Draped DrapeSurface::draped(std::span<const Vec3> points, const Options& options) const {
    std::vector<DVec3> at, normal;
    stand(options, at, normal);
    Draped out;
    out.points.resize(points.size());
    out.missed.assign(points.size(), 0);
    parallel::each(parallel::Numbers<std::size_t>(0, points.size(), 4096), [&](const auto& range) {
        stop_point();
        for (std::size_t i = range.begin(); i != range.end(); ++i) {
            const DVec3 p = DVec3(points[i]) - options.origin;
            DVec3 w(0);
            const DVec2 uv{p.x / options.size.x, p.y / options.size.y};
            int found = find(uv, w);
            // Points on the border are where single precision put them, a little beside a small triangle.
            for (const double slack : {1e-4, 1e-2})
                if (found < 0) found = find(uv, w, slack);
            if (found < 0) {
                out.points[i] = DVec3(points[i]);
                out.missed[i] = 1;
                continue;
            }
            const auto& v = triangles_[static_cast<std::size_t>(found)].vertex;
            const DVec3 on = at[v[0]] * w.x + at[v[1]] * w.y + at[v[2]] * w.z;
            const DVec3 n = normal[v[0]] * w.x + normal[v[1]] * w.y + normal[v[2]] * w.z;
            out.points[i] = on + n / std::max(glm::length(n), 1e-12) * (p.z + options.lift * options.amount);
        }
    });
    return out;
}

std::vector<Vec3> DrapeSurface::crossings(const Options& options, double low, double high) const {
    std::vector<DVec3> at, normal;
    stand(options, at, normal);
    std::vector<Vec3> out;
    for (const Triangle& t : triangles_) {
        const auto area = [&](double height) {
            std::array<DVec3, 3> p;
            for (int k = 0; k < 3; ++k) p[k] = at[t.vertex[k]] + normal[t.vertex[k]] * height;
            return glm::cross(p[1] - p[0], p[2] - p[0]);
        };
        const DVec3 base = area(0);
        if (glm::dot(base, area(low)) < 0 || glm::dot(base, area(high)) < 0)
            out.push_back(Vec3((at[t.vertex[0]] + at[t.vertex[1]] + at[t.vertex[2]]) / 3.0));
    }
    return out;
}

std::array<double, 2> DrapeSurface::stretch(const DVec2& size) const {
    double least = 1e300, most = 0;
    for (const Triangle& t : triangles_) {
        const auto at = [&](int k) { return DVec3((*mesh_.positions)[t.vertex[k]]); };
        const auto factors =
            triangle_stretch((t.uv[1] - t.uv[0]) * size, (t.uv[2] - t.uv[0]) * size, at(1) - at(0), at(2) - at(0));
        if (!factors) continue;
        least = std::min(least, (*factors)[0]);
        most = std::max(most, (*factors)[1]);
    }
    return {least, most};
}

TileCheck check_tile(const Mesh& mesh, int axis, double low, double high, double within) {
    TileCheck out;
    // Points of border edges that lie in the side: one that only touches it belongs to a border of another side.
    std::array<std::vector<std::uint8_t>, 2> on;
    on.fill(std::vector<std::uint8_t>(mesh.vertex_count(), 0));
    const Array<Vec3>& places = *mesh.positions;
    const Adjacency& near = mesh.topology->adjacency();
    const std::array<double, 2> at = {low, high};
    for (Index e = 0; e < mesh.edge_count(); ++e) {
        stop_point(e);
        const auto [a, b] = mesh.topology->edges[e];
        if (near.faces_of_edge(e).size() != 1) continue;
        for (std::size_t side = 0; side < 2; ++side)
            if (std::abs(static_cast<double>(places[a][axis]) - at[side]) <= within &&
                std::abs(static_cast<double>(places[b][axis]) - at[side]) <= within)
                on[side][a] = on[side][b] = 1;
    }
    std::vector<DVec3> sides[2];
    const std::array<int, 2> across = {axis == 0 ? 1 : 0, 2};
    for (std::size_t side = 0; side < 2; ++side)
        for (std::size_t i = 0; i < places.size(); ++i) {
            stop_point(i);
            if (on[side][i]) sides[side].emplace_back(places[i]);
        }
    const auto order = [&](const DVec3& a, const DVec3& b) { return a[across[0]] < b[across[0]]; };
    for (auto& side : sides) std::stable_sort(side.begin(), side.end(), order);
    for (int s = 0; s < 2; ++s) {
        const auto& own = sides[s];
        const auto& other = sides[1 - s];
        for (const DVec3& p : own) {
            stop_point();  // each may look at many
            double nearest = 1e300;
            DVec3 from = p;
            from[across[0]] -= 1e3 * within;
            for (auto it = std::lower_bound(other.begin(), other.end(), from, order);
                 it != other.end() && (*it)[across[0]] <= p[across[0]] + 1e3 * within; ++it)
                nearest =
                    std::min(nearest, std::hypot((*it)[across[0]] - p[across[0]], (*it)[across[1]] - p[across[1]]));
            if (nearest <= within) {
                out.pairs += s == 0;
            } else {
                out.unmatched.push_back(Vec3(p));
                if (nearest < 1e299) out.worst = std::max(out.worst, nearest);
            }
        }
    }
    return out;
}

}  // namespace bricol
