// SPDX-License-Identifier: GPL-3.0-or-later
// Giving work up when a stop is asked for.
#pragma once

#include <atomic>
#include <cstddef>
#include <memory>

#include "core/ground/types.h"

namespace bricol {

/// Thrown where work is given up because a stop was asked for. Not a std::exception: nobody takes it for a failure.
struct Stopped {};

/// A flag that several threads look at; null once nobody may look any more.
using StopFlag = std::atomic<const std::atomic<bool>*>;

/// The flag that work on this thread obeys while the scope lives; none when it is null. It belongs to the thread and
/// not to every function's parameters because much that takes long cannot be handed one: constructors, neighbours
/// built when they are first asked for, topology inside a mesh. Threads that help are given it by StopArena.
class StopScope {
public:
    explicit StopScope(const std::atomic<bool>* flag);
    ~StopScope();
    StopScope(const StopScope&) = delete;
    StopScope& operator=(const StopScope&) = delete;

    const std::shared_ptr<StopFlag>& flag() const { return flag_; }

private:
    std::shared_ptr<StopFlag> flag_, before_;
};

/// What this thread obeys, for those who hand it to other threads. A thread may keep it longer than the work lasts.
std::shared_ptr<StopFlag>& stop_of_thread();

/// Looks at the flag; throws Stopped when it is raised. A few nanoseconds. Everything that can take longer than 20 ms
/// passes one at least that often.
void stop_point();
/// Whether it would throw.
bool stop_asked();
/// The same in a loop, every 256th time round.
inline void stop_point(std::size_t round) {
    if ((round & 255) == 0) stop_point();
}
/// So many of one value. Filling fresh memory can take longer than a stop may: it is looked at now and then.
template <class T>
Array<T> array_of(std::size_t count, T value) {
    Array<T> out(count);
    for (std::size_t i = 0; i < count; ++i) {
        if ((i & 0xffff) == 0) stop_point();
        out[i] = value;
    }
    return out;
}
/// How many times this thread has looked, for tests.
std::size_t stop_points_passed();

}  // namespace bricol
