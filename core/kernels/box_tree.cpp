// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/box_tree.h"

#include <cmath>

namespace bricol {

namespace {

/// The lowest 21 bits, each with two free ones behind it.
std::uint64_t spread(std::uint64_t bits) {
    bits &= 0x1fffff;
    bits = (bits | bits << 32) & 0x1f00000000ffff;
    bits = (bits | bits << 16) & 0x1f0000ff0000ff;
    bits = (bits | bits << 8) & 0x100f00f00f00f00f;
    bits = (bits | bits << 4) & 0x10c30c30c30c30c3;
    return (bits | bits << 2) & 0x1249249249249249;
}

float below(double value) {
    const auto near = static_cast<float>(value);
    return near <= value ? near : std::nextafter(near, -std::numeric_limits<float>::infinity());
}
float above(double value) { return -below(-value); }

}  // namespace

BoxTree::BoxTree(std::span<const Box> boxes) {
    Box all = Box::nothing();
    for (std::size_t i = 0; i < boxes.size(); stop_point(i), ++i) all.add(boxes[i]);
    const DVec3 size = all.high - all.low;
    const double longest = std::max({size.x, size.y, size.z, 0.0});
    const double scale = longest > 0 ? 0x1fffff / longest : 0;
    struct Place {
        std::uint64_t code;
        Index box;
        bool operator<(const Place& o) const { return code != o.code ? code < o.code : box < o.box; }
    };
    std::vector<Place> places(boxes.size());
    for (std::size_t i = 0; i < boxes.size(); stop_point(i), ++i) {
        const DVec3 at = (boxes[i].centre() - all.low) * scale;
        std::uint64_t code = 0;
        for (int k = 0; k < 3; ++k)  // a box of nothing, or of no numbers, lies in a corner
            code |= spread(at[k] > 0 && at[k] <= 0x1fffff ? static_cast<std::uint64_t>(at[k]) : 0) << k;
        places[i] = {code, static_cast<Index>(i)};
    }
    // Two halves at once, then together.
    const auto middle = places.begin() + static_cast<std::ptrdiff_t>(places.size() / 2);
    parallel::together([&] { std::sort(places.begin(), middle); }, [&] { std::sort(middle, places.end()); });
    std::inplace_merge(places.begin(), middle, places.end());
    order_.resize(boxes.size());
    for (std::size_t i = 0; i < boxes.size(); stop_point(i), ++i) order_[i] = places[i].box;
    leaves_.resize((boxes.size() + in_leaf - 1) / in_leaf);
    std::vector<Bounds> leaves(leaves_.size());
    for (std::size_t leaf = 0; leaf < leaves.size(); stop_point(leaf), ++leaf) {
        Bounds& all_of = leaves[leaf];
        all_of.low.fill(std::numeric_limits<float>::infinity());
        all_of.high.fill(-std::numeric_limits<float>::infinity());
        for (std::size_t i = 0; i < in_leaf; ++i) {
            const std::size_t place = leaf * in_leaf + i;
            const Box box = place < order_.size() ? boxes[order_[place]] : Box::nothing();
            for (int k = 0; k < 3; ++k) {
                const float low = below(box.low[k]), high = above(box.high[k]);
                leaves_[leaf].low[k][i] = low;
                leaves_[leaf].high[k][i] = high;
                const auto axis = static_cast<std::size_t>(k);
                all_of.low[axis] = std::min(all_of.low[axis], low);
                all_of.high[axis] = std::max(all_of.high[axis], high);
            }
        }
    }
    levels_.push_back(std::move(leaves));
    while (levels_.back().size() > 1) {
        const auto& under = levels_.back();
        std::vector<Bounds> next((under.size() + 1) / 2);
        for (std::size_t i = 0; i < next.size(); ++i) {
            next[i] = under[2 * i];
            if (2 * i + 1 == under.size()) continue;
            for (std::size_t k = 0; k < 3; ++k) {
                next[i].low[k] = std::min(next[i].low[k], under[2 * i + 1].low[k]);
                next[i].high[k] = std::max(next[i].high[k], under[2 * i + 1].high[k]);
            }
        }
        levels_.push_back(std::move(next));
    }
    constexpr std::size_t shared_out = 256;
    while (start_ + 1 < levels_.size() && levels_[start_].size() > shared_out) ++start_;
}

}  // namespace bricol
