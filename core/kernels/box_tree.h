// SPDX-License-Identifier: GPL-3.0-or-later
// Boxes sorted into a tree, for finding those that touch one another, however uneven they are.
#pragma once

#include <algorithm>
#include <array>
#include <bit>
#include <cstdint>
#include <limits>
#include <span>
#include <vector>

#include "core/ground/box.h"
#include "core/ground/parallel.h"
#include "core/ground/stop.h"

namespace bricol {

/// A balanced tree over boxes in the order of their middles along a curve that fills space (G. M. Morton, 1966).
/// O(n log n) to build.
class BoxTree {
public:
    using Pair = std::array<Index, 2>;

    explicit BoxTree(std::span<const Box> boxes);

    /// Numbers of the boxes in the order of the tree.
    std::span<const Index> order() const { return order_; }

    /// Every two boxes that touch, or would in single precision, and that are wanted, i < j, in order. `wanted` is
    /// asked on all threads with their places in order(), where those that touch mostly stand near one another.
    /// Given up soon after `most` are found; which ones they are does not depend on how many threads there are.
    template <class Wanted>
    std::vector<Pair> pairs(const Wanted& wanted, std::size_t most = std::numeric_limits<std::size_t>::max()) const {
        std::vector<Pair> all;
        constexpr std::size_t at_once = 32;  // nodes that are looked at before it is asked whether that is enough
        const std::size_t count = levels_[start_].size();
        for (std::size_t first = 0; first < count && all.size() < most; first += at_once) {
            std::vector<std::vector<Pair>> found(std::min(at_once, count - first));
            parallel::each(std::size_t(0), found.size(), [&](std::size_t k) {
                const std::size_t i = first + k;
                const auto ask = [&](std::size_t a, std::size_t b) {
                    if (wanted(a, b))
                        found[k].push_back({std::min(order_[a], order_[b]), std::max(order_[a], order_[b])});
                };
                within(start_, i, ask);
                for (std::size_t j = i + 1; j < count; ++j) between(start_, i, j, ask);
            });
            for (const auto& part : found) all.insert(all.end(), part.begin(), part.end());
        }
        std::sort(all.begin(), all.end());
        if (all.size() > most) all.resize(most);
        return all;
    }

private:
    static constexpr std::size_t in_leaf = 4;
    /// In single precision, never smaller than what it holds.
    struct Bounds {
        std::array<float, 3> low{}, high{};
        bool touches(const Bounds& o) const {
            return low[0] <= o.high[0] && o.low[0] <= high[0] && low[1] <= o.high[1] && o.low[1] <= high[1] &&
                   low[2] <= o.high[2] && o.low[2] <= high[2];
        }
    };

    /// Four boxes beside one another, so that one is compared with all of them at once.
    struct Leaf {
        using Four = float __attribute__((vector_size(16)));
        Four low[3], high[3];
    };

    template <class Ask>
    void within(std::size_t level, std::size_t i, const Ask& ask) const {
        if (level > 0) {
            within(level - 1, 2 * i, ask);
            if (2 * i + 1 >= levels_[level - 1].size()) return;
            within(level - 1, 2 * i + 1, ask);
            between(level - 1, 2 * i, 2 * i + 1, ask);
            return;
        }
        for (std::size_t a = 0; a < in_leaf; ++a)
            each_touching(leaves_[i], a, leaves_[i], [&](std::size_t b) {
                if (b > a) ask(i * in_leaf + a, i * in_leaf + b);
            });
    }
    template <class Ask>
    void between(std::size_t level, std::size_t i, std::size_t j, const Ask& ask) const {
        if (!levels_[level][i].touches(levels_[level][j])) return;
        if (level == 0) {
            for (std::size_t a = 0; a < in_leaf; ++a)
                each_touching(leaves_[i], a, leaves_[j], [&](std::size_t b) { ask(i * in_leaf + a, j * in_leaf + b); });
            return;
        }
        if (level > 2) stop_point();
        const std::size_t count = levels_[level - 1].size();
        for (std::size_t a = 2 * i; a < std::min(count, 2 * i + 2); ++a)
            for (std::size_t b = 2 * j; b < std::min(count, 2 * j + 2); ++b) between(level - 1, a, b, ask);
    }
    template <class Visit>
    static void each_touching(const Leaf& of, std::size_t a, const Leaf& other, const Visit& visit) {
        auto touch = (of.low[0][a] <= other.high[0]) & (other.low[0] <= of.high[0][a]);
        for (int k = 1; k < 3; ++k) touch &= (of.low[k][a] <= other.high[k]) & (other.low[k] <= of.high[k][a]);
        // Mostly none does.
        const auto halves = std::bit_cast<std::array<std::uint64_t, 2>>(touch);
        if ((halves[0] | halves[1]) == 0) return;
        for (std::size_t b = 0; b < in_leaf; ++b)
            if (touch[b]) visit(b);
    }

    std::vector<Index> order_;                 ///< numbers of the boxes as they lie in the leaves
    std::vector<Leaf> leaves_;                 ///< what is left of the last holds nothing
    std::vector<std::vector<Bounds>> levels_;  ///< leaves first; of each level two make one of the next
    std::size_t start_ = 0;                    ///< the level whose nodes are shared out to threads
};

}  // namespace bricol
