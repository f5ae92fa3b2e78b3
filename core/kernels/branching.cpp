// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/branching.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <numeric>

#include "core/ground/disjoint_sets.h"

namespace bricol {

namespace {

/// A triangle of the hull of the directions, counterclockwise seen from outside, and the middle of its circle.
struct HullTriangle {
    std::array<int, 3> corner;
    DVec3 middle;
};

/// Two neighbouring regions: the arc between them goes from the middle of `start` to that of `end`, counterclockwise
/// round region `a`.
struct Arc {
    int a = 0, b = 0;
    int start = 0, end = 0;
    double angle = 0;   ///< radians
    double wanted = 0;  ///< edges it would get by its length
};

struct SphereCells {
    std::vector<HullTriangle> triangles;
    std::vector<Arc> arcs;  ///< a < b
};

/// Moved by some 1e-6 each, so that no four lie on one circle.
std::vector<DVec3> shaken(std::span<const DVec3> directions) {
    std::vector<DVec3> out;
    std::uint32_t state = 0x9e3779b9u;
    const auto next = [&] {
        state = state * 1664525u + 1013904223u;
        return (static_cast<double>(state >> 8) / (1u << 24) - 0.5) * 2e-6;
    };
    for (const DVec3& d : directions) {
        const double x = next(), y = next(), z = next();
        out.push_back(glm::normalize(d + DVec3(x, y, z)));
    }
    return out;
}

std::vector<HullTriangle> hull_of(const std::vector<DVec3>& d) {
    std::vector<HullTriangle> out;
    const int n = static_cast<int>(d.size());
    for (int i = 0; i < n; ++i)
        for (int j = i + 1; j < n; ++j)
            for (int k = j + 1; k < n; ++k) {
                DVec3 normal = glm::cross(d[j] - d[i], d[k] - d[i]);
                const double size = glm::length(normal);
                if (size < 1e-15) continue;
                normal /= size;
                bool above = false, below = false;
                for (int l = 0; l < n; ++l)
                    if (l != i && l != j && l != k) (glm::dot(normal, d[l] - d[i]) > 0 ? above : below) = true;
                if (!above) out.push_back({{i, j, k}, normal});
                if (!below) out.push_back({{i, k, j}, -normal});
            }
    return out;
}

/// The Voronoi cells of the directions. Every side of a triangle is an arc between two regions.
SphereCells cells_of(const std::vector<DVec3>& d) {
    SphereCells out;
    out.triangles = hull_of(d);
    std::map<std::pair<int, int>, int> side;  // the triangle on the left of a side
    for (int t = 0; t < static_cast<int>(out.triangles.size()); ++t)
        for (int c = 0; c < 3; ++c) side[{out.triangles[t].corner[c], out.triangles[t].corner[(c + 1) % 3]}] = t;
    double all = 0;
    for (const auto& [ends, left] : side) {
        const auto [a, b] = ends;
        const auto other = side.find({b, a});
        if (a > b || other == side.end()) continue;
        // Round region a counterclockwise: from the triangle on the right of a-b to the one on its left.
        Arc arc{a, b, other->second, left, 0, 0};
        const DVec3 axis = glm::normalize(d[a] - d[b]);
        const DVec3 from = out.triangles[arc.start].middle, to = out.triangles[arc.end].middle;
        arc.angle = std::atan2(glm::dot(axis, glm::cross(from, to)), glm::dot(from, to));
        if (arc.angle < 0) arc.angle += 2 * std::numbers::pi;
        if (arc.angle > 2 * std::numbers::pi - 1e-4) arc.angle = 0;  // ends that are one but for the shaking
        all += arc.angle;
        out.arcs.push_back(arc);
    }
    const double edges = 2.0 * static_cast<double>(d.size());  // four a region, each shared by two
    for (Arc& arc : out.arcs) arc.wanted = all > 0 ? arc.angle / all * edges : 0;
    return out;
}

/// How many edges each arc gets, by going through the possibilities, the likely ones first.
class EdgeShares {
public:
    EdgeShares(const SphereCells& cells, int regions) : cells_(cells), left_(regions, 4), open_(regions, 0) {
        order_.resize(cells.arcs.size());
        std::iota(order_.begin(), order_.end(), 0);
        std::stable_sort(order_.begin(), order_.end(),
                         [&](int x, int y) { return cells.arcs[x].angle > cells.arcs[y].angle; });
        for (const Arc& arc : cells.arcs) ++open_[arc.a], ++open_[arc.b];
        now_.assign(cells.arcs.size(), 0);
    }
    /// Empty when the bounded search found none.
    std::vector<int> best() {
        look(0, 0);
        return best_;
    }

private:
    void look(std::size_t at, double cost) {
        if (++steps_ > 200'000 || cost >= best_cost_) return;
        if (at == order_.size()) {
            if (sound()) best_ = now_, best_cost_ = cost;
            return;
        }
        const int e = order_[at];
        const Arc& arc = cells_.arcs[e];
        std::array<int, 5> tries{0, 1, 2, 3, 4};
        const auto price = [&](int w) { return (w - arc.wanted) * (w - arc.wanted); };
        std::stable_sort(tries.begin(), tries.end(), [&](int x, int y) { return price(x) < price(y); });
        --open_[arc.a], --open_[arc.b];
        for (const int w : tries) {
            if (w > left_[arc.a] || w > left_[arc.b]) continue;
            // A region whose last arc this is must be full with it.
            if ((open_[arc.a] == 0 && left_[arc.a] != w) || (open_[arc.b] == 0 && left_[arc.b] != w)) continue;
            left_[arc.a] -= w, left_[arc.b] -= w;
            now_[e] = w;
            look(at + 1, cost + price(w));
            now_[e] = 0;
            left_[arc.a] += w, left_[arc.b] += w;
        }
        ++open_[arc.a], ++open_[arc.b];
    }
    /// No region hangs on a single other one: taking any one away leaves the rest together.
    bool sound() const {
        const int n = static_cast<int>(left_.size());
        for (int gone = -1; gone < n; ++gone) {
            DisjointSets sets(static_cast<std::size_t>(n));
            int apart = gone < 0 ? n : n - 1;
            for (std::size_t e = 0; e < cells_.arcs.size(); ++e) {
                const Arc& arc = cells_.arcs[e];
                if (now_[e] > 0 && arc.a != gone && arc.b != gone)
                    apart -= sets.join(static_cast<Index>(arc.a), static_cast<Index>(arc.b));
            }
            if (apart != 1) return false;
        }
        return true;
    }

    const SphereCells& cells_;
    std::vector<int> order_, left_, open_, now_, best_;
    double best_cost_ = 1e30;
    long steps_ = 0;
};

/// The points and rings that the shares make.
Branching laid_out(const SphereCells& cells, const std::vector<DVec3>& d, const std::vector<int>& shares) {
    Branching out;
    const int regions = static_cast<int>(d.size());
    DisjointSets one(cells.triangles.size());  // middles that an arc without edges makes one point
    for (std::size_t e = 0; e < cells.arcs.size(); ++e)
        if (shares[e] == 0) one.join(static_cast<Index>(cells.arcs[e].start), static_cast<Index>(cells.arcs[e].end));
    std::vector<DVec3> sum(cells.triangles.size(), DVec3(0));
    for (Index t = 0; t < cells.triangles.size(); ++t) sum[one.root(t)] += cells.triangles[t].middle;
    std::vector<Index> point(cells.triangles.size(), no_index);
    for (Index t = 0; t < cells.triangles.size(); ++t) {
        if (one.root(t) != t) continue;
        point[t] = static_cast<Index>(out.points.size());
        const double size = glm::length(sum[t]);
        out.points.push_back(size > 1e-9 ? sum[t] / size : cells.triangles[t].middle);
    }
    const auto point_of = [&](int t) { return point[one.root(static_cast<Index>(t))]; };
    std::vector<std::vector<Index>> inner(cells.arcs.size());
    for (std::size_t e = 0; e < cells.arcs.size(); ++e) {
        const Arc& arc = cells.arcs[e];
        const DVec3 axis = glm::normalize(d[arc.a] - d[arc.b]);
        const DVec3 from = cells.triangles[arc.start].middle;
        for (int k = 1; k < shares[e]; ++k) {
            const double angle = arc.angle * k / shares[e];
            inner[e].push_back(static_cast<Index>(out.points.size()));
            out.points.push_back(glm::normalize(from * std::cos(angle) + glm::cross(axis, from) * std::sin(angle)));
        }
    }
    for (int region = 0; region < regions; ++region) {
        std::map<int, std::pair<std::size_t, bool>>
            next;  // from a middle, counterclockwise: the arc, and whether as written
        for (std::size_t e = 0; e < cells.arcs.size(); ++e) {
            const Arc& arc = cells.arcs[e];
            if (arc.a == region) next[arc.start] = {e, true};
            if (arc.b == region) next[arc.end] = {e, false};
        }
        std::vector<Index> ring;
        int at = next.begin()->first;
        for (std::size_t k = 0; k < next.size(); ++k) {
            const auto [e, forward] = next.at(at);
            const Arc& arc = cells.arcs[e];
            if (shares[e] > 0) ring.push_back(point_of(at));
            if (forward)
                ring.insert(ring.end(), inner[e].begin(), inner[e].end());
            else
                ring.insert(ring.end(), inner[e].rbegin(), inner[e].rend());
            at = forward ? arc.end : arc.start;
        }
        std::array<Index, 4> four{};
        std::copy_n(ring.begin(), std::min<std::size_t>(ring.size(), 4), four.begin());
        out.rings.push_back(four);
    }
    return out;
}

/// The regions as segments between two poles, in the order in which the directions go round the axis through them.
Branching round_an_axis(const std::vector<DVec3>& d) {
    // The axis across which the directions spread least: that of the smallest of their moments, by power iteration on
    // what is left of the largest two.
    DVec3 mean(0);
    for (const DVec3& v : d) mean += v;
    DVec3 axis = glm::length(mean) > 1e-3 ? glm::normalize(mean) : DVec3(0, 0, 1);
    const DVec3 side = glm::normalize(glm::cross(axis, std::abs(axis.x) < 0.8 ? DVec3(1, 0, 0) : DVec3(0, 1, 0)));
    const DVec3 other = glm::cross(axis, side);
    std::vector<double> angle;
    for (const DVec3& v : d) angle.push_back(std::atan2(glm::dot(v, other), glm::dot(v, side)));
    std::vector<int> order(d.size());
    std::iota(order.begin(), order.end(), 0);
    std::stable_sort(order.begin(), order.end(), [&](int a, int b) { return angle[a] < angle[b]; });
    Branching out;
    out.points = {axis, -axis};
    const std::size_t n = d.size();
    for (std::size_t k = 0; k < n; ++k) {  // between the k-th and the one before it
        double between = angle[order[k]];
        const double before = angle[order[(k + n - 1) % n]] - (k == 0 ? 2 * std::numbers::pi : 0);
        between = 0.5 * (between + before);
        out.points.push_back(side * std::cos(between) + other * std::sin(between));
    }
    out.rings.resize(n);
    for (std::size_t k = 0; k < n; ++k)
        out.rings[order[k]] = {0, static_cast<Index>(2 + k), 1, static_cast<Index>(2 + (k + 1) % n)};
    return out;
}

}  // namespace

Branching branching_of(std::span<const DVec3> directions) {
    const std::vector<DVec3> d = shaken(directions);
    const SphereCells cells = cells_of(d);
    // A closed hull of n points has 2n - 4 triangles and 3n - 6 sides; anything else is rounding.
    const std::size_t n = d.size();
    if (n <= 12 && cells.triangles.size() == 2 * n - 4 && cells.arcs.size() == 3 * n - 6)
        if (const std::vector<int> shares = EdgeShares(cells, static_cast<int>(n)).best(); !shares.empty())
            return laid_out(cells, d, shares);
    return round_an_axis(d);
}

}  // namespace bricol
