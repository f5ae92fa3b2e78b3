// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ground/kept_memory.h"

#include <atomic>
#include <dlfcn.h>
#include <malloc.h>
#include <new>
#include <system_error>
#include <thread>

#include "core/ground/stop.h"

namespace {

/// An array that is to be given back; it holds the way to the next itself, for nothing may be asked for here.
struct Freed {
    Freed* next;
    std::size_t size;
};

constexpr std::size_t large = 1 << 20;
std::atomic<Freed*> freed{nullptr};
std::atomic<std::size_t> given_back{0};
std::atomic<bool> thread_runs{false};

/// The deleting that would be used without ours: the standard library's, or a sanitiser's.
void delete_at_once(void* place, std::size_t size) noexcept {
    using Delete = void (*)(void*, std::size_t);
    static const auto next = reinterpret_cast<Delete>(dlsym(RTLD_NEXT, "_ZdlPvm"));
    next(place, size);
}

void give_back() {
    for (;;) {
        freed.wait(nullptr);
        for (Freed* list = freed.exchange(nullptr); list;) {
            Freed* const after = list->next;
            delete_at_once(list, list->size);
            list = after;
            ++given_back;
        }
    }
}

}  // namespace

// The unsized one may stay the standard library's: both end in the same place.
#pragma GCC diagnostic ignored "-Wsized-deallocation"

/// Replaces the standard library's for sized arrays, which is what containers call; a program may have one of its own.
[[gnu::weak]] void operator delete(void* place, std::size_t size) noexcept {
    if (!place || size < large || !thread_runs.load(std::memory_order_relaxed) || !bricol::stop_asked()) {
        delete_at_once(place, size);
        return;
    }
    auto* const list = ::new (place) Freed{freed.load(), size};
    while (!freed.compare_exchange_weak(list->next, list)) {
    }
    freed.notify_one();
}

namespace bricol {

bool keep_freed_memory() {
    if (!thread_runs.exchange(true)) {
        try {
            std::thread(give_back).detach();  // it ends with the program
        } catch (const std::system_error&) {
            thread_runs = false;  // no more threads to be had: all is given back at once
        }
    }
    // glibc takes no more than 32 MB for the first, and with the second set no longer finds the first by itself.
    return mallopt(M_MMAP_THRESHOLD, 32 << 20) == 1 && mallopt(M_TRIM_THRESHOLD, 512 << 20) == 1;
}

std::size_t arrays_given_back_later() { return given_back; }

}  // namespace bricol
