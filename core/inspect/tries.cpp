// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inspect/tries.h"

#include <algorithm>
#include <tbb/global_control.h>

#include "core/ground/parallel.h"
#include "core/recipe/edit.h"

namespace bricol {

Tries::Tries(std::size_t at_once, std::size_t memory_bound) {
    if (at_once == 0) at_once = tbb::global_control::active_value(tbb::global_control::max_allowed_parallelism);
    for (std::size_t i = 0; i < at_once; ++i) makers_.push_back(std::make_unique<Maker>(memory_bound));
}

Tries::~Tries() = default;

void Tries::run(const TriesOrder& order) {
    const auto stopped = [&] { return (order.making.stop && *order.making.stop) || (order.enough && order.enough()); };
    std::atomic<std::size_t> next = 0;
    // One number at a time: a making may take a thousand times as long as its neighbour.
    const auto work = [&](Maker& maker) {
        for (std::size_t n = next++; n < order.count && !stopped(); n = next++) {
            const auto turned = with_dials(order.recipe, order.at(n), Outside::held);
            if (!turned) {
                order.done(n, order.recipe, turned.problem());
                continue;
            }
            Result<Made> made = maker.make(*turned, order.making);
            if (!made->stopped) order.done(n, *turned, made);
        }
    };
    parallel::each(std::size_t(0), makers_.size(), [&](std::size_t m) { work(*makers_[m]); });
}

}  // namespace bricol
