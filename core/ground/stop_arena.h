// SPDX-License-Identifier: GPL-3.0-or-later
// Threads that all obey one stop.
#pragma once

#include <memory>
#include <mutex>
#include <tbb/global_control.h>
#include <tbb/task_arena.h>
#include <tbb/task_scheduler_observer.h>

#include "core/ground/stop.h"

namespace bricol {

/// Runs work on an arena whose threads obey a flag: each looks at it at its own stop points, so that a long piece on a
/// helping thread ends as soon as one on the calling thread. Kept for as long as there is work to come: helping threads
/// stay in it for a while after each piece, and need not be woken for the next.
class StopArena {
public:
    StopArena() = default;
    StopArena(const StopArena&) = delete;
    StopArena& operator=(const StopArena&) = delete;

    template <class Work>
    void run(const std::atomic<bool>* flag, const Work& work) {
        const std::unique_lock alone(busy_, std::try_to_lock);
        if (!alone) {  // it obeys one flag at a time
            StopArena().run(flag, work);
            return;
        }
        const auto threads =
            static_cast<int>(tbb::global_control::active_value(tbb::global_control::max_allowed_parallelism));
        if (!crew_ || crew_->arena.max_concurrency() != threads) crew_ = std::make_unique<Crew>(threads);
        const StopScope scope(flag);
        const Obeying obeying(*crew_->flag, flag);
        crew_->arena.execute(work);
    }

private:
    struct Crew : tbb::task_scheduler_observer {
        explicit Crew(int threads) : Crew(std::make_unique<tbb::task_arena>(threads)) {}
        ~Crew() override { observe(false); }
        void on_scheduler_entry(bool worker) override {
            if (worker) stop_of_thread() = flag;
        }
        void on_scheduler_exit(bool worker) override {
            if (worker) stop_of_thread() = nullptr;
        }

    private:
        explicit Crew(std::unique_ptr<tbb::task_arena> made) : task_scheduler_observer(*made), own(std::move(made)) {
            observe(true);
        }
        std::unique_ptr<tbb::task_arena> own;

    public:
        tbb::task_arena& arena = *own;
        std::shared_ptr<StopFlag> flag = std::make_shared<StopFlag>(nullptr);  ///< says nothing between pieces of work
    };
    struct Obeying {
        Obeying(StopFlag& held, const std::atomic<bool>* flag) : held(held) { held = flag; }
        ~Obeying() { held = nullptr; }
        StopFlag& held;
    };

    std::mutex busy_;
    std::unique_ptr<Crew> crew_;
};

}  // namespace bricol
