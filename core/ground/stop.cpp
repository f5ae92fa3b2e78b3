// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ground/stop.h"

namespace bricol {

namespace {

thread_local std::size_t stop_points = 0;
/// Whether this thread's flag is gone: what the thread frees at its very end may still ask.
thread_local bool ended = false;

struct OfThread {
    std::shared_ptr<StopFlag> flag;
    ~OfThread() { ended = true; }
};

}  // namespace

std::shared_ptr<StopFlag>& stop_of_thread() {
    thread_local OfThread held;
    return held.flag;
}

StopScope::StopScope(const std::atomic<bool>* flag)
    : flag_(std::make_shared<StopFlag>(flag)), before_(stop_of_thread()) {
    stop_of_thread() = flag_;
}

StopScope::~StopScope() {
    *flag_ = nullptr;  // a thread that helped may go on holding it
    stop_of_thread() = before_;
}

bool stop_asked() {
    if (ended) return false;
    const StopFlag* const held = stop_of_thread().get();
    if (!held) return false;
    const std::atomic<bool>* const flag = held->load(std::memory_order_acquire);
    return flag && flag->load(std::memory_order_relaxed);
}

void stop_point() {
    ++stop_points;
    if (stop_asked()) throw Stopped{};
}

std::size_t stop_points_passed() { return stop_points; }

}  // namespace bricol
