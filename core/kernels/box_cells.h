// SPDX-License-Identifier: GPL-3.0-or-later
// Boxes sorted into a grid, for finding those that touch.
#pragma once

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>
#include <span>
#include <vector>

#include "core/ground/box.h"
#include "core/ground/stop.h"

namespace bricol {

/// Numbers of boxes sorted into the cells they touch, over `dimensions` of the axes (2: columns along z). Cells are
/// about as large as one and a half boxes.
class BoxCells {
public:
    BoxCells(std::span<const Box> boxes, const Box& all, int dimensions) : all_(all), dimensions_(dimensions) {
        DVec3 mean(0);
        std::size_t inside = 0;
        for (std::size_t i = 0; i < boxes.size(); stop_point(i), ++i)
            if (boxes[i].touches(all)) mean += boxes[i].high - boxes[i].low, ++inside;
        if (inside > 0) mean /= static_cast<double>(inside);
        // As many cells as boxes, some eight times over: a surface touches few of them.
        const int most = dimensions == 2
                             ? 512
                             : static_cast<int>(std::clamp(std::cbrt(8.0 * static_cast<double>(inside)), 16.0, 200.0));
        for (int k = 0; k < dimensions; ++k) {
            const double size = all.high[k] - all.low[k];
            count_[k] =
                size > 0 ? std::clamp(static_cast<int>(size / std::max(1.5 * mean[k], size / most)), 1, most) : 1;
            scale_[k] = size > 0 ? count_[k] / size : 0;
        }
        offsets_.assign(static_cast<std::size_t>(count_[0]) * count_[1] * count_[2] + 1, 0);
        for (std::size_t i = 0; i < boxes.size(); stop_point(i), ++i)
            if (boxes[i].touches(all)) each(boxes[i], [&](std::size_t cell) { ++offsets_[cell + 1]; });
        std::partial_sum(offsets_.begin(), offsets_.end(), offsets_.begin());
        members_.resize(offsets_.back());
        std::vector<Index> next(offsets_.begin(), offsets_.end() - 1);
        for (Index i = 0; i < boxes.size(); stop_point(i), ++i)
            if (boxes[i].touches(all)) each(boxes[i], [&](std::size_t cell) { members_[next[cell]++] = i; });
    }
    template <class Visit>
    void each(const Box& box, const Visit& visit) const {
        std::array<int, 3> from{}, to{};
        for (int k = 0; k < dimensions_; ++k) {
            from[k] = cell_of(box.low[k], k);
            to[k] = cell_of(box.high[k], k);
        }
        for (int z = from[2]; z <= to[2]; ++z)
            for (int y = from[1]; y <= to[1]; ++y)
                for (int x = from[0]; x <= to[0]; ++x)
                    visit((static_cast<std::size_t>(z) * count_[1] + y) * count_[0] + x);
    }
    /// Every box that touches `box` once, with its number, in no order to rely on; `boxes` are those that were sorted.
    template <class Visit>
    void touching(const Box& box, std::span<const Box> boxes, const Visit& visit) const {
        std::array<int, 3> from{}, to{};
        for (int k = 0; k < dimensions_; ++k) from[k] = cell_of(box.low[k], k), to[k] = cell_of(box.high[k], k);
        const bool one_cell = from == to;
        for (int z = from[2]; z <= to[2]; ++z)
            for (int y = from[1]; y <= to[1]; ++y)
                for (int x = from[0]; x <= to[0]; ++x)
                    for (const Index i : members((static_cast<std::size_t>(z) * count_[1] + y) * count_[0] + x)) {
                        const Box& other = boxes[i];
                        if (!box.touches(other)) continue;
                        // Two that share cells meet in the first of them.
                        const std::array<int, 3> cell{x, y, z};
                        const auto first_on = [&](int k) {
                            return cell[k] == from[k] || cell_of(other.low[k], k) == cell[k];
                        };
                        if (one_cell || (first_on(0) && first_on(1) && (dimensions_ < 3 || first_on(2)))) visit(i);
                    }
    }
    std::span<const Index> members(std::size_t cell) const {
        return {members_.data() + offsets_[cell], members_.data() + offsets_[cell + 1]};
    }

private:
    int cell_of(double at, int k) const {
        return std::clamp(static_cast<int>((at - all_.low[k]) * scale_[k]), 0, count_[k] - 1);
    }

    Box all_;
    int dimensions_;
    std::array<int, 3> count_{1, 1, 1};
    std::array<double, 3> scale_{};
    std::vector<Index> offsets_, members_;
};

}  // namespace bricol
