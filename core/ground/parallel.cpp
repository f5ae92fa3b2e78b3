// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ground/parallel.h"

#include <chrono>
#include <condition_variable>
#include <exception>
#include <mutex>
#include <system_error>
#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>
#include <thread>

#include "core/ground/stop.h"

namespace bricol::parallel {

namespace {

/// What a thread of its own and the one that waits for it share.
struct Beside {
    std::mutex mutex;
    std::condition_variable told;
    bool done = false;
    std::exception_ptr failed;
};

/// Threads nobody waits for any more, joined when they are done and at the end of the program.
class LeftBehind {
public:
    ~LeftBehind() {
        for (auto& [thread, state] : threads_) thread.join();
    }
    void add(std::thread thread, std::shared_ptr<Beside> state) {
        const std::scoped_lock lock(mutex_);
        std::erase_if(threads_, [](auto& one) {
            const std::scoped_lock of_one(one.second->mutex);
            if (one.second->done) one.first.join();
            return one.second->done;
        });
        threads_.emplace_back(std::move(thread), std::move(state));
    }

private:
    std::mutex mutex_;
    std::vector<std::pair<std::thread, std::shared_ptr<Beside>>> threads_;
};

/// Made when first needed: what it waits for at the end of the program was there before it, and still is.
LeftBehind& left_behind() {
    static LeftBehind all;
    return all;
}

}  // namespace

void run_pieces(std::size_t count, std::size_t grain, const void* body, Piece piece) {
    tbb::task_group_context own(tbb::task_group_context::isolated);
    tbb::parallel_for(
        tbb::blocked_range<std::size_t>(0, count, grain),
        [=](const tbb::blocked_range<std::size_t>& range) { piece(body, range.begin(), range.end()); }, own);
}

void run_together(std::size_t count, const void* body, Piece piece) {
    tbb::task_group_context own(tbb::task_group_context::isolated);
    // Each is worth a thread: none waits behind another in one piece.
    tbb::parallel_for(
        tbb::blocked_range<std::size_t>(0, count, 1),
        [=](const tbb::blocked_range<std::size_t>& range) {
            for (std::size_t k = range.begin(); k != range.end(); ++k) piece(body, k, k + 1);
        },
        tbb::simple_partitioner(), own);
}

void beside(std::function<void()> work) {
    if (!stop_of_thread()) return work();
    stop_point();
    const auto state = std::make_shared<Beside>();
    std::thread thread;
    try {
        thread = std::thread([state, work, helpers = tbb::this_task_arena::max_concurrency()] {
            std::exception_ptr failed;
            try {
                tbb::task_arena(helpers).execute(work);
            } catch (...) {
                failed = std::current_exception();
            }
            const std::scoped_lock lock(state->mutex);
            state->failed = failed;
            state->done = true;
            state->told.notify_one();
        });
    } catch (const std::system_error&) {
        return work();
    }
    std::unique_lock lock(state->mutex);
    while (!state->done) {
        if (stop_asked()) {
            lock.unlock();
            left_behind().add(std::move(thread), state);
            throw Stopped{};
        }
        state->told.wait_for(lock, std::chrono::milliseconds(2));
    }
    lock.unlock();
    thread.join();
    if (state->failed) std::rethrow_exception(state->failed);
}

}  // namespace bricol::parallel
