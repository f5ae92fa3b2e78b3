// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ground/stop.h"

namespace bricol {

namespace {

thread_local const std::atomic<bool>* stop_flag = nullptr;
thread_local std::size_t stop_points = 0;

}  // namespace

StopScope::StopScope(const std::atomic<bool>* flag) : before_(stop_flag) { stop_flag = flag; }

StopScope::~StopScope() { stop_flag = before_; }

void stop_point() {
    ++stop_points;
    if (stop_flag && stop_flag->load(std::memory_order_relaxed)) throw Stopped{};
}

std::size_t stop_points_passed() { return stop_points; }

}  // namespace bricol
