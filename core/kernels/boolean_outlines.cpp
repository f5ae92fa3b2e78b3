// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/boolean_outlines.h"

#include <algorithm>
#include <numeric>
#include <tuple>
#include <unordered_map>
#include <xxhash.h>

#include "core/ground/disjoint_sets.h"
#include "core/ground/stop.h"

namespace bricol {

namespace {

class Outlines {
public:
    Outlines(const std::vector<DVec3>& points, std::vector<KeptSide>& sides, std::vector<std::array<Index, 3>>& whole,
             Index first_fresh, double reach)
        : points_(points), sides_(sides), whole_(whole), first_fresh_(first_fresh), reach_(reach) {}

    /// Draws together what lies at one place but for rounding: sides of next to no length. Leaves alone what would make
    /// a side be walked twice the same way.
    void contract() {
        std::vector<std::uint8_t> held(points_.size(), 0);
        for (int round = 0; round < 5; ++round) {
            DisjointSets together(points_.size());
            bool any = false;
            for (const KeptSide& side : sides_)
                if (!held[side.from] && !held[side.to] && glm::distance(points_[side.from], points_[side.to]) <= reach_)
                    any |= together.join(side.from, side.to);
            if (!any) return;
            // Sets go by their smallest member: points of the body stay where they are.
            std::vector<KeptSide> kept;
            kept.reserve(sides_.size());
            for (KeptSide side : sides_) {
                side.from = together.root(side.from), side.to = together.root(side.to);
                if (side.from != side.to) kept.push_back(side);
            }
            cancel_spikes(kept);
            const std::vector<Index> wrong = walked_twice(kept, together);
            if (wrong.empty()) {
                sides_ = std::move(kept);
                for (auto& t : whole_)
                    for (Index& v : t) v = together.root(v);
                return;
            }
            std::vector<std::uint8_t> hold(points_.size(), 0);
            for (const Index root : wrong) hold[root] = 1;
            for (Index i = 0; i < points_.size(); ++i)
                if (hold[together.root(i)]) held[i] = 1;
        }
    }

    /// A way out and back within one polygon encloses nothing.
    static void cancel_spikes(std::vector<KeptSide>& sides) {
        const auto key = [](const KeptSide& s) {
            return std::tuple(s.polygon, std::min(s.from, s.to), std::max(s.from, s.to));
        };
        sort_by_polygon(sides);
        for (auto first = sides.begin(); first != sides.end();) {
            const auto end =
                std::find_if(first, sides.end(), [&](const KeptSide& s) { return s.polygon != first->polygon; });
            std::stable_sort(first, end, [&](const KeptSide& a, const KeptSide& b) { return key(a) < key(b); });
            first = end;
        }
        std::vector<KeptSide> kept;
        kept.reserve(sides.size());
        for (std::size_t i = 0; i < sides.size();) {
            std::size_t j = i;
            int forth = 0;
            for (; j < sides.size() && key(sides[j]) == key(sides[i]); ++j)
                forth += sides[j].from < sides[j].to ? 1 : -1;
            for (std::size_t k = i; k < j && forth != 0; ++k)
                if ((sides[k].from < sides[k].to) == (forth > 0)) {
                    kept.push_back(sides[k]);
                    forth += forth > 0 ? -1 : 1;
                }
            i = j;
        }
        sides = std::move(kept);
    }

    /// Points of sides that are walked more than once the same way, as far as they were drawn together.
    std::vector<Index> walked_twice(const std::vector<KeptSide>& sides, DisjointSets& together) const {
        std::vector<std::uint8_t> met(points_.size(), 0);
        for (Index i = 0; i < points_.size(); ++i)
            if (const Index root = together.root(i); root != i) met[root] = 1;
        std::vector<std::uint64_t> ways;
        ways.reserve(sides.size());
        const auto walk = [&](Index from, Index to) {
            if (from != to && (met[from] || met[to])) ways.push_back(std::uint64_t(from) << 32 | to);
        };
        for (const KeptSide& side : sides) walk(side.from, side.to);
        for (const auto& t : whole_)
            for (int k = 0; k < 3; ++k) walk(together.root(t[k]), together.root(t[(k + 1) % 3]));
        std::sort(ways.begin(), ways.end());
        std::vector<Index> wrong;
        for (std::size_t i = 1; i < ways.size(); ++i)
            if (ways[i] == ways[i - 1])
                for (const Index v : {static_cast<Index>(ways[i] >> 32), static_cast<Index>(ways[i] & 0xffffffffu)})
                    if (met[v]) wrong.push_back(v);
        return wrong;
    }

    /// A side that runs back along the one before it encloses nothing on the way: the longer of the two takes up the
    /// end of the shorter, in both polygons that have it, and what then runs out and back goes.
    void unfold_spikes() {
        for (int round = 0; round < 16; ++round) {
            std::vector<std::array<Index, 2>> spikes = sides_that_run_back();
            if (spikes.empty()) return;
            std::unordered_map<std::uint64_t, std::vector<Index>> ways;  // sides by where they run
            ways.reserve(2 * sides_.size());
            for (Index i = 0; i < sides_.size(); ++i)
                ways[std::uint64_t(sides_[i].from) << 32 | sides_[i].to].push_back(i);
            std::vector<std::uint8_t> touched(sides_.size(), 0);
            std::vector<KeptSide> fresh;
            for (const auto& [i, o] : spikes) {
                const KeptSide in = sides_[i], out = sides_[o];
                if (touched[i] || touched[o]) continue;
                const bool in_longer =
                    glm::distance(points_[in.from], points_[in.to]) > glm::distance(points_[out.from], points_[out.to]);
                const Index longer = in_longer ? i : o, between = in_longer ? out.to : in.from;
                const auto mates = ways.find(std::uint64_t(sides_[longer].to) << 32 | sides_[longer].from);
                if (mates == ways.end() || mates->second.size() != 1 || touched[mates->second[0]]) continue;
                for (const Index side : {longer, mates->second[0]}) {
                    KeptSide second = sides_[side];
                    second.from = between;
                    sides_[side].to = between;
                    fresh.push_back(second);
                    touched[side] = 1;
                }
                touched[i] = touched[o] = 1;
            }
            if (fresh.empty()) return;
            sides_.insert(sides_.end(), fresh.begin(), fresh.end());
            cancel_spikes(sides_);
        }
    }
    /// Sides with the one, and only one, of their polygon that starts where they end and runs back along them.
    std::vector<std::array<Index, 2>> sides_that_run_back() {
        sort_by_polygon(sides_);
        std::vector<std::array<Index, 2>> spikes, starts;
        for (Index first = 0, end = 0; first < sides_.size(); first = end) {
            stop_point(first);
            starts.clear();
            for (end = first; end < sides_.size() && sides_[end].polygon == sides_[first].polygon; ++end)
                starts.push_back({sides_[end].from, end});
            std::sort(starts.begin(), starts.end());
            for (Index i = first; i < end; ++i) {
                const auto out = std::ranges::lower_bound(starts, sides_[i].to, {}, [](const auto& s) { return s[0]; });
                if (out == starts.end() || (*out)[0] != sides_[i].to) continue;
                if (out + 1 != starts.end() && (*(out + 1))[0] == sides_[i].to) continue;
                const KeptSide &in = sides_[i], &next = sides_[(*out)[1]];
                if (in.from != next.to && runs_back(in.from, in.to, next.to)) spikes.push_back({i, (*out)[1]});
            }
        }
        return spikes;
    }
    /// Whether the way from b to c runs back along that from a to b, but for rounding.
    bool runs_back(Index a, Index b, Index c) const {
        const DVec3 there = points_[b] - points_[a], back = points_[c] - points_[b];
        const double first = glm::length(there), second = glm::length(back);
        if (!(first > 0) || !(second > 0) || glm::dot(there, back) >= 0) return false;
        const double off = glm::length(glm::cross(there, back)) / std::max(first, second);
        return off <= reach_ && glm::dot(there, back) < -0.5 * first * second;
    }

    /// Two polygons that lie on one another with their backs enclose nothing.
    void cancel_flaps() {
        sort_by_polygon(sides_);
        struct Outline {
            std::uint64_t hash = 0;  ///< of its sides, lower point first, in order
            std::size_t from = 0, to = 0;
            bool forth = false;  ///< whether the first of them runs from its lower point
        };
        std::vector<Outline> outlines;
        std::vector<std::array<Index, 2>> ends(sides_.size());  // of the sides, in order within each outline
        for (std::size_t i = 0; i < sides_.size();) {
            stop_point(i);
            Outline one;
            one.from = i;
            for (; i < sides_.size() && sides_[i].polygon == sides_[one.from].polygon; ++i)
                ends[i] = {std::min(sides_[i].from, sides_[i].to), std::max(sides_[i].from, sides_[i].to)};
            one.to = i;
            std::sort(ends.begin() + static_cast<std::ptrdiff_t>(one.from),
                      ends.begin() + static_cast<std::ptrdiff_t>(one.to));
            for (std::size_t k = one.from; k < one.to; ++k)
                if (std::min(sides_[k].from, sides_[k].to) == ends[one.from][0] &&
                    std::max(sides_[k].from, sides_[k].to) == ends[one.from][1])
                    one.forth = sides_[k].from < sides_[k].to;
            one.hash = XXH3_64bits(&ends[one.from], (one.to - one.from) * sizeof ends[0]);
            outlines.push_back(one);
        }
        std::sort(outlines.begin(), outlines.end(), [](const Outline& a, const Outline& b) {
            return std::tie(a.hash, a.from) < std::tie(b.hash, b.from);
        });
        std::vector<std::uint8_t> gone(sides_.size(), 0);
        bool any = false;
        for (std::size_t i = 0; i + 1 < outlines.size(); ++i) {
            const Outline &a = outlines[i], &b = outlines[i + 1];
            const auto at = [&](std::size_t place) { return ends.begin() + static_cast<std::ptrdiff_t>(place); };
            if (a.forth == b.forth || a.hash != b.hash || !std::equal(at(a.from), at(a.to), at(b.from), at(b.to)))
                continue;
            for (const Outline* one : {&a, &b}) std::fill(gone.begin() + one->from, gone.begin() + one->to, 1);
            any = true;
            ++i;
        }
        if (!any) return;
        std::vector<KeptSide> kept;
        for (std::size_t i = 0; i < sides_.size(); ++i)
            if (!gone[i]) kept.push_back(sides_[i]);
        sides_ = std::move(kept);
    }

    /// New points at which a straight side only passes from one triangle of its polygon to the next: nobody turns
    /// there.
    void drop_straight_points() {
        const Index first_fresh = first_fresh_;
        std::vector<std::array<Index, 2>> before(points_.size() - first_fresh, {no_index, no_index}), behind = before;
        std::vector<std::uint8_t> uses(points_.size() - first_fresh, 0);
        for (Index i = 0; i < sides_.size(); ++i) {
            const KeptSide& side = sides_[i];
            if (side.to >= first_fresh) {
                auto& list = before[side.to - first_fresh];
                (list[0] == no_index ? list[0] : list[1]) = i;
                uses[side.to - first_fresh] = static_cast<std::uint8_t>(std::min(uses[side.to - first_fresh] + 1, 9));
            }
            if (side.from >= first_fresh) {
                auto& list = behind[side.from - first_fresh];
                (list[0] == no_index ? list[0] : list[1]) = i;
            }
        }
        std::vector<std::uint8_t> gone(sides_.size(), 0);
        std::vector<Index> length_of;  // sides per polygon, so that no polygon is left with fewer than three
        for (const KeptSide& side : sides_) {
            if (side.polygon >= length_of.size()) length_of.resize(side.polygon + 1, 0);
            ++length_of[side.polygon];
        }
        const auto straight = [&](Index v, const KeptSide& in, const KeptSide& out) {
            const DVec3 from = points_[in.from], to = points_[out.to], way = to - from, here = points_[v];
            const double size = glm::length(way), far = glm::length(here);
            // Both polygons count as flat; how flat is what single precision leaves of a plane.
            return size > 0 && glm::length(glm::cross(here - from, way)) <= (2e-6 * size + 3e-7 * far) * size &&
                   glm::dot(here - from, way) > 0 && glm::dot(here - to, way) < 0;
        };
        for (Index v = first_fresh; v < points_.size(); ++v) {
            const int used = uses[v - first_fresh];
            if (used != 1 && used != 2) continue;
            const auto in = before[v - first_fresh];
            auto out = behind[v - first_fresh];
            if (used == 2 && sides_[in[0]].polygon != sides_[out[0]].polygon) std::swap(out[0], out[1]);
            bool drop = true;
            for (int k = 0; k < used && drop; ++k) {
                drop = in[k] != no_index && out[k] != no_index && sides_[in[k]].polygon == sides_[out[k]].polygon &&
                       sides_[in[k]].from != sides_[out[k]].to && length_of[sides_[in[k]].polygon] > 3 &&
                       straight(v, sides_[in[k]], sides_[out[k]]);
            }
            if (drop && used == 2)
                drop = sides_[in[0]].polygon != sides_[in[1]].polygon && sides_[in[0]].from == sides_[out[1]].to &&
                       sides_[out[0]].to == sides_[in[1]].from;
            if (!drop) continue;
            for (int k = 0; k < used; ++k) {  // the side in takes over; the one out goes
                --length_of[sides_[in[k]].polygon];
                relink(in[k], out[k], before);
                gone[out[k]] = 1;
            }
        }
        std::vector<KeptSide> kept;
        for (std::size_t i = 0; i < sides_.size(); ++i)
            if (!gone[i]) kept.push_back(sides_[i]);
        sides_ = std::move(kept);
    }
    void relink(Index in, Index out, std::vector<std::array<Index, 2>>& before) {
        sides_[in].to = sides_[out].to;
        if (sides_[in].to < first_fresh_) return;
        for (Index& side : before[sides_[in].to - first_fresh_])
            if (side == out) side = in;
    }

private:
    const std::vector<DVec3>& points_;
    std::vector<KeptSide>& sides_;
    std::vector<std::array<Index, 3>>& whole_;
    const Index first_fresh_;
    const double reach_;
};

}  // namespace

void sort_by_polygon(std::vector<KeptSide>& sides) {
    const auto before = [](const KeptSide& a, const KeptSide& b) { return a.polygon < b.polygon; };
    if (std::is_sorted(sides.begin(), sides.end(), before)) return;
    Index most = 0;
    for (const KeptSide& side : sides) most = std::max(most, side.polygon);
    std::vector<std::size_t> place(most + std::size_t(2), 0);
    for (const KeptSide& side : sides) ++place[side.polygon + std::size_t(1)];
    std::partial_sum(place.begin(), place.end(), place.begin());
    std::vector<KeptSide> sorted(sides.size());
    for (std::size_t i = 0; i < sides.size(); stop_point(i), ++i) sorted[place[sides[i].polygon]++] = sides[i];
    sides = std::move(sorted);
}

void tidy_outlines(const std::vector<DVec3>& points, std::vector<KeptSide>& sides,
                   std::vector<std::array<Index, 3>>& whole, Index first_fresh, double reach) {
    Outlines outlines(points, sides, whole, first_fresh, reach);
    outlines.contract();
    outlines.unfold_spikes();
    outlines.cancel_flaps();
    outlines.drop_straight_points();
}

}  // namespace bricol
