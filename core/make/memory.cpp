// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/make/memory.h"

namespace bricol {

std::shared_ptr<const StepOutcome> ResultMemory::recall(std::uint64_t hash) {
    const std::scoped_lock lock(mutex_);
    const auto found = kept_.find(hash);
    if (found == kept_.end()) return nullptr;
    order_.splice(order_.begin(), order_, found->second.place);
    return found->second.outcome;
}

void ResultMemory::keep(const std::shared_ptr<const StepOutcome>& outcome) {
    const std::scoped_lock lock(mutex_);
    if (kept_.contains(outcome->hash)) return;
    const std::size_t bytes = outcome->shape->bytes() + 512;
    order_.push_front(outcome->hash);
    kept_[outcome->hash] = {outcome, order_.begin(), bytes};
    bytes_ += bytes;
    while (bytes_ > bound_ && order_.size() > 1) {
        const auto oldest = kept_.find(order_.back());
        bytes_ -= oldest->second.bytes;
        kept_.erase(oldest);
        order_.pop_back();
    }
}

std::shared_ptr<const PartOutcome> ResultMemory::recall_part(std::uint64_t key, const ShapePtr& shape) {
    const std::scoped_lock lock(mutex_);
    const auto found = finished_.find(key);
    return found != finished_.end() && found->second->shape == shape ? found->second : nullptr;
}

void ResultMemory::keep_part(std::uint64_t key, std::shared_ptr<const PartOutcome> outcome) {
    const std::scoped_lock lock(mutex_);
    if (finished_.size() > 256) finished_.clear();
    finished_[key] = std::move(outcome);
}

void ResultMemory::forget() {
    const std::scoped_lock lock(mutex_);
    kept_.clear();
    order_.clear();
    finished_.clear();
    bytes_ = 0;
}

}  // namespace bricol
