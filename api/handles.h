// SPDX-License-Identifier: GPL-3.0-or-later
// What stands behind the numbers that hosts hold.
#pragma once

#include <algorithm>
#include <atomic>
#include <cstring>
#include <map>
#include <memory>
#include <mutex>
#include <new>
#include <stdexcept>

#include "api/bricol.h"
#include "core/ground/result.h"
#include "core/ground/stop.h"

namespace bricol::api {

/// Things by numbers that count on and are never used twice, so that a number that was freed finds nothing, whoever has
/// been made since. May be used from any thread.
template <class T>
class Handles {
public:
    std::uintptr_t keep(std::shared_ptr<T> thing) {
        const std::lock_guard lock(mutex_);
        things_.emplace(++last_, std::move(thing));
        return last_;
    }
    std::shared_ptr<T> find(const void* handle) const {
        const std::lock_guard lock(mutex_);
        const auto found = things_.find(reinterpret_cast<std::uintptr_t>(handle));
        return found == things_.end() ? nullptr : found->second;
    }
    void drop(const void* handle) {
        std::shared_ptr<T> last;  // ends outside the lock
        const std::lock_guard lock(mutex_);
        const auto found = things_.find(reinterpret_cast<std::uintptr_t>(handle));
        if (found == things_.end()) return;
        last = std::move(found->second);
        things_.erase(found);
    }

private:
    mutable std::mutex mutex_;
    std::map<std::uintptr_t, std::shared_ptr<T>> things_;
    std::uintptr_t last_ = 0;
};

/// Keeps the words for bricol_problem, and gives the status back.
bricol_status failed(bricol_status status, const Problem& problem);
bricol_status wrong_use(const char* what, const char* remedy = "");

/// Runs a function of the interface: nothing it throws goes further.
template <class Run>
bricol_status guarded(Run run) noexcept {
    try {
        return run();
    } catch (const Stopped&) {
        return failed(BRICOL_STOPPED, {"Stopped.", "", ""});
    } catch (const std::bad_alloc&) {
        return failed(BRICOL_MEMORY, {"There is not enough memory.", "", "Use a lighter shape."});
    } catch (const std::exception& error) {
        return failed(BRICOL_WRONG_USE, {error.what(), "", ""});
    } catch (...) {
        return failed(BRICOL_WRONG_USE, {"Something went wrong that has no words.", "", ""});
    }
}

/// Copies as much of a struct as the caller knows; false for one that is null or has no size.
template <class T>
bool hand_out(const T& from, T* to) {
    if (!to || to->size < sizeof(size_t)) return false;
    const std::size_t size = to->size;
    std::memcpy(to, &from, std::min(size, sizeof(T)));
    to->size = size;
    return true;
}

}  // namespace bricol::api
