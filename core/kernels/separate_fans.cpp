// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/separate_fans.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <tuple>

#include "core/ground/disjoint_sets.h"
#include "core/ground/stop.h"

namespace bricol {

namespace {

/// A side of a triangle: 3 x triangle + corner it starts at.
struct FanSide {
    std::uint64_t points;  ///< the lower and the higher point
    Index place;
};

class Separation {
public:
    explicit Separation(TaggedTriangles& soup) : soup_(soup) {}

    bool crowded(std::size_t first) {
        sort_sides(first);
        touched_.assign(soup_.points.size(), 0);
        bool any = false;
        each_edge([&](std::size_t from, std::size_t to) {
            if (to - from <= 2) return;
            any = true;
            touched_[from_of(sides_[from].place)] = touched_[to_of(sides_[from].place)] = 1;
        });
        return any;
    }

    /// Two triangles on one another with their backs enclose nothing: both go. Whether there were any.
    bool drop_flaps() {
        struct Flap {
            std::array<Index, 3> points;  ///< sorted
            bool turned;
            Index triangle;
        };
        std::vector<Flap> flaps;
        for (Index i = 0; i < soup_.triangles.size(); ++i) {
            stop_point(i);
            const auto& t = soup_.triangles[i];
            Flap flap{t, (t[0] < t[1]) + (t[1] < t[2]) + (t[2] < t[0]) == 1, i};
            std::ranges::sort(flap.points);
            flaps.push_back(flap);
        }
        std::ranges::sort(flaps, [](const Flap& a, const Flap& b) {
            return std::tie(a.points, a.turned, a.triangle) < std::tie(b.points, b.turned, b.triangle);
        });
        std::vector<std::uint8_t> gone(soup_.triangles.size(), 0);
        bool any = false;
        for (std::size_t i = 0; i < flaps.size();) {
            std::size_t turned = i, end = i;
            while (turned < flaps.size() && flaps[turned].points == flaps[i].points && !flaps[turned].turned) ++turned;
            for (end = turned; end < flaps.size() && flaps[end].points == flaps[i].points;) ++end;
            for (std::size_t a = i, b = turned; a < turned && b < end; ++a, ++b)
                gone[flaps[a].triangle] = gone[flaps[b].triangle] = 1, any = true;
            i = end;
        }
        if (!any) return false;
        std::size_t kept = 0;
        for (std::size_t i = 0; i < gone.size(); ++i)
            if (!gone[i]) soup_.triangles[kept] = soup_.triangles[i], soup_.tags[kept++] = soup_.tags[i];
        soup_.triangles.resize(kept), soup_.tags.resize(kept);
        return true;
    }

    /// Copies of the points at crowded edges, one for each fan.
    void copy_points() {
        DisjointSets fans(3 * soup_.triangles.size());
        each_edge([&](std::size_t from, std::size_t to) {
            const Index place = sides_[from].place;
            if (!touched_[from_of(place)] && !touched_[to_of(place)]) return;
            for (const auto& [a, b] : pairs(from, to)) {  // b runs against a
                fans.join(a, next(b));
                fans.join(next(a), b);
            }
        });
        std::vector<Index> first(soup_.points.size(), no_index), copy(3 * soup_.triangles.size(), no_index);
        for (Index c = 0; c < copy.size(); ++c) {
            Index& v = soup_.triangles[c / 3][c % 3];
            if (v >= touched_.size() || !touched_[v]) continue;
            const Index root = fans.root(c);
            if (copy[root] == no_index) {
                copy[root] = v;
                if (first[v] != no_index) {
                    copy[root] = static_cast<Index>(soup_.points.size());
                    soup_.points.push_back(DVec3(soup_.points[v]));
                }
                first[v] = root;
            }
            v = copy[root];
        }
    }

    /// Edges that are crowded all the same: each pair gets a middle of its own.
    void part_edges() {
        std::vector<std::array<Index, 3>> middles(soup_.triangles.size(), {no_index, no_index, no_index});
        each_edge([&](std::size_t from, std::size_t to) {
            if (to - from <= 2) return;
            for (const auto& [a, b] : pairs(from, to)) {
                const auto middle = static_cast<Index>(soup_.points.size());
                soup_.points.push_back((soup_.points[from_of(a)] + soup_.points[to_of(a)]) / 2.0);
                middles[a / 3][a % 3] = middles[b / 3][b % 3] = middle;
            }
        });
        const std::size_t n = soup_.triangles.size();
        for (std::size_t i = 0; i < n; ++i) cut(i, middles[i]);
    }

private:
    Index from_of(Index place) const { return soup_.triangles[place / 3][place % 3]; }
    Index to_of(Index place) const { return soup_.triangles[place / 3][(place % 3 + 1) % 3]; }
    static Index next(Index place) { return place / 3 * 3 + (place % 3 + 1) % 3; }

    void sort_sides(std::size_t first) {
        sides_.clear();
        std::vector<std::uint8_t> looked_at(first > 0 ? soup_.points.size() : 0, 0);
        for (std::size_t i = first; first > 0 && i < soup_.triangles.size(); ++i)
            for (const Index v : soup_.triangles[i]) looked_at[v] = 1;
        for (Index i = 0; i < soup_.triangles.size(); ++i) {
            stop_point(i);
            for (Index k = 0; k < 3; ++k) {
                const Index a = soup_.triangles[i][k], b = soup_.triangles[i][(k + 1) % 3];
                if (i < first && !(looked_at[a] && looked_at[b])) continue;
                sides_.push_back({std::uint64_t(std::min(a, b)) << 32 | std::max(a, b), 3 * i + k});
            }
        }
        std::sort(sides_.begin(), sides_.end(), [](const FanSide& a, const FanSide& b) {
            return a.points != b.points ? a.points < b.points : a.place < b.place;
        });
    }
    template <class Visit>
    void each_edge(const Visit& visit) const {
        for (std::size_t i = 0; i < sides_.size();) {
            stop_point(i);
            std::size_t j = i + 1;
            while (j < sides_.size() && sides_[j].points == sides_[i].points) ++j;
            visit(i, j);
            i = j;
        }
    }

    /// Sides that run one way with those that run the other: round the edge, from a triangle through the inside to the
    /// next.
    std::vector<std::array<Index, 2>> pairs(std::size_t from, std::size_t to) const {
        std::vector<Index> along, against;
        for (std::size_t i = from; i < to; ++i)
            (from_of(sides_[i].place) < to_of(sides_[i].place) ? along : against).push_back(sides_[i].place);
        std::vector<std::array<Index, 2>> out;
        if (along.size() == 1 && against.size() == 1) return {{along[0], against[0]}};
        if (along.empty()) return out;
        const DVec3 origin = soup_.points[from_of(along[0])], way = soup_.points[to_of(along[0])] - origin;
        const auto aside = [&](Index place) {
            const DVec3 d = soup_.points[from_of(next(next(place)))] - origin;
            return d - way * (glm::dot(d, way) / std::max(glm::dot(way, way), 1e-300));
        };
        const DVec3 u = aside(along[0]), v = glm::cross(way, u);
        const auto angle = [&](Index place) {
            const DVec3 d = aside(place);
            return std::atan2(glm::dot(d, v) / std::max(glm::length(way), 1e-300), glm::dot(d, u));
        };
        std::vector<std::uint8_t> taken(against.size(), 0);
        for (const Index a : along) {
            // A triangle that runs along the edge has its inside on the side to which the angle falls.
            std::size_t best = against.size();
            double least = 1e300;
            for (std::size_t i = 0; i < against.size(); ++i) {
                if (taken[i]) continue;
                double turn = angle(a) - angle(against[i]);
                if (turn <= 0) turn += 2 * std::numbers::pi;
                if (turn < least) least = turn, best = i;
            }
            if (best == against.size()) break;
            taken[best] = 1;
            out.push_back({a, against[best]});
        }
        return out;
    }

    void cut(std::size_t i, const std::array<Index, 3>& middle) {
        std::vector<Index> ring;
        for (int k = 0; k < 3; ++k) {
            ring.push_back(soup_.triangles[i][k]);
            if (middle[k] != no_index) ring.push_back(middle[k]);
        }
        if (ring.size() == 3) return;
        // From a middle every other point is seen.
        const auto hub = static_cast<std::size_t>(
            std::ranges::find_if(ring, [&](Index v) { return v == middle[0] || v == middle[1] || v == middle[2]; }) -
            ring.begin());
        for (std::size_t k = 1; k + 1 < ring.size(); ++k) {
            const std::array<Index, 3> t = {ring[hub], ring[(hub + k) % ring.size()],
                                            ring[(hub + k + 1) % ring.size()]};
            if (k == 1) {
                soup_.triangles[i] = t;
            } else {
                soup_.triangles.push_back(t);
                soup_.tags.push_back(Index(soup_.tags[i]));
            }
        }
    }

    TaggedTriangles& soup_;
    std::vector<FanSide> sides_;
    std::vector<std::uint8_t> touched_;
};

}  // namespace

void separate_fans(TaggedTriangles& soup, std::size_t first) {
    Separation separation(soup);
    if (!separation.crowded(first) || !separation.crowded(0)) return;
    if (separation.drop_flaps() && !separation.crowded(0)) return;
    separation.copy_points();
    if (separation.crowded(0)) separation.part_edges();
}

}  // namespace bricol
