// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/quad_relax.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/ground/stop.h"
#include "core/kernels/surface_finder.h"

namespace bricol {

namespace {

/// Faces at every vertex.
struct Incident {
    std::vector<Index> offsets, faces;
    Incident(std::size_t vertices, const std::vector<std::array<Index, 4>>& all) : offsets(vertices + 1, 0) {
        for (const auto& face : all)
            for (std::size_t k = 0; k < corners_of(face); ++k) ++offsets[face[k] + 1];
        for (std::size_t v = 0; v < vertices; ++v) offsets[v + 1] += offsets[v];
        faces.resize(offsets.back());
        std::vector<Index> next(offsets.begin(), offsets.end() - 1);
        for (Index f = 0; f < all.size(); ++f)
            for (std::size_t k = 0; k < corners_of(all[f]); ++k) faces[next[all[f][k]]++] = f;
    }
    std::span<const Index> at(Index v) const { return {faces.data() + offsets[v], faces.data() + offsets[v + 1]}; }
};

/// Takes away free vertices that lie between two faces only, and makes one face of the two. True when there were some.
bool drop_between_two(const EvenTriangles& t, std::vector<std::array<Index, 4>>& faces) {
    const Incident incident(t.point.size(), faces);
    std::vector<std::uint8_t> changed(faces.size(), 0);
    bool some = false;
    for (Index v = 0; v < t.point.size(); ++v) {
        const auto at = incident.at(v);
        if (at.size() != 2 || t.hold[v] != VertexHold::free || changed[at[0]] || changed[at[1]]) continue;
        // Round v: neighbour after it, what lies opposite, neighbour before it.
        const auto round = [&](const std::array<Index, 4>& face) {
            const std::size_t count = corners_of(face);
            const auto k = static_cast<std::size_t>(std::ranges::find(face, v) - face.begin());
            std::vector<Index> out;
            for (std::size_t i = 1; i < count; ++i) out.push_back(face[(k + i) % count]);
            return out;
        };
        const std::vector<Index> one = round(faces[at[0]]), two = round(faces[at[1]]);
        if (one.front() != two.back() || one.back() != two.front()) continue;
        std::vector<Index> whole = one;
        whole.insert(whole.end(), two.begin() + 1, two.end() - 1);
        if (whole.size() < 3 || (whole.size() == 4 && whole[1] == whole[3])) continue;
        faces[at[0]] = {whole[0], whole[1], whole[2], whole.size() == 4 ? whole[3] : no_index};
        faces[at[1]][0] = no_index;
        changed[at[0]] = changed[at[1]] = 1;
        some = true;
    }
    std::erase_if(faces, [](const auto& face) { return face[0] == no_index; });
    return some;
}

/// The corners of the regular polygon that fits a face best in the sense of least squares.
std::array<DVec3, 4> fitted(const std::vector<DVec3>& points, const std::array<Index, 4>& face) {
    const std::size_t count = corners_of(face);
    const auto at = [&](std::size_t k) -> const DVec3& { return points[face[k]]; };
    DVec3 middle(0);
    for (std::size_t k = 0; k < count; ++k) middle += at(k);
    middle /= static_cast<double>(count);
    std::array<DVec3, 4> out{};
    DVec3 normal = count == 4 ? glm::cross(at(2) - at(0), at(3) - at(1)) : glm::cross(at(1) - at(0), at(2) - at(0));
    const double size = glm::length(normal);
    for (std::size_t k = 0; k < count; ++k) out[k] = at(k);
    if (!(size > 0)) return out;
    normal /= size;
    const double step = 2 * std::numbers::pi / static_cast<double>(count);
    const auto turned = [&](const DVec3& v, double angle) {
        return v * std::cos(angle) + glm::cross(normal, v) * std::sin(angle);
    };
    DVec3 arm(0);
    for (std::size_t k = 0; k < count; ++k) {
        const DVec3 way = at(k) - middle;
        arm += turned(way - normal * glm::dot(normal, way), -step * static_cast<double>(k));
    }
    arm /= static_cast<double>(count);
    for (std::size_t k = 0; k < count; ++k) out[k] = middle + turned(arm, step * static_cast<double>(k));
    return out;
}

double shape_of(const std::vector<DVec3>& points, const std::array<Index, 4>& face) {
    if (corners_of(face) == 4)
        return scaled_jacobian(points[face[0]], points[face[1]], points[face[2]], points[face[3]]);
    return 1;
}

class Relaxing {
public:
    Relaxing(EvenTriangles& triangles, const QuadFaces& faces, QuadLines& lines, const SurfaceFinder& surface)
        : t_(triangles), faces_(faces.faces), lines_(lines), surface_(surface), incident_(t_.point.size(), faces_) {}

    void round(double reach) {
        std::vector<DVec3> sum(t_.point.size(), DVec3(0)), normal(t_.point.size(), DVec3(0));
        for (const auto& face : faces_) {
            const std::array<DVec3, 4> fit = fitted(t_.point, face);
            const DVec3 way = glm::cross(t_.point[face[1]] - t_.point[face[0]], t_.point[face[2]] - t_.point[face[0]]);
            for (std::size_t k = 0; k < corners_of(face); ++k) sum[face[k]] += fit[k], normal[face[k]] += way;
        }
        std::vector<Index> moved;
        Array<Vec3> wanted;
        for (Index v = 0; v < t_.point.size(); ++v) {
            stop_point(v);
            const std::size_t count = incident_.at(v).size();
            if (count == 0 || t_.hold[v] == VertexHold::corner) continue;
            const DVec3 to = sum[v] / static_cast<double>(count);
            if (t_.hold[v] == VertexHold::line)
                slide(v, to);
            else
                moved.push_back(v), wanted.push_back(Vec3(to));
        }
        std::vector<SurfaceHit> hits(moved.size());
        surface_.nearest(wanted, hits, reach);
        for (std::size_t i = 0; i < moved.size(); ++i) {
            stop_point(i);
            if (hits[i] && glm::dot(surface_normal(hits[i].triangle), normal[moved[i]]) > 0) move(moved[i], hits[i].at);
        }
    }

private:
    void slide(Index v, const DVec3& to) {
        QuadPlace& place = lines_.place[v];
        if (place.line == no_index) return;
        const QuadLine& line = lines_.lines[place.line];
        const double step = 1e-4 * line.past.back();
        const DVec3 ahead = line.at(place.along + step) - line.at(place.along - step);
        const double size = glm::length(ahead);
        if (!(size > 0)) return;
        const double along = place.along + glm::dot(to - t_.point[v], ahead) / size;
        if (!line.ring && (along <= 0 || along >= line.past.back())) return;
        if (move(v, line.at(along))) place.along = along;
    }
    /// Not where a face would be turned over, or a bad one get worse.
    bool move(Index v, const DVec3& to) {
        const DVec3 before = t_.point[v];
        double worst = 1, now = 1;
        for (const Index f : incident_.at(v)) worst = std::min(worst, shape_of(t_.point, faces_[f]));
        t_.point[v] = to;
        for (const Index f : incident_.at(v)) now = std::min(now, shape_of(t_.point, faces_[f]));
        if (now >= std::min(worst, 0.3)) return true;
        t_.point[v] = before;
        return false;
    }
    DVec3 surface_normal(Index triangle) const {
        const auto& corners = surface_.triangles()[triangle];
        const Mesh& mesh = surface_.mesh();
        const auto at = [&](std::size_t k) {
            return DVec3((*mesh.positions)[mesh.topology->corner_vertex[corners[k]]]);
        };
        return glm::cross(at(1) - at(0), at(2) - at(0));
    }

    EvenTriangles& t_;
    const std::vector<std::array<Index, 4>>& faces_;
    QuadLines& lines_;
    const SurfaceFinder& surface_;
    Incident incident_;
};

}  // namespace

QuadFaces quad_faces(const EvenTriangles& t, const std::vector<Index>& pairs) {
    QuadFaces out;
    for (Index f = 0; f < pairs.size(); ++f) {
        if (t.gone(3 * f) || (pairs[f] != no_index && pairs[f] < f)) continue;
        std::array<Index, 4> face{t.from[3 * f], t.from[3 * f + 1], t.from[3 * f + 2], no_index};
        for (Index h = 3 * f; h < 3 * f + 3 && pairs[f] != no_index; ++h)
            if (const Index other = t.twin[h]; other != no_index && other / 3 == pairs[f]) {
                face = {t.from[h], t.from[EvenTriangles::prior(other)], t.to(h), t.from[EvenTriangles::prior(h)]};
                break;
            }
        out.faces.push_back(face);
    }
    for (int round = 0; round < 10 && drop_between_two(t, out.faces); ++round) {
    }
    return out;
}

Mesh quad_mesh(const EvenTriangles& t, const QuadFaces& faces) {
    std::vector<Index> number(t.point.size(), no_index);
    Array<Vec3> points;
    Array<Index> offsets{0}, corners;
    for (const auto& face : faces.faces) {
        for (const Index corner : face) {
            if (corner == no_index) continue;
            const Index v = t.alias[corner];
            if (number[v] == no_index) {
                number[v] = static_cast<Index>(points.size());
                points.emplace_back(t.point[v]);
            }
            corners.push_back(number[v]);
        }
        offsets.push_back(static_cast<Index>(corners.size()));
    }
    const auto count = static_cast<Index>(points.size());
    return Mesh(std::move(points), make_topology(count, std::move(offsets), std::move(corners)));
}

void relax_quads(EvenTriangles& triangles, const QuadFaces& faces, QuadLines& lines, const SurfaceFinder& surface,
                 double reach, int rounds) {
    Relaxing work(triangles, faces, lines, surface);
    for (int round = 0; round < rounds; ++round) work.round(reach);
}

}  // namespace bricol
