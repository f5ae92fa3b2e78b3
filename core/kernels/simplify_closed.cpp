// SPDX-License-Identifier: GPL-3.0-or-later
// Collapsing edges by quadric error without ever opening or pinching the surface.
#include <algorithm>
#include <boost/heap/d_ary_heap.hpp>
#include <cmath>
#include <optional>

#include "core/ground/progress.h"
#include "core/ground/stop.h"
#include "core/kernels/even_triangles.h"
#include "core/kernels/simplify.h"

namespace bricol {

namespace {

/// Sum of squared distances to planes, each weighed by an area. M. Garland and P. Heckbert, "Surface simplification
/// using quadric error metrics", 1997.
struct Quadric {
    double xx = 0, xy = 0, xz = 0, yy = 0, yz = 0, zz = 0, x = 0, y = 0, z = 0, rest = 0, weight = 0;

    /// The plane through `at` square to the unit normal n.
    void add_plane(const DVec3& n, const DVec3& at, double w) {
        const double d = -glm::dot(n, at);
        xx += w * n.x * n.x, xy += w * n.x * n.y, xz += w * n.x * n.z, yy += w * n.y * n.y, yz += w * n.y * n.z,
            zz += w * n.z * n.z, x += w * n.x * d, y += w * n.y * d, z += w * n.z * d, rest += w * d * d, weight += w;
    }
    Quadric operator+(const Quadric& o) const {
        return {xx + o.xx, xy + o.xy, xz + o.xz, yy + o.yy,     yz + o.yz,        zz + o.zz,
                x + o.x,   y + o.y,   z + o.z,   rest + o.rest, weight + o.weight};
    }
    double at(const DVec3& p) const {
        return std::max(0.0, xx * p.x * p.x + yy * p.y * p.y + zz * p.z * p.z +
                                 2 * (xy * p.x * p.y + xz * p.x * p.z + yz * p.y * p.z + x * p.x + y * p.y + z * p.z) +
                                 rest);
    }
};

/// A join that may be made: the vertex a half-edge leaves goes to its other end. Stale when either has changed since:
/// then the edge has been asked again, under another number.
struct Candidate {
    double cost;
    Index side;
    std::uint32_t asked;

    /// Whether it is made after another.
    bool operator<(const Candidate& o) const { return cost != o.cost ? cost > o.cost : side > o.side; }
};

/// Joins in the order they are made in. Most are asked anew long before their turn: only the next ones are kept in
/// order, the rest lie without order until those are used up.
class Waiting {
public:
    void push(const Candidate& one) {
        if (last_ < one)
            soon_.push(one);
        else
            later_.push_back(one);
    }
    /// The first to be made; nothing when none is left. `stale` says which need not be kept.
    template <class Stale>
    std::optional<Candidate> take(const Stale& stale) {
        if (soon_.empty()) refill(stale);
        if (soon_.empty()) return std::nullopt;
        const Candidate first = soon_.top();
        soon_.pop();
        return first;
    }

private:
    template <class Stale>
    void refill(const Stale& stale) {
        stop_point();
        std::erase_if(later_, stale);
        if (later_.empty()) return;
        const auto first_is_made_first = [](const Candidate& a, const Candidate& b) { return b < a; };
        const std::size_t count = std::min(later_.size(), std::max<std::size_t>(4096, later_.size() / 8));
        const auto end = later_.begin() + static_cast<std::ptrdiff_t>(count);
        std::nth_element(later_.begin(), end - 1, later_.end(), first_is_made_first);
        last_ = *(end - 1);
        for (auto one = later_.begin(); one != end; ++one) soon_.push(*one);
        later_.erase(later_.begin(), end);
    }

    /// The first to be made on top; four to a node read less memory than two.
    boost::heap::d_ary_heap<Candidate, boost::heap::arity<4>> soon_;
    std::vector<Candidate> later_;
    Candidate last_{-1, 0, 0};  ///< those that come before it are in order
};

class Simplification {
public:
    Simplification(EvenTriangles& triangles, const SimplifyOptions& options)
        : t_(triangles), even_(options.even), quadrics_(t_.point.size()), asked_(t_.from.size(), 0) {
        DVec3 low(1e300), high(-1e300);
        for (const DVec3& p : t_.point) low = glm::min(low, p), high = glm::max(high, p);
        const DVec3 size = high - low;
        most_ = std::pow(options.error * std::max({size.x, size.y, size.z}), 2);
        // Measured from the middle: squares of far places would swallow the distances.
        middle_ = (low + high) * 0.5;
        gather_quadrics();
    }

    void run(std::size_t wanted) {
        for (Index h = 0; h < t_.from.size(); ++h) {
            stop_point(h);
            if (const auto one = t_.twin[h] == no_index || h < t_.twin[h] ? asked(h) : std::nullopt) queue_.push(*one);
        }
        std::vector<Index> touched;
        const std::size_t before = t_.alive();
        const auto stale = [&](const Candidate& one) { return t_.gone(one.side) || asked_[one.side] != one.asked; };
        for (std::size_t round = 0; t_.alive() > wanted; ++round) {
            stop_point(round);
            if (round % 8192 == 0)
                progress_of_work(static_cast<double>(before - t_.alive()) / static_cast<double>(before - wanted));
            const auto best = queue_.take(stale);
            if (!best) break;
            if (stale(*best)) continue;
            if (!t_.can_join(best->side, 1e300, 40)) {
                // The other way may do.
                const Index twin = t_.twin[best->side];
                if (const auto other = twin == no_index ? std::nullopt : candidate(twin); other && *other < *best)
                    queue_.push(*other);
                continue;
            }
            const Index a = t_.from[best->side], b = t_.to(best->side);
            t_.join(best->side, touched);
            quadrics_[b] = quadrics_[a] + quadrics_[b];
            for (const Index e : touched) {
                if (const auto one = asked(e)) queue_.push(*one);
                const Index in = EvenTriangles::prior(e);
                if (t_.twin[in] != no_index) continue;  // its other side leaves the vertex and is asked
                if (const auto one = asked(in)) queue_.push(*one);
            }
        }
    }

private:
    void gather_quadrics() {
        for (Index f = 0; f < t_.from.size() / 3; ++f) {
            stop_point(f);
            const DVec3 normal = t_.normal(f);
            const double area = glm::length(normal);
            if (!(area > 0)) continue;
            for (Index k = 0; k < 3; ++k) {
                const Index h = 3 * f + k;
                quadrics_[t_.from[h]].add_plane(normal / area, t_.point[t_.from[h]] - middle_, area);
                if (t_.twin[h] != no_index) continue;
                // A border keeps its line by a steep plane through it.
                const DVec3 along = t_.point[t_.to(h)] - t_.point[t_.from[h]], wall = glm::cross(along, normal / area);
                const double length = glm::length(wall);
                if (!(length > 0)) continue;
                for (const Index v : {t_.from[h], t_.to(h)})
                    quadrics_[v].add_plane(wall / length, t_.point[v] - middle_, length * length);
            }
        }
    }

    /// The join along a half-edge, if it may be at all; the quadric is of both its ends.
    std::optional<Candidate> along(Index h, const Quadric& both, double length2) const {
        if (t_.hold[t_.from[h]] == VertexHold::corner) return std::nullopt;
        const double error = both.at(t_.point[t_.to(h)] - middle_);
        if (error > most_ * both.weight) return std::nullopt;
        // A trace of the length, so that flat places lose their short edges first. Evenly, the length is what counts,
        // and leaving the form by half of it doubles the cost.
        const double cost =
            even_ ? length2 + 4 * error / std::max(both.weight, 1e-300) : error + 1e-7 * both.weight * length2;
        if (!std::isfinite(cost)) return std::nullopt;  // nothing can be put in order beside it
        return Candidate{cost, h, asked_[h]};
    }
    std::optional<Candidate> candidate(Index h) const {
        return along(h, quadrics_[t_.from[h]] + quadrics_[t_.to(h)], t_.length2(h));
    }

    /// What an edge would be joined by first, its two ways compared. What was said of it before is stale now.
    std::optional<Candidate> asked(Index h) {
        const Index twin = t_.twin[h], a = t_.from[h], b = t_.to(h);
        ++asked_[h];
        if (twin != no_index) ++asked_[twin];
        if (t_.hold[a] == VertexHold::corner && t_.hold[b] == VertexHold::corner) return std::nullopt;
        const Quadric both = quadrics_[a] + quadrics_[b];
        const DVec3 way = t_.point[b] - t_.point[a];
        const double length2 = glm::dot(way, way);
        const auto one = along(h, both, length2);
        const auto other = twin == no_index ? std::nullopt : along(twin, both, length2);
        return !one || (other && *one < *other) ? other : one;
    }

    EvenTriangles& t_;
    bool even_;
    std::vector<Quadric> quadrics_;
    std::vector<std::uint32_t> asked_;  ///< how often each half-edge's edge was
    Waiting queue_;
    DVec3 middle_{0};
    double most_ = 0;
};

}  // namespace

bool simplify_closed(const Array<Vec3>& points, std::vector<unsigned>& corners, std::size_t wanted,
                     const SimplifyOptions& options, const std::vector<std::uint8_t>& held) {
    EvenTriangles work;
    std::vector<DVec3> places(points.begin(), points.end());
    std::vector<std::array<Index, 3>> triangles;
    triangles.reserve(corners.size() / 3);
    for (std::size_t i = 0; i + 2 < corners.size(); i += 3) {
        stop_point(i / 3);
        triangles.push_back({corners[i], corners[i + 1], corners[i + 2]});
    }
    if (!work.build(std::move(places), triangles)) return false;
    for (Index h = 0; h < work.from.size(); ++h) {
        stop_point(h);
        if (work.twin[h] != no_index) continue;
        work.held[h] = 1;
        for (const Index v : {work.from[h], work.to(h)})
            if (work.hold[v] == VertexHold::free)
                work.hold[v] = options.hold_borders ? VertexHold::corner : VertexHold::line;
    }
    for (std::size_t v = 0; v < work.hold.size(); ++v)
        if (held[work.alias[v]]) work.hold[v] = VertexHold::corner;
    Simplification(work, options).run(wanted);
    corners.clear();
    for (Index h = 0; h < work.from.size(); ++h)
        if (!work.gone(h)) corners.push_back(work.alias[work.from[h]]);
    return true;
}

}  // namespace bricol
