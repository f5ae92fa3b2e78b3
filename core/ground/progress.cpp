// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ground/progress.h"

#include <utility>

namespace bricol {

namespace {

thread_local const std::function<void(double)>* listener = nullptr;

}  // namespace

ProgressScope::ProgressScope(std::function<void(double)> heard)
    : heard_(std::move(heard)), before_(std::exchange(listener, &heard_)) {}

ProgressScope::~ProgressScope() { listener = before_; }

void progress_of_work(double share) {
    if (listener && *listener) (*listener)(share);
}

}  // namespace bricol
