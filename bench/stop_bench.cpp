// SPDX-License-Identifier: GPL-3.0-or-later
// How late each step obeys a stop on a million faces: it is asked at many moments of its run, and the longest wait from
// asking to giving up is told. Twenty milliseconds is what is wanted.
#include <algorithm>
#include <chrono>
#include <cstdio>
#include <map>
#include <thread>

#include "core/ground/kept_memory.h"
#include "core/ground/stop_arena.h"
#include "core/kernels/primitives.h"
#include "core/make/run_step.h"
#include "tests/support/step_tries.h"

using namespace bricol;
using namespace bricol::test;

namespace {

using Clock = std::chrono::steady_clock;
double ms(Clock::duration d) { return std::chrono::duration<double, std::milli>(d).count(); }

struct Tried {
    double took = 0;  ///< milliseconds until the step came back
    double late = 0;  ///< milliseconds from asking to coming back; 0 when it was done before
};

Tried stopped_after(double after, const std::string& key, const Json& settings, const Mesh& mesh, const Mesh& other) {
    ReadyStep step(key, settings, mesh, other);
    if (!step.ready) return {};
    std::atomic<bool> flag = false, over = false;
    Clock::time_point asked{};
    std::thread asker([&] {
        const auto begin = Clock::now();
        while (!over && ms(Clock::now() - begin) < after) std::this_thread::sleep_for(std::chrono::microseconds(200));
        if (over) return;
        asked = Clock::now();
        flag = true;
    });
    const auto begin = Clock::now();
    try {
        bool failed = false;
        StopArena().run(&flag, [&] { run_step(*step.info, step.run, failed); });
    } catch (const Stopped&) {
    }
    const auto end = Clock::now();
    over = true;
    asker.join();
    return {ms(end - begin), asked == Clock::time_point{} ? 0 : ms(end - asked)};
}

}  // namespace

int main(int argc, char** argv) {
    keep_freed_memory();  // as the programs do
    const std::string only = argc > 1 ? argv[1] : "";
    const Mesh mesh = make_grid(1, 1, 1000, 1000), other = make_box(DVec3(0.5), {1, 1, 1});
    mesh.topology->adjacency();
    std::map<std::string, std::pair<double, double>> worst;  // late, at
    for (const auto& [key, settings] : step_tries()) {
        if (!only.empty() && key != only) continue;
        const double whole = stopped_after(1e6, key, settings, mesh, other).took;
        if (whole < 20) continue;
        const int tries = whole > 3000 ? 2 : std::clamp(static_cast<int>(whole / 15), 3, 12);
        for (int i = 0; i < tries; ++i) {
            const double at = whole * (i + 0.3) / tries;
            const double late = stopped_after(at, key, settings, mesh, other).late;
            auto& [most, when] = worst[key];
            if (late > most) most = late, when = at;
        }
        std::printf("%-16s %8.0f ms whole, stop obeyed %6.1f ms late at worst (asked at %.0f ms) %s\n", key.c_str(),
                    whole, worst[key].first, worst[key].second, settings.dump().substr(0, 60).c_str());
        std::fflush(stdout);
    }
    std::size_t slow = 0;
    for (const auto& [key, late] : worst) slow += late.first > 20;
    std::printf("%zu of %zu steps that take 20 ms or more obey later than 20 ms\n", slow, worst.size());
}
