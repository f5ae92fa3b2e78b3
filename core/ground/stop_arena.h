// SPDX-License-Identifier: GPL-3.0-or-later
// Threads that all obey one stop.
#pragma once

#include <optional>

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
        Observer observer(arena, flag);
        const StopScope scope(flag);
        arena.execute(work);
    }

private:
    struct Observer : tbb::task_scheduler_observer {
        Observer(tbb::task_arena& arena, const std::atomic<bool>* flag) : task_scheduler_observer(arena), flag_(flag) {
            observe(true);
        }
        ~Observer() override { observe(false); }
        void on_scheduler_entry(bool worker) override {
            if (worker) scope().emplace(flag_);
        }
        void on_scheduler_exit(bool worker) override {
            if (worker) scope().reset();
        }
        static std::optional<StopScope>& scope() {
            thread_local std::optional<StopScope> held;
            return held;
        }
        const std::atomic<bool>* flag_;
    };
};

}  // namespace bricol
