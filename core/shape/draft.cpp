// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/shape/draft.h"

#include <chrono>
#include <utility>

namespace bricol {

namespace {

using DraftClock = std::chrono::steady_clock;

thread_local DraftScope* looking = nullptr;

}  // namespace

DraftScope::DraftScope(std::function<void(ShapePtr)> seen)
    : seen_(std::move(seen)), before_(std::exchange(looking, this)) {}

DraftScope::~DraftScope() { looking = before_; }

bool draft_wanted() {
    constexpr DraftClock::duration between = std::chrono::milliseconds(60);
    return looking && looking->seen_ && DraftClock::now().time_since_epoch().count() - looking->last_ > between.count();
}

void show_draft(ShapePtr shape) {
    if (!looking || !looking->seen_) return;
    looking->seen_(std::move(shape));
    looking->last_ = DraftClock::now().time_since_epoch().count();
}

}  // namespace bricol
