// SPDX-License-Identifier: GPL-3.0-or-later
// Which things belong together when pairs of them are joined.
#pragma once

#include <algorithm>
#include <numeric>
#include <vector>

#include "core/ground/types.h"

namespace bricol {

/// Disjoint sets of the numbers 0 to n-1; each set goes by its smallest member, whatever the order of joining.
/// R. Tarjan, "Efficiency of a good but not linear set union algorithm", 1975 (path halving).
class DisjointSets {
public:
    explicit DisjointSets(std::size_t n) : parent_(n) { std::iota(parent_.begin(), parent_.end(), Index(0)); }
    Index root(Index i) {
        while (parent_[i] != i) i = parent_[i] = parent_[parent_[i]];
        return i;
    }
    /// True when they were apart.
    bool join(Index a, Index b) {
        a = root(a), b = root(b);
        parent_[std::max(a, b)] = std::min(a, b);
        return a != b;
    }

private:
    std::vector<Index> parent_;
};

}  // namespace bricol
