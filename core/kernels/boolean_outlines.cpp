// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/boolean_outlines.h"

#include <algorithm>
#include <numeric>
#include <tuple>
#include <unordered_set>
#include <xxhash.h>

#include "core/ground/disjoint_sets.h"
#include "core/ground/stop.h"
#include "core/kernels/boolean_strips.h"

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
        for (int round = 0; round < 5; ++round) {
            std::vector<std::array<Index, 2>> pairs;
            for (const KeptSide& side : sides_)
                if (glm::distance(points_[side.from], points_[side.to]) <= reach_)
                    pairs.push_back({side.from, side.to});
            if (draw_together(pairs) != Drawn::held_back) return;
        }
    }

    bool whole_joined() const { return whole_joined_; }

    enum class Drawn : std::uint8_t { nothing, all, held_back };
    /// Makes one point of each pair. Where that would break something, nothing happens but that those points are held.
    Drawn draw_together(const std::vector<std::array<Index, 2>>& pairs) {
        if (pairs.empty()) return Drawn::nothing;
        held_.resize(points_.size(), 0);
        DisjointSets together(points_.size());
        bool any = false;
        for (const auto& [a, b] : pairs)
            if (!held_[a] && !held_[b]) any |= together.join(a, b);
        if (!any) return Drawn::nothing;
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
                for (Index& v : t) {
                    const Index root = together.root(v);
                    whole_joined_ |= root != v;
                    v = root;
                }
            return Drawn::all;
        }
        std::vector<std::uint8_t> hold(points_.size(), 0);
        for (const Index root : wrong) hold[root] = 1;
        for (Index i = 0; i < points_.size(); ++i)
            if (hold[together.root(i)]) held_[i] = 1;
        return Drawn::held_back;
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
            const SideWays ways(sides_);
            std::vector<std::uint8_t> touched(sides_.size(), 0);
            std::vector<KeptSide> fresh;
            for (const auto& [i, o] : spikes) {
                const KeptSide in = sides_[i], out = sides_[o];
                if (touched[i] || touched[o]) continue;
                const bool in_longer =
                    glm::distance(points_[in.from], points_[in.to]) > glm::distance(points_[out.from], points_[out.to]);
                const Index longer = in_longer ? i : o, between = in_longer ? out.to : in.from;
                const auto mates = ways.between(sides_[longer].to, sides_[longer].from);
                if (mates.size() != 1 || touched[mates[0].side]) continue;
                for (const Index side : {longer, mates[0].side}) {
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
    /// A strip of no height, as where a rim counts as a hair above the plane it lies in, has two long edges that run
    /// along one another there and back without meeting in a point. They take up each other's ends, in both polygons
    /// that have them, and what then runs there and back goes: no sliver is left between them.
    void close_strips() {
        std::vector<std::uint8_t> changed;  // polygons that the round before has
        for (int round = 0; round < 16; ++round) {
            sort_by_polygon(sides_);
            std::vector<TakenEnd> taken;
            std::vector<std::array<Index, 2>> same;
            for (std::size_t first = 0, end = 0; first < sides_.size(); first = end) {
                stop_point(first);
                for (end = first; end < sides_.size() && sides_[end].polygon == sides_[first].polygon;) ++end;
                if (end - first > 3 && (round == 0 || changed[sides_[first].polygon]))  // a triangle has no such strip
                    ends_along_sides(points_, sides_, {first, end}, reach_, taken, same);
            }
            const bool drawn = draw_together(same) != Drawn::nothing;
            changed.assign(sides_.empty() ? 0 : sides_.back().polygon + std::size_t(1), drawn);
            if (drawn) continue;
            if (taken.empty() || !take_up(taken, changed)) return;
            cancel_spikes(sides_);
        }
    }
    /// Whether a piece of a side of one polygon, and of another the other way, leaves at most one side each way: where
    /// there are some already, one of them has to cancel.
    bool free_for(Index from, Index to, Index polygon, Index back, const SideWays& ways) const {
        const auto there = ways.between(from, to), here = ways.between(to, from);
        if (there.empty() && here.empty()) return true;
        if (there.size() != 1 || here.size() != 1) return false;
        return sides_[here[0].side].polygon == polygon || sides_[there[0].side].polygon == back;
    }
    /// Whether any side could take up its points: one with one way back, in another polygon.
    bool take_up(std::vector<TakenEnd>& taken, std::vector<std::uint8_t>& changed) {
        std::sort(taken.begin(), taken.end());
        const SideWays ways(sides_);
        std::unordered_set<std::uint64_t> used;  // ways of pieces: what runs there stays as it is, to cancel with them
        const auto is_used = [&](Index from, Index to) {
            return used.contains(SideWays::key(from, to)) || used.contains(SideWays::key(to, from));
        };
        std::vector<std::uint8_t> touched(sides_.size(), 0);
        std::vector<KeptSide> fresh;
        for (std::size_t k = 0, end = 0; k < taken.size(); k = end) {
            for (end = k; end < taken.size() && taken[end].side == taken[k].side;) ++end;
            const Index side = taken[k].side;
            if (touched[side] || is_used(sides_[side].from, sides_[side].to)) continue;
            if (ways.between(sides_[side].from, sides_[side].to).size() != 1) continue;
            const auto mates = ways.between(sides_[side].to, sides_[side].from);
            if (mates.size() != 1 || touched[mates[0].side]) continue;
            const Index mate = mates[0].side;
            const KeptSide whole = sides_[side], back = sides_[mate];
            std::vector<Index> chain{whole.from};
            for (std::size_t t = k; t < end; ++t)
                if (taken[t].point != chain.back()) chain.push_back(taken[t].point);
            chain.push_back(whole.to);
            bool plain = true;
            for (std::size_t t = k + 1; t < end; ++t)  // of two points in one place it is not known which comes first
                plain &= taken[t].point == taken[t - 1].point || taken[t].along - taken[t - 1].along > reach_;
            for (std::size_t c = 1; c < chain.size(); ++c)
                plain &= !is_used(chain[c - 1], chain[c]) &&
                         free_for(chain[c - 1], chain[c], whole.polygon, back.polygon, ways);
            if (!plain) continue;
            touched[side] = touched[mate] = 1;
            changed[whole.polygon] = changed[back.polygon] = 1;
            for (std::size_t c = 1; c < chain.size(); ++c) used.insert(SideWays::key(chain[c - 1], chain[c]));
            for (std::size_t c = 2; c < chain.size(); ++c) {
                fresh.push_back({whole.polygon, chain[c - 1], chain[c], whole.line});
                fresh.push_back({back.polygon, chain[c], chain[c - 1], back.line});
            }
            sides_[side].to = chain[1];
            sides_[mate].from = chain[1];
        }
        sides_.insert(sides_.end(), fresh.begin(), fresh.end());
        return !fresh.empty();
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
    bool whole_joined_ = false;
    std::vector<std::uint8_t> held_;  ///< points that cannot be drawn together with others
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

bool tidy_outlines(const std::vector<DVec3>& points, std::vector<KeptSide>& sides,
                   std::vector<std::array<Index, 3>>& whole, Index first_fresh, double reach) {
    Outlines outlines(points, sides, whole, first_fresh, reach);
    outlines.contract();
    outlines.unfold_spikes();
    outlines.close_strips();
    outlines.cancel_flaps();
    outlines.drop_straight_points();
    return outlines.whole_joined();
}

}  // namespace bricol
