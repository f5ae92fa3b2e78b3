// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/shadows.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/ground/parallel.h"
#include "core/ground/stop.h"

namespace bricol {

namespace {

/// Whether p is the lower one when it counts as moved by `way` times next to nothing.
bool lower(double p, double q, double way) { return p < q || (p == q && way < 0); }

/// The number a share of the way from a to b, never outside them: a box that is passed stays passed.
double between_numbers(double a, double b, double share) {
    const double value = share < 0.5 ? a + share * (b - a) : b - (1 - share) * (b - a);
    return std::clamp(value, std::min(a, b), std::max(a, b));
}

/// Ends that only count as apart because they are pushed apart are met in the middle.
double share_of(double at, double a, double b) { return a == b ? 0.5 : std::clamp((at - a) / (b - a), 0.0, 1.0); }

/// Where a difference that is `low` >= 0 at one end and `high` <= 0 at the other comes to nothing.
double zero_of(double low, double high) { return low - high > 0 ? std::clamp(low / (low - high), 0.0, 1.0) : 0.5; }

}  // namespace

bool passes_by(const DVec3& from, const DVec3& to, const DVec3& a, const DVec3& b, const DVec3& c) {
    const DVec3 way = to - from, u = a - from, v = b - from, w = c - from;
    const double far = std::sqrt(std::max({glm::dot(u, u), glm::dot(v, v), glm::dot(w, w), 1e-12 * glm::dot(a, a)}));
    const auto beside = [&](const DVec3& p) { return way.x * p.y - way.y * p.x; };
    const double doubt = 1e-9 * (std::abs(way.x) + std::abs(way.y)) * far, su = beside(u), sv = beside(v),
                 sw = beside(w);
    if ((su > doubt && sv > doubt && sw > doubt) || (su < -doubt && sv < -doubt && sw < -doubt)) return true;
    const DVec3 normal = glm::cross(b - a, c - a);
    const double h0 = -glm::dot(normal, u), h1 = glm::dot(normal, to - a);
    const double unsure = 1e-9 * glm::length(normal) * (far + glm::length(to - a));
    return (h0 > unsure && h1 > unsure) || (h0 < -unsure && h1 < -unsure);
}

ShadowSurface::ShadowSurface(const TaggedTriangles& soup, int push, const Box* reach)
    : soup_(soup), pushed_(push != 0) {
    boxes_.assign(soup.triangles.size(), Box::nothing());
    parallel::each(parallel::Numbers<std::size_t>(0, boxes_.size(), 8192), [&](const auto& range) {
        stop_point();
        for (std::size_t i = range.begin(); i != range.end(); ++i)
            for (const Index v : soup.triangles[i]) boxes_[i].add(soup.points[v]);
    });
    for (const Box& box : boxes_) box_.add(box);
    parallel::together([&] { find_edges(); }, [&] { find_ways(push, reach); });
}

void ShadowSurface::find_edges() {
    // Sides sorted by their points; of each pair of points the sides one way are matched with those the other way.
    struct Side {
        std::uint64_t points;
        Index place;  ///< 3 x triangle + corner
    };
    const std::size_t n = soup_.triangles.size();
    // Sorted by the lower point first with a count, then each point's few by the rest.
    std::vector<Index> start(soup_.points.size() + 1, 0);
    for (std::size_t i = 0; i < n; stop_point(i), ++i)
        for (int k = 0; k < 3; ++k) ++start[std::min(soup_.triangles[i][k], soup_.triangles[i][(k + 1) % 3]) + 1];
    std::partial_sum(start.begin(), start.end(), start.begin());
    std::vector<Side> sides(3 * n);
    std::vector<Index> next(start.begin(), start.end() - 1);
    for (std::size_t i = 0; i < n; ++i) {
        stop_point(i);
        for (int k = 0; k < 3; ++k) {
            const Index a = soup_.triangles[i][k], b = soup_.triangles[i][(k + 1) % 3];
            sides[next[std::min(a, b)]++] = {std::uint64_t(std::min(a, b)) << 32 | std::max(a, b),
                                             static_cast<Index>(3 * i + static_cast<std::size_t>(k))};
        }
    }
    parallel::each(parallel::Numbers<std::size_t>(0, soup_.points.size(), 8192), [&](const auto& range) {
        stop_point();
        for (std::size_t v = range.begin(); v != range.end(); ++v)
            std::sort(sides.begin() + start[v], sides.begin() + start[v + 1], [](const Side& a, const Side& b) {
                return a.points != b.points ? a.points < b.points : a.place < b.place;
            });
    });
    edge_of_.resize(n);
    edges_.reserve(sides.size() / 2);
    std::vector<Index> along, against;
    for (std::size_t i = 0; i < sides.size();) {
        stop_point(i);
        along.clear(), against.clear();
        std::size_t j = i;
        for (; j < sides.size() && sides[j].points == sides[i].points; ++j)
            (sign_of(sides[j].place / 3, static_cast<int>(sides[j].place % 3)) > 0 ? along : against)
                .push_back(sides[j].place);
        for (std::size_t k = 0; k < std::max(along.size(), against.size()); ++k) {
            Edge edge{static_cast<Index>(sides[i].points >> 32), static_cast<Index>(sides[i].points & 0xffffffffu), {}};
            edge.sides = {no_index, no_index};
            for (const int s : {0, 1}) {
                const auto& list = s == 0 ? along : against;
                if (k >= list.size()) continue;
                edge.sides[s] = list[k] / 3;
                edge_of_[list[k] / 3][list[k] % 3] = static_cast<Index>(edges_.size());
            }
            edges_.push_back(edge);
        }
        i = j;
    }
}

void ShadowSurface::find_ways(double push, const Box* reach) {
    ways_.assign(soup_.points.size(), DVec3(0));
    if (push == 0) return;
    // Sums of unit normals, weighed by the angle at the point, so that a face's diagonals make no difference.
    for (std::size_t i = 0; i < soup_.triangles.size(); ++i) {
        stop_point(i);
        if (reach && !reach->touches(boxes_[i])) continue;
        const auto& t = soup_.triangles[i];
        const std::array<DVec3, 3> p = {soup_.points[t[0]], soup_.points[t[1]], soup_.points[t[2]]};
        const DVec3 normal = glm::cross(p[1] - p[0], p[2] - p[0]);
        const double size = glm::length(normal);
        if (!(size > 0)) continue;
        for (int k = 0; k < 3; ++k) {
            const DVec3 a = p[(k + 1) % 3] - p[k], b = p[(k + 2) % 3] - p[k];
            ways_[t[k]] += normal * (push * std::atan2(glm::length(glm::cross(a, b)), glm::dot(a, b)) / size);
        }
    }
    // What is left of sums that should be nothing says nothing.
    for (DVec3& way : ways_)
        for (int k = 0; k < 3; ++k)
            if (std::abs(way[k]) < 1e-9) way[k] = 0;
}

Box ShadowSurface::edge_box(Index edge) const {
    Box box = Box::nothing();
    box.add(points()[edges_[edge].low]), box.add(points()[edges_[edge].high]);
    return box;
}

// ---- Comparisons ---------------------------------------------------------------------------------------------------

bool Shadows::left_of(Index p, Index q) const { return lower(p_.points()[p].x, q_.points()[q].x, p_.way(p).x); }

Shadows::Aside Shadows::point_p_edge_q(Index p, const ShadowSurface::Edge& q) const {
    Aside out;
    out.count = int(left_of(p, q.high)) - int(left_of(p, q.low));
    if (out.count == 0) return out;
    const DVec3 &at = p_.points()[p], &a = q_.points()[q.low], &b = q_.points()[q.high];
    const double share = share_of(at.x, a.x, b.x);
    out.y = between_numbers(a.y, b.y, share);
    out.z = between_numbers(a.z, b.z, share);
    out.below = lower(at.y, out.y, p_.way(p).y);
    return out;
}

Shadows::Aside Shadows::edge_p_point_q(const ShadowSurface::Edge& p, Index q) const {
    Aside out;
    out.count = int(left_of(p.high, q)) - int(left_of(p.low, q));
    if (out.count == 0) return out;
    const DVec3 &at = q_.points()[q], &a = p_.points()[p.low], &b = p_.points()[p.high];
    const double share = share_of(at.x, a.x, b.x);
    out.y = between_numbers(a.y, b.y, share);
    out.z = between_numbers(a.z, b.z, share);
    out.below = lower(out.y, at.y, p_.way(p.low).y + p_.way(p.high).y);
    return out;
}

Shadows::End Shadows::edges(Index edge_p, Index edge_q) const {
    const ShadowSurface::Edge &p = p_.edges()[edge_p], &q = q_.edges()[edge_q];
    // Where the edges pass one another seen from above: the two ends of what they share of x.
    struct Stretch {
        double x, yp, zp, yq, zq;
        bool below;
    };
    std::array<Stretch, 4> ends{};
    int found = 0, count = 0;
    for (const int side : {0, 1}) {
        const Index v = side == 0 ? p.low : p.high;
        const Aside a = point_p_edge_q(v, q);
        if (a.count == 0) continue;
        const DVec3& at = p_.points()[v];
        ends[found++] = {at.x, at.y, at.z, a.y, a.z, a.below};
        if (a.below) count += side == 0 ? -a.count : a.count;
    }
    for (const int side : {0, 1}) {
        const Index v = side == 0 ? q.low : q.high;
        const Aside a = edge_p_point_q(p, v);
        if (a.count == 0) continue;
        const DVec3& at = q_.points()[v];
        ends[found++] = {at.x, a.y, a.z, at.y, at.z, a.below};
        if (a.below) count += side == 0 ? a.count : -a.count;
    }
    End out;
    if (count == 0) return out;
    int lower_end = 0, upper_end = 0;
    for (int i = 0; i < found; ++i) (ends[i].below ? lower_end : upper_end) = i;
    const Stretch &a = ends[lower_end], &b = ends[upper_end];
    const double share = zero_of(a.yq - a.yp, b.yq - b.yp);
    out.count = count;
    out.x = between_numbers(a.x, b.x, share);
    out.y = between_numbers(a.yp, b.yp, share);
    out.zp = between_numbers(a.zp, b.zp, share);
    out.zq = between_numbers(a.zq, b.zq, share);
    out.below = lower(out.zp, out.zq, p_.way(p.low).z + p_.way(p.high).z);
    return out;
}

Shadows::End Shadows::point_p_face_q(Index p, Index triangle) const {
    End out;
    std::array<Aside, 3> beside;
    int first = -1, second = -1;
    for (int k = 0; k < 3; ++k) {
        beside[k] = point_p_edge_q(p, q_.edges()[q_.edge_of(triangle, k)]);
        if (beside[k].count == 0) continue;
        if (beside[k].below) out.count += q_.sign_of(triangle, k) * beside[k].count;
        (beside[k].below ? first : second) = k;
    }
    if (out.count == 0) return out;
    const DVec3& at = p_.points()[p];
    const Aside &above = beside[first], &under = second < 0 ? above : beside[second];
    const double share = zero_of(above.y - at.y, under.y - at.y);
    out.x = at.x, out.y = at.y, out.zp = at.z;
    out.zq = between_numbers(above.z, under.z, share);
    out.below = lower(out.zp, out.zq, p_.way(p).z);
    return out;
}

Shadows::End Shadows::face_p_point_q(Index triangle, Index q) const {
    End out;
    std::array<Aside, 3> beside;
    int first = -1, second = -1;
    for (int k = 0; k < 3; ++k) {
        beside[k] = edge_p_point_q(p_.edges()[p_.edge_of(triangle, k)], q);
        if (beside[k].count == 0) continue;
        if (beside[k].below) out.count += p_.sign_of(triangle, k) * beside[k].count;
        (beside[k].below ? first : second) = k;
    }
    if (out.count == 0) return out;
    const DVec3& at = q_.points()[q];
    const Aside &under = beside[first], &above = second < 0 ? under : beside[second];
    const double share = zero_of(at.y - under.y, at.y - above.y);
    out.x = at.x, out.y = at.y, out.zq = at.z;
    out.zp = between_numbers(under.z, above.z, share);
    double way = 0;
    for (const Index v : p_.soup().triangles[triangle]) way += p_.way(v).z;
    out.below = lower(out.zp, out.zq, way);
    return out;
}

std::optional<Crossing> Shadows::between(const std::array<End, 5>& ends, int count) {
    if (count == 0) return std::nullopt;
    int lower_end = -1, upper_end = -1;
    for (int i = 0; i < 5; ++i)
        if (ends[i].count != 0) (ends[i].below ? lower_end : upper_end) = i;
    const End &a = ends[lower_end], &b = upper_end < 0 ? a : ends[upper_end];
    const double share = zero_of(a.zq - a.zp, b.zq - b.zp);
    Crossing out;
    out.at = {between_numbers(a.x, b.x, share), between_numbers(a.y, b.y, share), between_numbers(a.zp, b.zp, share)};
    return out;
}

std::optional<Crossing> Shadows::edge_of_p(Index edge, Index triangle) const {
    const ShadowSurface::Edge& e = p_.edges()[edge];
    std::array<End, 5> ends;
    ends[0] = point_p_face_q(e.low, triangle);
    ends[1] = point_p_face_q(e.high, triangle);
    int count = (ends[1].below ? ends[1].count : 0) - (ends[0].below ? ends[0].count : 0);
    for (int k = 0; k < 3; ++k) {
        ends[k + 2] = edges(edge, q_.edge_of(triangle, k));
        if (ends[k + 2].below) count -= q_.sign_of(triangle, k) * ends[k + 2].count;
    }
    auto out = between(ends, count);
    if (out) out->edge = edge, out->triangle = triangle, out->enters = -count;
    return out;
}

std::optional<Crossing> Shadows::edge_of_q(Index edge, Index triangle) const {
    const ShadowSurface::Edge& e = q_.edges()[edge];
    std::array<End, 5> ends;
    ends[0] = face_p_point_q(triangle, e.low);
    ends[1] = face_p_point_q(triangle, e.high);
    int count = (ends[1].below ? ends[1].count : 0) - (ends[0].below ? ends[0].count : 0);
    for (int k = 0; k < 3; ++k) {
        ends[k + 2] = edges(p_.edge_of(triangle, k), edge);
        if (ends[k + 2].below) count += p_.sign_of(triangle, k) * ends[k + 2].count;
    }
    auto out = between(ends, count);
    if (out) out->edge = edge, out->triangle = triangle, out->enters = count;
    return out;
}

int Shadows::winding_at_p(Index point, Index triangle) const {
    const End end = point_p_face_q(point, triangle);
    return end.below ? -end.count : 0;
}

int Shadows::winding_at_q(Index point, Index triangle) const {
    const End end = face_p_point_q(triangle, point);
    return end.below ? end.count : 0;
}

}  // namespace bricol
