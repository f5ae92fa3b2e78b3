// SPDX-License-Identifier: GPL-3.0-or-later
// How late each step obeys a stop on a million faces, a body of 10 000 sticks, a field of millions of cells: it is
// asked at many moments of its run, and the longest wait from asking to giving up is told. Twenty milliseconds is what
// is wanted.
#include <algorithm>
#include <chrono>
#include <cstdio>
#include <map>
#include <thread>

#include "core/ground/kept_memory.h"
#include "core/ground/stop_arena.h"
#include "core/kernels/primitives.h"
#include "core/kernels/solids.h"
#include "core/kernels/sticks.h"
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

/// A spine with arms of three bones each.
Mesh figure(std::size_t count) {
    std::vector<StickKnot> knots;
    std::vector<std::array<Index, 2>> bones;
    const auto add = [&](const DVec3& at, double girth, Index from) {
        StickKnot knot;
        knot.at = at, knot.girth = DVec2(girth), knot.id = static_cast<std::int32_t>(knots.size()) + 1;
        knots.push_back(knot);
        if (from != no_index) bones.push_back({from, static_cast<Index>(knots.size() - 1)});
        return static_cast<Index>(knots.size() - 1);
    };
    Index spine = add({0, 0, 0}, 0.15, no_index);
    for (int i = 1; knots.size() < count; ++i) {
        spine = add({0, 0, 0.5 * i}, 0.15, spine);
        for (const double side : {-1.0, 1.0}) {
            Index arm = spine;
            for (int j = 1; j <= 3 && knots.size() < count; ++j)
                arm = add({side * 0.35 * j, 0.1 * j, 0.5 * i + 0.05 * j}, 0.1 / j, arm);
        }
    }
    return mesh_of_sticks(knots, bones, {0});
}

struct Try {
    std::string key;
    Json settings;
    Mesh mesh;
};

std::vector<Try> all_tries() {
    const Mesh sheet = make_grid(1, 1, 1000, 1000), ball = make_geodesic_sphere(1, 100), sticks = figure(10000);
    sheet.topology->adjacency();
    std::vector<Try> list;
    for (const auto& [key, settings] : step_tries()) list.push_back({key, settings, sheet});
    list.push_back({"flesh", {{"rounds", 2}, {"joints", false}}, sticks});
    for (const char* smoothing : {"soft", "even", "edges"})
        list.push_back({"fuse", {{"cell", 0.01}, {"smoothing", smoothing}, {"rounds", 4}, {"offset", 0.05}}, ball});
    list.push_back({"remesh", {{"faces", "quads"}, {"to", "count"}, {"count", 20000}}, ball});
    list.push_back({"remesh", {{"faces", "quads"}, {"to", "count"}, {"count", 20000}, {"sizes", "curvature"}}, ball});
    return list;
}

}  // namespace

int main(int argc, char** argv) {
    keep_freed_memory();  // as the programs do
    const std::string only = argc > 1 ? argv[1] : "";
    const Mesh other = make_box(DVec3(0.5), {1, 1, 1});
    std::map<std::string, std::pair<double, double>> worst;  // late, at
    for (const auto& [key, settings, mesh] : all_tries()) {
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
