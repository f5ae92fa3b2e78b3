// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/boolean_mend.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <numbers>
#include <span>

#include "core/ground/disjoint_sets.h"
#include "core/ground/parallel.h"
#include "core/ground/stop.h"
#include "core/kernels/box_tree.h"
#include "core/kernels/polygon_triangles.h"
#include "core/kernels/shadows.h"
#include "core/kernels/triangles_apart.h"

namespace bricol {

namespace {

/// Whether the outer side of a surface is kept where so much winds round it: outside is nothing, inside something.
int kept_at(int outside) { return outside == 0 ? 1 : 0; }

double solid_angle_share(const TaggedTriangles& soup, const DVec3& point) {
    double sum = 0;
    for (std::size_t i = 0; i < soup.triangles.size(); ++i) {
        stop_point(i);
        const auto& t = soup.triangles[i];
        const DVec3 a = soup.points[t[0]] - point, b = soup.points[t[1]] - point, c = soup.points[t[2]] - point;
        const double la = glm::length(a), lb = glm::length(b), lc = glm::length(c);
        sum += std::atan2(glm::dot(a, glm::cross(b, c)),
                          la * lb * lc + glm::dot(a, b) * lc + glm::dot(b, c) * la + glm::dot(c, a) * lb);
    }
    return sum / (2 * std::numbers::pi);
}

/// Triangles of which an edge of one may go through the other; of a surface that does not cross itself, next to none.
std::vector<BoxTree::Pair> may_cross(const TaggedTriangles& soup) {
    std::vector<Box> boxes(soup.triangles.size());
    parallel::each(parallel::Numbers<std::size_t>(0, boxes.size(), 8192), [&](const auto& range) {
        stop_point();
        for (std::size_t i = range.begin(); i != range.end(); ++i) {
            boxes[i] = Box::nothing();
            for (const Index v : soup.triangles[i]) boxes[i].add(soup.points[v]);
        }
    });
    const BoxTree tree(boxes);
    struct Triangle {
        std::array<DVec3, 3> corners;
        std::array<Index, 3> points;
    };
    std::vector<Triangle> triangles(boxes.size());
    for (std::size_t i = 0; i < boxes.size(); stop_point(i), ++i) {
        const auto& t = soup.triangles[tree.order()[i]];
        triangles[i] = {{soup.points[t[0]], soup.points[t[1]], soup.points[t[2]]}, t};
    }
    return tree.pairs([&](std::size_t i, std::size_t j) {
        const auto &a = triangles[i].points, &b = triangles[j].points;
        int shared = 0, of_a = -1, of_b = -1;
        for (int k = 0; k < 3; ++k)
            for (int l = 0; l < 3; ++l)
                if (a[k] == b[l]) ++shared, of_a = k, of_b = l;
        // With two points of the other every edge of either has one of them, and only touches.
        return shared < 2 && !clearly_apart(triangles[i].corners, triangles[j].corners, of_a, of_b);
    });
}

class Mending {
public:
    /// `pairs` as may_cross gives them.
    Mending(const TaggedTriangles& soup, std::vector<BoxTree::Pair> pairs)
        : soup_(soup), pairs_(std::move(pairs)), surface_(soup, 0) {}

    bool crosses() {
        find_crossings();
        return !crossings_.empty();
    }

    std::optional<TaggedTriangles> made() {
        find_crossings();
        if (crossings_.empty()) return std::nullopt;
        if (!pair_up() || !find_levels()) return std::nullopt;
        return put_together();
    }

private:
    using Edge = ShadowSurface::Edge;
    const Edge& edge(Index e) const { return surface_.edges()[e]; }
    const DVec3& at(Index point) const { return points_[point]; }
    bool has(Index triangle, Index point) const {
        const auto& [a, b, c] = soup_.triangles[triangle];
        return a == point || b == point || c == point;
    }
    DVec3 normal(Index triangle) const {
        const auto& [a, b, c] = soup_.triangles[triangle];
        return glm::cross(soup_.points[b] - soup_.points[a], soup_.points[c] - soup_.points[a]);
    }

    using Near = std::vector<std::array<Index, 2>>;  // edge and triangle

    /// Edges of either triangle that may cross the other. With a point of the other an edge only touches it: of
    /// neighbours along an edge, which most pairs in a cell are, none is left.
    void add_near(Index i, Index j, Near& near) const {
        const auto &a = soup_.triangles[i], &b = soup_.triangles[j];
        std::array<bool, 3> of_a{}, of_b{};
        for (int k = 0; k < 3; ++k)
            for (int l = 0; l < 3; ++l)
                if (a[k] == b[l]) of_a[k] = of_b[l] = true;
        add_edges(i, of_a, j, near);
        add_edges(j, of_b, i, near);
    }

    /// An edge of two triangles counts as the first one's.
    void add_edges(Index of, const std::array<bool, 3>& shared, Index triangle, Near& near) const {
        for (int k = 0; k < 3; ++k) {
            if (shared[k] || shared[(k + 1) % 3]) continue;
            const Index e = surface_.edge_of(of, k);
            const auto& sides = edge(e).sides;
            if ((sides[0] == no_index ? sides[1] : sides[0]) != of) continue;
            const auto& [a, b, c] = soup_.triangles[triangle];
            const auto& p = soup_.points;
            if (surface_.edge_box(e).touches(surface_.boxes()[triangle]) &&
                !passes_by(p[edge(e).low], p[edge(e).high], p[a], p[b], p[c]))
                near.push_back({e, triangle});
        }
    }

    /// Edges through triangles that have no point of theirs.
    void find_crossings() {
        const Shadows shadows(surface_, surface_);  // nothing is pushed: what crosses has no point in common
        Near near;
        for (std::size_t i = 0; i < pairs_.size(); ++i) {
            stop_point(i);
            add_near(pairs_[i][0], pairs_[i][1], near);
        }
        std::ranges::sort(near);
        points_ = soup_.points;
        for (std::size_t i = 0; i < near.size(); ++i) {
            stop_point(i);
            const auto crossing = shadows.edge_of_p(near[i][0], near[i][1]);
            if (!crossing) continue;
            crossings_.push_back(*crossing);
            points_.push_back(crossing->at);
        }
        // By edge, in the order in which they come along it.
        const std::size_t n = surface_.edges().size();
        of_edge_.resize(n);
        for (Index i = 0; i < crossings_.size(); ++i) of_edge_[crossings_[i].edge].push_back(i);
        for (std::size_t e = 0; e < n; ++e)
            std::ranges::sort(of_edge_[e], {}, [&](Index i) {
                return glm::distance(crossings_[i].at, soup_.points[edge(static_cast<Index>(e)).low]);
            });
    }
    Index point_of(Index crossing) const { return static_cast<Index>(soup_.points.size()) + crossing; }

    /// A line on which two triangles cross, from a crossing, or a point they share, to a crossing.
    struct Line {
        std::array<Index, 2> triangles{};
        std::array<Index, 2> crossings{no_index, no_index};
        Index shared = no_index;
    };

    /// Every two triangles that cross have one line with two ends, and a single crossing at each; false otherwise.
    bool pair_up() {
        std::map<std::array<Index, 2>, std::vector<Index>> ends;
        for (Index i = 0; i < crossings_.size(); ++i)
            for (const Index side : edge(crossings_[i].edge).sides) {
                if (side == no_index) return false;
                const Index other = crossings_[i].triangle;
                ends[{std::min(side, other), std::max(side, other)}].push_back(i);
            }
        line_at_.resize(soup_.triangles.size(), {false, false, false});
        for (const auto& [pair, list] : ends) {
            Line line{pair, {}, no_index};
            for (const Index v : soup_.triangles[pair[0]])
                if (has(pair[1], v)) {
                    if (line.shared != no_index) return false;  // folded over along an edge
                    line.shared = v;
                }
            if (list.size() != (line.shared == no_index ? 2u : 1u)) return false;
            line.crossings = {list[0], list.size() > 1 ? list[1] : no_index};
            for (const Index t : pair)
                for (int k = 0; k < 3; ++k)
                    if (soup_.triangles[t][k] == line.shared) line_at_[t][k] = true;
            lines_.push_back(line);
        }
        return true;
    }

    /// How often the surface winds round what lies just outside of it, at the start and the end of every edge.
    bool find_levels() {
        const std::size_t n = surface_.edges().size();
        DisjointSets alike(2 * n);  // edge ends: 2 x edge, + 1 for the high one
        for (Index e = 0; e < n; ++e)
            if (of_edge_[e].empty()) alike.join(2 * e, 2 * e + 1);
        for (Index t = 0; t < soup_.triangles.size(); ++t)
            for (int k = 0; k < 3; ++k) {
                if (line_at_[t][k]) continue;
                const Index v = soup_.triangles[t][k];
                alike.join(end_at(surface_.edge_of(t, k), v), end_at(surface_.edge_of(t, (k + 2) % 3), v));
            }
        std::vector<int> level(2 * n, unknown);
        std::vector<std::vector<std::array<int, 2>>> steps(2 * n);  // root → other root, change
        for (Index e = 0; e < n; ++e) {
            if (of_edge_[e].empty()) continue;
            int change = 0;
            for (const Index i : of_edge_[e]) change += crossings_[i].enters;
            const Index a = alike.root(2 * e), b = alike.root(2 * e + 1);
            steps[a].push_back({static_cast<int>(b), change});
            steps[b].push_back({static_cast<int>(a), -change});
        }
        // The longest stretch of each patch is where it is asked.
        std::vector<Index> longest(2 * n, no_index);
        const auto stretch = [&](Index end) {
            const Index e = end / 2;
            const DVec3& from = soup_.points[end % 2 == 0 ? edge(e).low : edge(e).high];
            const DVec3& to = of_edge_[e].empty()
                                  ? soup_.points[end % 2 == 0 ? edge(e).high : edge(e).low]
                                  : crossings_[end % 2 == 0 ? of_edge_[e].front() : of_edge_[e].back()].at;
            return std::pair(from, to);
        };
        for (Index end = 0; end < 2 * n; ++end) {
            Index& best = longest[alike.root(end)];
            const auto [from, to] = stretch(end);
            if (best == no_index || glm::distance(from, to) > glm::distance(stretch(best).first, stretch(best).second))
                best = end;
        }
        std::size_t asked = 0;
        constexpr double most = 5e7;  // solid angles, a second or two
        std::vector<Index> queue;
        for (Index root = 0; root < 2 * n; ++root) {
            if (alike.root(root) != root || level[root] != unknown) continue;
            if (static_cast<double>(++asked) * static_cast<double>(soup_.triangles.size()) > most) return false;
            const auto [from, to] = stretch(longest[root]);
            DVec3 out(0);
            for (const Index t : edge(longest[root] / 2).sides) out += glm::normalize(normal(t));
            if (!(glm::length(out) > 1e-6)) return false;
            const DVec3 place = (from + to) * 0.5 + glm::normalize(out) * (1e-3 * glm::distance(from, to));
            const double winding = solid_angle_share(soup_, place);
            if (std::abs(winding - std::round(winding)) > 0.2) return false;
            level[root] = static_cast<int>(std::lround(winding));
            queue.assign(1, root);
            for (std::size_t i = 0; i < queue.size(); ++i)
                for (const auto& [next, change] : steps[queue[i]]) {
                    if (level[static_cast<std::size_t>(next)] == unknown) {
                        level[static_cast<std::size_t>(next)] = level[queue[i]] + change;
                        queue.push_back(static_cast<Index>(next));
                    } else if (level[static_cast<std::size_t>(next)] != level[queue[i]] + change) {
                        return false;
                    }
                }
        }
        at_low_.resize(n);
        for (Index e = 0; e < n; ++e) at_low_[e] = level[alike.root(2 * e)];
        return true;
    }
    Index end_at(Index e, Index v) const { return 2 * e + (edge(e).high == v ? 1 : 0); }

    struct Side {
        Index triangle, from, to;
    };

    std::optional<TaggedTriangles> put_together() {
        std::vector<std::uint8_t> cut(soup_.triangles.size(), 0);
        for (const Line& line : lines_) cut[line.triangles[0]] = cut[line.triangles[1]] = 1;
        std::vector<Side> sides;
        std::vector<int> least(crossings_.size());  // on the outer side of both triangles
        for (Index e = 0; e < surface_.edges().size(); ++e) {
            int level = at_low_[e];
            Index from = edge(e).low;
            const auto piece = [&](Index to) {
                if (kept_at(level) == 0) return;
                const auto [along, against] = edge(e).sides;
                if (cut[along]) sides.push_back({along, from, to});
                if (cut[against]) sides.push_back({against, to, from});
            };
            for (const Index i : of_edge_[e]) {
                piece(point_of(i));
                least[i] = std::min(level, level + crossings_[i].enters);
                level += crossings_[i].enters;
                from = point_of(i);
            }
            piece(edge(e).high);
        }
        for (const Line& line : lines_) {
            const Index first = line.crossings[0], second = line.crossings[1];
            const auto change = [&](Index i) { return kept_at(least[i] + 1) - kept_at(least[i]); };
            if (second != no_index && change(first) != change(second)) return std::nullopt;
            if (change(first) == 0) continue;
            Index from = second == no_index ? line.shared : point_of(second), to = point_of(first);
            // On the first triangle, to the left of the line lies what is kept: the outer side of the other one where
            // going out loses what is inside.
            const DVec3 way = glm::cross(normal(line.triangles[1]), normal(line.triangles[0]));
            if ((glm::dot(at(to) - at(from), way) < 0) == (change(first) < 0)) std::swap(from, to);
            sides.push_back({line.triangles[0], from, to});
            sides.push_back({line.triangles[1], to, from});
        }
        TaggedTriangles out;
        for (Index t = 0; t < soup_.triangles.size(); ++t) {
            const auto& corners = soup_.triangles[t];
            const Index e = surface_.edge_of(t, 0);
            if (cut[t] || kept_at(edge(e).low == corners[0] ? at_low_[e] : level_at_high(e)) == 0) continue;
            out.triangles.push_back(corners);
            out.tags.push_back(soup_.tags[t]);
        }
        std::ranges::stable_sort(sides, {}, &Side::triangle);
        for (std::size_t i = 0; i < sides.size();) {
            stop_point(i);
            std::vector<std::array<Index, 2>> ring;
            const Index t = sides[i].triangle;
            for (; i < sides.size() && sides[i].triangle == t; ++i) ring.push_back({sides[i].from, sides[i].to});
            for (const auto& piece : triangles_of_sides(points_, ring, normal(t))) {
                out.triangles.push_back(piece);
                out.tags.push_back(soup_.tags[t]);
            }
        }
        out.points = points_;
        return closed(out) ? std::optional(std::move(out)) : std::nullopt;
    }
    int level_at_high(Index e) const {
        int level = at_low_[e];
        for (const Index i : of_edge_[e]) level += crossings_[i].enters;
        return level;
    }
    static bool closed(const TaggedTriangles& soup) {
        std::vector<std::uint64_t> there, back;
        for (const auto& t : soup.triangles)
            for (int k = 0; k < 3; ++k) {
                const std::uint64_t a = t[k], b = t[(k + 1) % 3];
                there.push_back(a << 32 | b);
                back.push_back(b << 32 | a);
            }
        std::ranges::sort(there);
        std::ranges::sort(back);
        return there == back;
    }

    static constexpr int unknown = 1 << 30;
    const TaggedTriangles& soup_;
    const std::vector<BoxTree::Pair> pairs_;
    const ShadowSurface surface_;
    std::vector<DVec3> points_;  ///< the surface's, then one for each crossing
    std::vector<Crossing> crossings_;
    std::vector<std::vector<Index>> of_edge_;
    std::vector<Line> lines_;
    std::vector<std::array<bool, 3>> line_at_;  ///< per triangle and corner: a line runs from there
    std::vector<int> at_low_;
};

}  // namespace

bool edges_cross_faces(const TaggedTriangles& soup) {
    std::vector<BoxTree::Pair> pairs = may_cross(soup);
    return !pairs.empty() && Mending(soup, std::move(pairs)).crosses();
}

std::optional<TaggedTriangles> mended_by_winding(const TaggedTriangles& soup) {
    std::vector<BoxTree::Pair> pairs = may_cross(soup);
    if (pairs.empty()) return std::nullopt;
    return Mending(soup, std::move(pairs)).made();
}

}  // namespace bricol
