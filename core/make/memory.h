// SPDX-License-Identifier: GPL-3.0-or-later
// Results remembered by content, up to a bound; the longest unused go first.
#pragma once

#include <atomic>
#include <list>
#include <mutex>
#include <unordered_map>

#include "core/make/outcome.h"

namespace bricol {

/// Thread safe.
class ResultMemory {
public:
    explicit ResultMemory(std::size_t bound) : bound_(bound) {}

    std::shared_ptr<const StepOutcome> recall(std::uint64_t hash);
    void keep(const std::shared_ptr<const StepOutcome>& outcome);
    std::shared_ptr<const PartOutcome> recall_part(std::uint64_t key, const ShapePtr& shape);
    void keep_part(std::uint64_t key, std::shared_ptr<const PartOutcome> outcome);
    void forget();

    std::size_t bytes() const { return bytes_.load(std::memory_order_relaxed); }
    std::size_t bound() const { return bound_; }

private:
    struct Kept {
        std::shared_ptr<const StepOutcome> outcome;
        std::list<std::uint64_t>::iterator place;
        std::size_t bytes = 0;
    };
    std::mutex mutex_;
    const std::size_t bound_;
    std::atomic<std::size_t> bytes_ = 0;  ///< read by the window while others write
    std::unordered_map<std::uint64_t, Kept> kept_;
    std::list<std::uint64_t> order_;  ///< newest first
    std::unordered_map<std::uint64_t, std::shared_ptr<const PartOutcome>> finished_;
};

}  // namespace bricol
