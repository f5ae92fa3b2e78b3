// SPDX-License-Identifier: GPL-3.0-or-later
// A stop ends what runs, wherever it is, and leaves nothing half made.
#include <algorithm>
#include <array>
#include <atomic>
#include <catch2/catch.hpp>
#include <chrono>
#include <embree3/rtcore.h>
#include <fstream>
#include <malloc.h>
#include <memory>
#include <numeric>
#include <stdexcept>
#include <tbb/info.h>
#include <tbb/parallel_for.h>
#include <thread>
#include <unistd.h>

#include "core/ground/kept_memory.h"
#include "core/ground/parallel.h"
#include "core/ground/stop_arena.h"
#include "core/kernels/primitives.h"
#include "core/kernels/ray_tree.h"
#include "core/make/run_step.h"
#include "tests/support/build.h"
#include "tests/support/step_tries.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

TEST_CASE("arrays that are freed stay with the program", "[stop]") {
    if (sanitized()) return;  // the sanitisers hand out memory themselves
    REQUIRE(keep_freed_memory());
    const std::size_t maps = mallinfo2().hblks;
    { const std::vector<char> large(24 << 20); }
    // mallopt(3): what is below the threshold comes from the heap, and what lies free at its end is kept up to the
    // other.
    CHECK(mallinfo2().hblks == maps);
    CHECK(mallinfo2().keepcost >= 24u << 20);
}

TEST_CASE("large arrays freed where a stop is asked for are given back, by another thread", "[stop]") {
    CHECK(keep_freed_memory() != sanitized());  // the sanitisers have a C library's memory of their own
    const auto resident = [] {                  // proc(5): the second number of statm, in pages
        std::size_t all = 0, here = 0;
        std::ifstream("/proc/self/statm") >> all >> here;
        return here * static_cast<std::size_t>(sysconf(_SC_PAGESIZE)) >> 20;
    };
    std::atomic<bool> flag = true;
    const StopScope scope(&flag);
    std::vector<std::vector<char>> arrays(4);
    for (auto& array : arrays) array.assign(64 << 20, 1);
    const std::size_t full = resident(), before = arrays_given_back_later();
    std::vector<int> small(1000);
    small = {};
    CHECK(arrays_given_back_later() == before);
    arrays.clear();
    for (int i = 0; i < 1000 && arrays_given_back_later() < before + 4; ++i)
        std::this_thread::sleep_for(std::chrono::milliseconds(10));
    CHECK(arrays_given_back_later() == before + 4);
    if (!sanitized()) CHECK(resident() + 200 < full);  // the sanitisers keep what is freed for a while

    flag = false;  // nothing is asked: freed at once
    { const std::vector<char> large(64 << 20); }
    CHECK(arrays_given_back_later() == before + 4);
}

TEST_CASE("loops on several threads go over each number once", "[stop]") {
    std::vector<int> times(1000, 0);
    parallel::each(parallel::Numbers<int>(-300, 400, 7), [&](const auto& numbers) {
        for (int i = numbers.begin(); i != numbers.end(); ++i) ++times[static_cast<std::size_t>(i + 300)];
    });
    parallel::each(std::size_t(700), std::size_t(1000), [&](std::size_t i) { ++times[i]; });
    CHECK(std::ranges::all_of(times, [](int n) { return n == 1; }));
    bool called = false;
    parallel::each(parallel::Numbers<Index>(5, 5, 1), [&](const auto&) { called = true; });
    CHECK_FALSE(called);

    // Joined in their order, whatever the threads do: 0 1 2 … 999.
    const auto joined = parallel::reduce(
        parallel::Numbers<int>(0, 1000, 64), std::vector<int>(),
        [](const auto& numbers, std::vector<int> out) {
            for (int i = numbers.begin(); i != numbers.end(); ++i) out.push_back(i);
            return out;
        },
        [](std::vector<int> a, const std::vector<int>& b) {
            a.insert(a.end(), b.begin(), b.end());
            return a;
        });
    std::vector<int> wanted(1000);
    std::iota(wanted.begin(), wanted.end(), 0);
    CHECK(joined == wanted);

    int one = 0, other = 0, third = 0;
    parallel::together([&] { one = 1; }, [&] { other = 2; }, [&] { third = 3; });
    CHECK((one == 1 && other == 2 && third == 3));
    CHECK_THROWS_AS(parallel::together([] {}, [] { throw Stopped{}; }), Stopped);
}

TEST_CASE("trees for rays stop being built when asked, and are whole when built again", "[stop]") {
    const Mesh mesh = make_grid(1, 1, 200, 200);
    const std::vector<Vec3> points(mesh.positions->begin(), mesh.positions->end());
    std::vector<std::array<Index, 3>> triangles;
    for (std::size_t f = 0; f < mesh.face_count(); ++f) {
        const auto q = mesh.topology->face(f);
        triangles.push_back({q[0], q[1], q[2]}), triangles.push_back({q[0], q[2], q[3]});
    }
    const std::unique_ptr<RTCDeviceTy, decltype(&rtcReleaseDevice)> device(rtcNewDevice(nullptr), rtcReleaseDevice);
    const auto scene_of_grid = [&] {
        std::unique_ptr<RTCSceneTy, decltype(&rtcReleaseScene)> scene(rtcNewScene(device.get()), rtcReleaseScene);
        const RTCGeometry geometry = rtcNewGeometry(device.get(), RTC_GEOMETRY_TYPE_TRIANGLE);
        std::ranges::copy(
            points, static_cast<Vec3*>(rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3,
                                                               sizeof(Vec3), points.size())));
        std::ranges::copy(
            triangles, static_cast<std::array<Index, 3>*>(rtcSetNewGeometryBuffer(
                           geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3, 3 * sizeof(Index), triangles.size())));
        rtcCommitGeometry(geometry);
        rtcAttachGeometry(scene.get(), geometry);
        rtcReleaseGeometry(geometry);
        return scene;
    };
    std::atomic<bool> flag = true;
    const StopScope scope(&flag);
    CHECK_THROWS_AS(build_tree(scene_of_grid().get()), Stopped);  // none but Embree's own building can see the flag
    flag = false;
    const auto scene = scene_of_grid();
    build_tree(scene.get());
    RTCRay ray{0.1f, 0.2f, 1, 0, 0, 0, -1, 0, 2, ~0u, 0, 0};
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    rtcOccluded1(scene.get(), &context, &ray);
    CHECK(ray.tfar < 0);
}

TEST_CASE("a stop point throws only while a raised flag is in scope", "[stop]") {
    std::atomic<bool> flag = false;
    CHECK_NOTHROW(stop_point());
    {
        const StopScope outer(&flag);
        CHECK_NOTHROW(stop_point());
        flag = true;
        CHECK_THROWS_AS(stop_point(), Stopped);
        {
            const StopScope inner(nullptr);
            CHECK_NOTHROW(stop_point());
        }
        CHECK_THROWS_AS(stop_point(), Stopped);
    }
    CHECK_NOTHROW(stop_point());
}

TEST_CASE("threads that help obey the stop of the arena they help in", "[stop]") {
    std::atomic<bool> flag = false;
    std::atomic<int> given_up = 0, rounds = 0;
    const auto work = [&] {
        // A piece per thread: the caller's own raises the flag, the others must see it without any help from it.
        const tbb::global_control threads(tbb::global_control::max_allowed_parallelism, 2);
        tbb::parallel_for(
            tbb::blocked_range<int>(0, 2, 1),
            [&](const auto& range) {
                for (int i = range.begin(); i != range.end(); ++i) try {
                        for (std::size_t round = 0; round < 2000; ++round) {
                            ++rounds;
                            std::this_thread::sleep_for(std::chrono::milliseconds(1));
                            if (rounds > 20) flag = true;
                            stop_point();
                        }
                    } catch (const Stopped&) {
                        ++given_up;
                        throw;
                    }
            },
            tbb::simple_partitioner());
    };
    CHECK_THROWS_AS(StopArena().run(&flag, work), Stopped);
    CHECK(given_up >= 1);
    CHECK(rounds < 200);
    CHECK_NOTHROW(stop_point());
}

TEST_CASE("work that does not look is waited for, or left to end by itself at a stop", "[stop]") {
    std::atomic<bool> stop = false;
    const StopScope scope(&stop);
    // Waited for, with as many helpers as here and nothing to obey; what it throws comes out.
    std::thread::id there;
    bool obeys = true;
    std::atomic<int> sum = 0;
    parallel::beside([&] {
        there = std::this_thread::get_id();
        obeys = stop_of_thread() != nullptr;
        parallel::each(0, 1000, [&](int i) { sum += i; });
    });
    CHECK(there != std::this_thread::get_id());
    CHECK_FALSE(obeys);
    CHECK(sum == 499500);
    CHECK_THROWS_AS(parallel::beside([] { throw std::runtime_error("broken"); }), std::runtime_error);
    // Left behind: thrown before the work has ended, which it then does.
    struct Own {
        std::atomic<bool> begun = false, let_go = false, done = false;
    };
    const auto own = std::make_shared<Own>();
    std::thread asker([&, own] {
        while (!own->begun) std::this_thread::yield();
        stop = true;
    });
    CHECK_THROWS_AS(parallel::beside([own] {
                        own->begun = true;
                        while (!own->let_go) std::this_thread::yield();
                        own->done = true;
                    }),
                    Stopped);
    asker.join();
    CHECK_FALSE(own->done);
    own->let_go = true;
    for (int i = 0; i < 5000 && !own->done; ++i) std::this_thread::sleep_for(std::chrono::milliseconds(1));
    CHECK(own->done);
    // Once asked, nothing is begun.
    bool begun = false;
    CHECK_THROWS_AS(parallel::beside([&] { begun = true; }), Stopped);
    CHECK_FALSE(begun);
}

TEST_CASE("work that does not look is done here where nobody can ask for a stop", "[stop]") {
    std::thread::id there;
    std::thread([&] {
        parallel::beside([&] { there = std::this_thread::get_id(); });
        CHECK(there == std::this_thread::get_id());
    }).join();
}

TEST_CASE("a thread that has helped obeys nothing afterwards", "[stop]") {
    const tbb::global_control threads(tbb::global_control::max_allowed_parallelism, 4);
    for (int round = 0; round < 50; ++round) {
        auto flag = std::make_unique<std::atomic<bool>>(false);
        StopArena().run(flag.get(), [] {
            tbb::parallel_for(0, 64, [](int) { std::this_thread::sleep_for(std::chrono::microseconds(20)); });
        });
        *flag = true;
        CHECK_NOTHROW(tbb::parallel_for(0, 64, [](int) {
            std::this_thread::sleep_for(std::chrono::microseconds(20));
            stop_point();
        }));
    }
}

TEST_CASE("a stop in one round of a loop does not cut the loops inside the others short", "[stop]") {
    const tbb::global_control threads(tbb::global_control::max_allowed_parallelism, 2);
    std::atomic<int> begun = 0;
    std::array<std::atomic<int>, 2> rounds{};
    const auto work = [&](int outer) {
        ++begun;
        for (int waited = 0; begun < 2 && waited < 1000; ++waited)  // until both rounds are on their way
            std::this_thread::sleep_for(std::chrono::milliseconds(1));
        if (outer == 0) throw Stopped{};
        std::this_thread::sleep_for(std::chrono::milliseconds(20));
        parallel::each(0, 1000, [&](int) { ++rounds[0]; });
        parallel::together([&] { ++rounds[1]; }, [&] { ++rounds[1]; });
    };
    CHECK_THROWS_AS(parallel::each(0, 2, work), Stopped);
    if (tbb::info::default_concurrency() < 2) {
        WARN("One core only: the rounds cannot run side by side, so this was not tried.");
        return;
    }
    REQUIRE(begun == 2);  // otherwise nothing was tried
    CHECK(rounds[0] == 1000);
    CHECK(rounds[1] == 2);
}

TEST_CASE("counts that were stopped half way start anew", "[stop]") {
    const Ties whole = make_grid(1, 1, 300, 300).topology->ties();
    CHECK(whole.border_edges == 4 * 300);
    CHECK(whole.pieces == 1);
    std::size_t stopped = 0;
    for (int delay = 0; delay < 400; delay += sanitized() ? 20 : 4) {
        const Mesh mesh = make_grid(1, 1, 300, 300);
        std::atomic<bool> flag = false;
        std::thread asker([&] {
            const auto end = std::chrono::steady_clock::now() + std::chrono::microseconds(delay * 10);
            while (std::chrono::steady_clock::now() < end) {
            }
            flag = true;
        });
        try {
            const StopScope scope(&flag);
            mesh.topology->ties();
            mesh.topology->adjacency();
        } catch (const Stopped&) {
            ++stopped;
        }
        asker.join();
        const Ties& again = mesh.topology->ties();
        REQUIRE(again.border_edges == whole.border_edges);
        REQUIRE(again.pieces == whole.pieces);
        REQUIRE(mesh.topology->adjacency().edge_face.size() == 4 * 300 * 300);
    }
    CHECK(stopped > 10);
}

TEST_CASE("every step that makes new topology looks often enough whether it should stop", "[stop][wide]") {
    const tbb::global_control threads(tbb::global_control::max_allowed_parallelism, 1);  // each counts its own looks
    const Mesh sheet = make_grid(1, 1, 100, 100), box = make_box(DVec3(0.5), {1, 1, 1});
    std::size_t looked_at = 0;
    for (const auto& [key, settings] : step_tries()) {
        ReadyStep step(key, settings, sheet, box);
        if (!step.ready) continue;
        INFO(key << " " << settings.dump());
        const std::size_t before = stop_points_passed();
        bool failed = false;
        const ShapePtr shape = run_step(*step.info, step.run, failed);
        const std::size_t looks = stop_points_passed() - before;
        if (failed || shape->mesh.topology == sheet.topology || shape->mesh.face_count() < 1000) continue;
        ++looked_at;
        CHECK(looks * 4096 >= shape->mesh.face_count());
        // And once asked, it gives up without an error.
        std::atomic<bool> flag = true;
        ReadyStep again(key, settings, sheet, box);
        const StopScope scope(&flag);
        CHECK_THROWS_AS(run_step(*again.info, again.run, failed), Stopped);
        CHECK_FALSE(again.run.failed());
    }
    CHECK(looked_at >= 30);
}

TEST_CASE("a step stopped in its middle leaves no result behind and is made anew", "[stop][make]") {
    const Recipe recipe = recipe_of(Json::array(
        {step("b", "box"), step("s", "subdivide", {{"levels", 7}}), step("n", "normals", {{"angle", 30}})}));
    std::atomic<bool> flag = false;
    MakeOptions options;
    options.stop = &flag;
    Maker maker;
    // Raised when the box is there: the subdivision (98 304 faces) is stopped on its way.
    options.progress = [&](const MakeProgress& at) { flag = flag || at.share > 0; };
    const Made stopped = maker.make(recipe, options);
    CHECK(stopped.stopped);
    CHECK(stopped.step(recipe, "p", "b"));
    CHECK_FALSE(stopped.step(recipe, "p", "s"));
    flag = false;
    options.progress = nullptr;
    const Made made = maker.make(recipe, options);
    CHECK_FALSE(made.stopped);
    REQUIRE(made.step(recipe, "p", "s"));
    CHECK(made.step(recipe, "p", "s")->shape->mesh.face_count() == 6 * 16384);
    CHECK(made.made == 2);  // the box is remembered
    CHECK(made.kept == 1);
}

TEST_CASE("a stop inside a recipe within a recipe is not remembered as an error", "[stop][make][kits]") {
    const std::string folder = SOURCE_FOLDER "/demo";
    const auto loaded = load_recipe(folder + "/quay-racks.bricol");
    REQUIRE(loaded);
    std::atomic<bool> flag = false;
    std::atomic<int> asked = 0;
    int stop_at = 0;  // which kit asked for raises the flag; none at 0
    MakeOptions options;
    options.environment = environment_in(folder);
    options.environment.find_kit = [&, plain = options.environment.find_kit](const auto&... given) {
        if (++asked == stop_at) flag = true;
        return plain(given...);
    };
    CHECK_FALSE(Maker().make(*loaded, options).has_errors());
    const int kits = asked;
    REQUIRE(kits >= 3);
    for (stop_at = 1; stop_at <= kits; ++stop_at) {
        INFO("stopped at the kit asked for as number " << stop_at << " of " << kits);
        Maker maker;
        asked = 0;
        options.stop = &flag;
        CHECK(maker.make(*loaded, options).stopped);
        flag = false;
        options.stop = nullptr;
        CHECK_FALSE(maker.make(*loaded, options).has_errors());
        asked = 0;
    }
}
