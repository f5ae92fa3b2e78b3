// SPDX-License-Identifier: GPL-3.0-or-later
// Putting the kept parts of two crossed surfaces together.
#include <algorithm>
#include <cmath>
#include <numeric>
#include <span>
#include <tuple>

#include "core/ground/disjoint_sets.h"
#include "core/ground/parallel.h"
#include "core/ground/stop.h"
#include "core/kernels/boolean_outlines.h"
#include "core/kernels/boolean_shadows.h"
#include "core/kernels/polygon_triangles.h"
#include "core/kernels/separate_fans.h"

namespace bricol {

namespace {

/// Starts or ends of pieces along an edge or a line, `place` along it.
struct Event {
    double place = 0;
    Index point = 0;
    int count = 0;  ///< pieces that start there; negative for those that end
};

/// Starts with ends, both in the order in which they come.
template <class Piece>
void paired(std::vector<Event>& events, const Piece& piece) {
    std::stable_sort(events.begin(), events.end(), [](const Event& a, const Event& b) { return a.place < b.place; });
    std::size_t end = 0;
    int ends_left = 0;
    for (const Event& start : events)
        for (int i = 0; i < start.count; ++i) {
            while (ends_left == 0 && end < events.size()) {
                if (events[end].count < 0) ends_left = -events[end].count;
                ++end;
            }
            if (ends_left == 0) return;  // cannot be: the sums are equal by the identities
            --ends_left;
            piece(start.point, events[end - 1].point);
        }
}

class Assembly {
public:
    Assembly(const ShadowSurface& p, const ShadowSurface& q, const Crossed& crossed, const Keeping& keeping,
             const std::array<const Beyond*, 2>& beyond)
        : surfaces_{&p, &q}, crossed_(crossed), keeping_(keeping), beyond_(beyond) {}

    TaggedTriangles made(std::vector<std::array<DVec3, 2>>* lines) {
        number_points();
        find_polygons();
        for (const int s : {0, 1})
            if (wanted(s)) cut_edges(s);
        add_lines();
        gather_whole();
        Box all = Box::nothing();
        for (const int s : {0, 1}) all.add(surfaces_[s]->box());
        const DVec3 far = glm::max(glm::abs(all.low), glm::abs(all.high));
        whole_joined_ =
            tidy_outlines(points_, sides_, whole_triangles_, fresh_[0], 4e-7 * std::max({far.x, far.y, far.z}));
        if (lines)
            for (const KeptSide& side : sides_)
                if (side.line) lines->push_back({points_[side.from], points_[side.to]});
        return triangles();
    }

private:
    bool wanted(int s) const { return s == 0 ? keeping_.p : keeping_.q; }
    const std::vector<Crossing>& crossings(int s) const { return s == 0 ? crossed_.of_p : crossed_.of_q; }
    /// How often a point of a surface is in the result; negative where the surface is turned round.
    int count(int s, Index point) const {
        const auto& winding = s == 0 ? crossed_.winding_p : crossed_.winding_q;
        return (s == 0 ? keeping_.own_p : keeping_.own_q) + keeping_.times * winding[point];
    }
    Index polygon(int s, Index triangle) const { return polygon_of_[s][triangle]; }

    /// Triangles of one tag are one polygon where they lie in one plane, so that their diagonals leave no trace; a
    /// bent one has real edges there.
    void find_polygons() {
        for (const int s : {0, 1}) {
            const TaggedTriangles& soup = surfaces_[s]->soup();
            const std::size_t n = soup.triangles.size();
            const double turned = s == 1 && keeping_.own_q == 0 && keeping_.times < 0 ? -1 : 1;
            polygon_of_[s].resize(n);
            std::vector<Index> order(n);
            std::iota(order.begin(), order.end(), Index(0));
            if (!std::is_sorted(soup.tags.begin(), soup.tags.end()))
                std::stable_sort(order.begin(), order.end(),
                                 [&](Index a, Index b) { return soup.tags[a] < soup.tags[b]; });
            for (std::size_t i = 0; i < n;) {
                stop_point(i);
                std::size_t j = i;
                DVec3 normal(0);
                const auto normal_of = [&](Index t) {
                    const auto& [a, b, c] = soup.triangles[t];
                    return turned * glm::cross(soup.points[b] - soup.points[a], soup.points[c] - soup.points[a]);
                };
                for (; j < n && soup.tags[order[j]] == soup.tags[order[i]]; ++j) normal += normal_of(order[j]);
                const bool one = j == i + 1 || flat(soup, std::span(order).subspan(i, j - i), turned * normal);
                for (std::size_t k = i; k < j; ++k) {
                    if (k == i || !one) {
                        tag_of_.push_back(soup.tags[order[k]]);
                        normals_.push_back(one ? normal : normal_of(order[k]));
                    }
                    polygon_of_[s][order[k]] = static_cast<Index>(tag_of_.size() - 1);
                }
                i = j;
            }
        }
    }
    static bool flat(const TaggedTriangles& soup, std::span<const Index> triangles, const DVec3& normal) {
        const double length = glm::length(normal);
        if (!(length > 0)) return false;
        const DVec3 n = normal / length, origin = soup.points[soup.triangles[triangles[0]][0]];
        double size = 0, off = 0, far = 0;
        for (const Index t : triangles) {
            const auto& [a, b, c] = soup.triangles[t];
            if (glm::dot(glm::cross(soup.points[b] - soup.points[a], soup.points[c] - soup.points[a]), n) < 0)
                return false;
            for (const Index v : soup.triangles[t]) {
                const DVec3 d = soup.points[v] - origin;
                off = std::max(off, std::abs(glm::dot(d, n)));
                size = std::max(size, glm::length(d));
                far = std::max(far, glm::length(soup.points[v]));
            }
        }
        return off <= 1e-5 * size + 3e-7 * far;  // the second is what single precision leaves of a plane
    }

    /// Points of p, points of q, crossings of edges of p, of edges of q.
    void number_points() {
        for (const int s : {0, 1}) {
            base_[s] = static_cast<Index>(points_.size());
            points_.insert(points_.end(), surfaces_[s]->points().begin(), surfaces_[s]->points().end());
        }
        for (const int s : {0, 1}) {
            fresh_[s] = static_cast<Index>(points_.size());
            for (const Crossing& crossing : crossings(s)) points_.push_back(crossing.at);
        }
    }

    void add_piece(int s, const ShadowSurface::Edge& edge, Index from, Index to) {
        const auto [along, against] = edge.sides;
        // A diagonal of one polygon has both its sides in it: they cancel.
        if (along != no_index && against != no_index && polygon(s, along) == polygon(s, against)) return;
        if (along != no_index && !whole_[s][along]) sides_.push_back({polygon(s, along), from, to});
        if (against != no_index && !whole_[s][against]) sides_.push_back({polygon(s, against), to, from});
    }

    void cut_edges(int s) {
        const ShadowSurface& surface = *surfaces_[s];
        const auto& list = crossings(s);
        std::vector<Event> events;
        std::size_t next = 0;
        // Polygons that nothing cuts come through as the triangles they are.
        std::vector<std::uint8_t> cut(tag_of_.size(), 0);
        for (const Crossing& crossing : list)
            for (const Index t : surface.edges()[crossing.edge].sides)
                if (t != no_index) cut[polygon(s, t)] = 1;
        for (const Crossing& crossing : crossings(1 - s)) cut[polygon(s, crossing.triangle)] = 1;
        // Their neighbours are put together anew as well: their sides may have to take up points.
        std::vector<std::uint8_t> open = cut;
        for (const ShadowSurface::Edge& edge : surface.edges()) {
            const auto [along, against] = edge.sides;
            if (along == no_index || against == no_index) continue;
            if (cut[polygon(s, along)]) open[polygon(s, against)] = 1;
            if (cut[polygon(s, against)]) open[polygon(s, along)] = 1;
        }
        whole_[s].resize(surface.soup().triangles.size());
        for (Index t = 0; t < whole_[s].size(); ++t) whole_[s][t] = !open[polygon(s, t)];
        for (Index e = 0; e < surface.edges().size(); ++e) {
            stop_point(e);
            const ShadowSurface::Edge& edge = surface.edges()[e];
            const std::size_t first = next;
            while (next < list.size() && list[next].edge == e) ++next;
            const bool beside_cut =
                std::ranges::any_of(edge.sides, [&](Index t) { return t != no_index && !whole_[s][t]; });
            if (!beside_cut) continue;
            const int low = count(s, edge.low), high = count(s, edge.high);
            if (first == next) {
                for (int i = 0; i < std::abs(low); ++i)
                    add_piece(s, edge, base_[s] + (low > 0 ? edge.low : edge.high),
                              base_[s] + (low > 0 ? edge.high : edge.low));
                continue;
            }
            const DVec3 from = surface.points()[edge.low], way = surface.points()[edge.high] - from;
            events.clear();
            events.push_back({-1e300, base_[s] + edge.low, low});
            for (std::size_t i = first; i < next; ++i)
                events.push_back({glm::dot(list[i].at - from, way), fresh_[s] + static_cast<Index>(i),
                                  keeping_.times * list[i].enters});
            events.push_back({1e300, base_[s] + edge.high, -high});
            paired(events, [&](Index a, Index b) { add_piece(s, edge, a, b); });
        }
    }

    /// The lines along which a triangle of p and one of q cross: sides of both.
    void add_lines() {
        struct Touch {
            Index p, q, point;
            int count;
        };
        std::vector<Touch> touches;
        for (const int s : {0, 1})
            for (std::size_t i = 0; i < crossings(s).size(); ++i) {
                const Crossing& crossing = crossings(s)[i];
                const auto& sides = surfaces_[s]->edges()[crossing.edge].sides;
                for (const int side : {0, 1}) {
                    if (sides[side] == no_index) continue;
                    // In the triangle of its own surface the pieces that start at the crossing go on from a line that
                    // ends there; in p's way of counting a line of q runs the other way.
                    const int starts = keeping_.times * crossing.enters * (side == 0 ? 1 : -1);
                    touches.push_back({s == 0 ? sides[side] : crossing.triangle,
                                       s == 0 ? crossing.triangle : sides[side], fresh_[s] + static_cast<Index>(i),
                                       s == 0 ? -starts : starts});
                }
            }
        std::sort(touches.begin(), touches.end(), [](const Touch& a, const Touch& b) {
            return std::tie(a.p, a.q, a.point) < std::tie(b.p, b.q, b.point);
        });
        std::vector<Event> events;
        for (std::size_t i = 0; i < touches.size();) {
            stop_point(i);
            std::size_t j = i;
            DVec3 low(1e300), high(-1e300);
            for (; j < touches.size() && touches[j].p == touches[i].p && touches[j].q == touches[i].q; ++j)
                low = glm::min(low, points_[touches[j].point]), high = glm::max(high, points_[touches[j].point]);
            const DVec3 size = high - low;
            const int axis = size.x >= size.y && size.x >= size.z ? 0 : size.y >= size.z ? 1 : 2;
            events.clear();
            for (std::size_t k = i; k < j; ++k)
                events.push_back({points_[touches[k].point][axis], touches[k].point, touches[k].count});
            const Index polygon_p = polygon(0, touches[i].p), polygon_q = polygon(1, touches[i].q);
            paired(events, [&](Index from, Index to) {
                if (keeping_.p) sides_.push_back({polygon_p, from, to, true});
                if (keeping_.q) sides_.push_back({polygon_q, to, from, true});
            });
            i = j;
        }
    }

    /// Triangles of polygons that nothing cuts and that are kept, as the result has them.
    void gather_whole() {
        for (const int s : {0, 1}) {
            if (!wanted(s)) continue;
            const TaggedTriangles& soup = surfaces_[s]->soup();
            for (std::size_t i = 0; i < soup.triangles.size(); ++i) {
                stop_point(i);
                if (!whole_[s][i]) continue;
                auto t = soup.triangles[i];
                const int kept = count(s, t[0]);
                if (kept == 0) continue;
                for (Index& v : t) v = base_[s] + v;
                if (kept < 0) std::swap(t[1], t[2]);
                whole_triangles_.push_back(t);
                whole_tags_.push_back(soup.tags[i]);
            }
            if (beyond_[s] && (s == 0 ? keeping_.own_p : keeping_.own_q) > 0) {
                for (auto t : beyond_[s]->triangles) {
                    stop_point(whole_triangles_.size());
                    for (Index& v : t) v = base_[s] + v;
                    whole_triangles_.push_back(t);
                }
                whole_tags_.insert(whole_tags_.end(), beyond_[s]->tags.begin(), beyond_[s]->tags.end());
            }
        }
    }

    TaggedTriangles triangles() {
        TaggedTriangles out;
        out.triangles.reserve(whole_triangles_.size());
        out.tags.reserve(whole_triangles_.size());
        for (std::size_t i = 0; i < whole_triangles_.size(); ++i) {
            stop_point(i);
            const auto& t = whole_triangles_[i];
            if (t[0] == t[1] || t[1] == t[2] || t[2] == t[0]) continue;  // drawn together
            out.triangles.push_back(t);
            out.tags.push_back(whole_tags_[i]);
        }
        const std::size_t cut_from = out.triangles.size();
        // Cut ones, each put together and cut anew.
        sort_by_polygon(sides_);
        std::vector<std::size_t> starts;
        for (std::size_t i = 0; i < sides_.size(); ++i)
            if (i == 0 || sides_[i].polygon != sides_[i - 1].polygon) starts.push_back(i);
        starts.push_back(sides_.size());
        std::vector<std::vector<std::array<Index, 3>>> pieces(starts.size() - 1);
        parallel::each(std::size_t(0), pieces.size(), [&](std::size_t i) {
            stop_point();
            std::vector<std::array<Index, 2>> sides;
            for (std::size_t k = starts[i]; k < starts[i + 1]; ++k) sides.push_back({sides_[k].from, sides_[k].to});
            pieces[i] = triangles_of_sides(points_, sides, normals_[sides_[starts[i]].polygon]);
        });
        for (std::size_t i = 0; i < pieces.size(); ++i) {
            stop_point(i);
            for (const auto& t : pieces[i]) {
                out.triangles.push_back(t);
                out.tags.push_back(tag_of_[sides_[starts[i]].polygon]);
            }
        }
        drop_unused_points(out);
        separate_fans(out, whole_joined_ ? 0 : cut_from);
        return out;
    }

    void drop_unused_points(TaggedTriangles& out) const {
        std::vector<Index> number(points_.size(), no_index);
        for (std::size_t i = 0; i < out.triangles.size(); ++i) {
            stop_point(i);
            for (Index& v : out.triangles[i]) {
                if (number[v] == no_index) {
                    number[v] = static_cast<Index>(out.points.size());
                    out.points.push_back(points_[v]);
                }
                v = number[v];
            }
        }
    }

    std::array<const ShadowSurface*, 2> surfaces_;
    const Crossed& crossed_;
    const Keeping& keeping_;
    const std::array<const Beyond*, 2>& beyond_;
    std::vector<DVec3> points_;
    std::array<Index, 2> base_{}, fresh_{};
    std::vector<KeptSide> sides_;
    std::vector<std::array<Index, 3>> whole_triangles_;
    std::vector<Index> whole_tags_;
    std::array<std::vector<Index>, 2> polygon_of_;  ///< of the triangles
    std::vector<Index> tag_of_;                     ///< of the polygons
    std::vector<DVec3> normals_;                    ///< of the polygons, of any length, as the result has them
    std::array<std::vector<std::uint8_t>, 2> whole_;
    bool whole_joined_ = false;  ///< triangles that nothing cuts may have come to share points
};

}  // namespace

TaggedTriangles kept_parts(const ShadowSurface& p, const ShadowSurface& q, const Crossed& crossed,
                           const Keeping& keeping, std::vector<std::array<DVec3, 2>>* lines,
                           const std::array<const Beyond*, 2>& beyond) {
    return Assembly(p, q, crossed, keeping, beyond).made(lines);
}

}  // namespace bricol
