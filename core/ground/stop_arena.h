// SPDX-License-Identifier: GPL-3.0-or-later
// Threads that all obey one stop.
#pragma once

#include <tbb/global_control.h>
#include <tbb/task_arena.h>
#include <tbb/task_scheduler_observer.h>

#include "core/ground/stop.h"

namespace bricol {

/// Runs work on an arena whose threads obey `flag`: each looks at it at its own stop points, so that a long piece on a
/// helping thread ends as soon as one on the calling thread.
class StopArena {
public:
    template <class Work>
    static void run(const std::atomic<bool>* flag, const Work& work) {
        tbb::task_arena arena(
            static_cast<int>(tbb::global_control::active_value(tbb::global_control::max_allowed_parallelism)));
        Observer observer(arena);
        const StopScope scope(flag);  // goes first: from then on helpers that linger hold a flag that says nothing
        observer.begin(scope.flag());
        arena.execute(work);
    }

private:
    struct Observer : tbb::task_scheduler_observer {
        explicit Observer(tbb::task_arena& arena) : task_scheduler_observer(arena) {}
        ~Observer() override { observe(false); }
        void begin(std::shared_ptr<StopFlag> flag) {
            flag_ = std::move(flag);
            observe(true);
        }
        void on_scheduler_entry(bool worker) override {
            if (worker) stop_of_thread() = flag_;
        }
        void on_scheduler_exit(bool worker) override {
            if (worker) stop_of_thread() = nullptr;
        }
        std::shared_ptr<StopFlag> flag_;
    };
};

}  // namespace bricol
