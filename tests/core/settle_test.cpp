// SPDX-License-Identifier: GPL-3.0-or-later
// Bodies that come to rest, against the mechanics of school books: friction's angle, falling, bouncing, the catenary.
#include <catch2/catch.hpp>
#include <fmt/format.h>
#include <tbb/global_control.h>
#include <thread>

#include "core/kernels/catenary.h"
#include "core/kernels/real_geometry.h"
#include "core/kernels/settle.h"
#include "core/kernels/transform.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

constexpr double g = 9.80665;

std::shared_ptr<const SettleForm> block(double x, double y, double z) {
    std::vector<Vec3> corners;
    for (int i = 0; i < 8; ++i) corners.emplace_back((i & 1 ? x : -x) / 2, (i & 2 ? y : -y) / 2, (i & 4 ? z : -z) / 2);
    return std::make_shared<const SettleForm>(SettleForm{corners});
}

glm::dmat4 at(const DVec3& place, const DVec3& turn = DVec3(0)) { return placement(place, turn, DVec3(1), DVec3(0)); }

DVec3 middle(const glm::dmat4& place) { return DVec3(place[3]); }

/// A square of 20 m through the origin, turned about y.
SettleStill slope(double degrees) {
    SettleStill out;
    const double c = std::cos(glm::radians(degrees)), s = std::sin(glm::radians(degrees));
    for (const auto& [x, y] : {std::pair(-10, -10), std::pair(10, -10), std::pair(10, 10), std::pair(-10, 10)})
        out.points.emplace_back(x * c, y, -x * s);
    out.triangles = {0, 1, 2, 0, 2, 3};
    return out;
}

/// How far a block has slid down a slope (metres).
double slid(double degrees, double friction, double seconds) {
    const double up = 0.05;
    const glm::dmat4 start = at(DVec3(0), DVec3(0, degrees, 0)) * at(DVec3(0, 0, up));
    SettleOptions options;
    options.friction = friction, options.damping = 0, options.seconds = seconds;
    const std::vector<SettleBody> bodies{{block(0.4, 0.4, 0.1), start}};
    return glm::distance(middle(settled(bodies, slope(degrees), options).places[0]), middle(start));
}

Recipe heap(int count, Json settle) {
    settle["how"] = "drop";
    return recipe_of(Json::array(
        {step("stone", "rounded_box", {{"size", {0.1, 0.07, 0.05}}, {"radius", 0.02}}),
         step("cloud", "array", {{"kind", "grid"}, {"counts", {4, 4, count / 16}}, {"offset", {0.11, 0.11, 0.12}}}),
         step("tilted", "formula",
              {{"on", "instances"},
               {"rows", Json::array({{{"target", "z"}, {"formula", "z + 0.1"}},
                                     {{"target", "x"}, {"formula", "x + 0.02 * random(index)"}}})}}),
         step("lie", "settle", std::move(settle))}));
}

/// Mean height of all copies.
double height(const Tried& made) {
    double sum = 0, n = 0;
    for (const Instances& group : made.step("lie").shape->instances)
        for (const auto& place : group.places) sum += static_cast<double>(place[3].z), ++n;
    return sum / n;
}

}  // namespace

TEST_CASE("a block that is dropped lies flat on the ground", "[settle]") {
    const std::vector<SettleBody> bodies{{block(0.3, 0.2, 0.1), at({0, 0, 1})}};
    SettleOptions options;
    options.ground = 0.25;
    const Settled done = settled(bodies, {}, options);
    CHECK(done.moving == 0);
    CHECK(done.seconds < 3);  // it ends when it lies
    CHECK(middle(done.places[0]).z == Approx(0.3).margin(0.002));
    CHECK(done.places[0][2].z == Approx(1).margin(0.002));
    // Falling takes the time it takes: half g t^2.
    options.seconds = 0.3, options.damping = 0;
    CHECK(middle(settled(bodies, {}, options).places[0]).z == Approx(1 - g * 0.09 / 2).margin(0.03));
}

TEST_CASE("a block on a slope slips when the slope is steeper than friction's angle", "[settle]") {
    const double angle = 20, limit = std::tan(glm::radians(angle));
    CHECK(slid(angle, limit * 1.1, 1) < 0.02);
    // Below it, as the book says: (sin a - friction cos a) g t^2 / 2.
    for (const double share : {0.8, 0.4, 0.0}) {
        const double friction = limit * share;
        const double wanted = (std::sin(glm::radians(angle)) - friction * std::cos(glm::radians(angle))) * g * 0.64 / 2;
        INFO(share);
        CHECK(slid(angle, friction, 0.8) == Approx(wanted).epsilon(0.06).margin(0.01));
    }
}

TEST_CASE("what bounces comes back with the square of its bounce", "[settle]") {
    // It falls 1 m onto one corner, which lies right under its middle, and is watched until it turns round again.
    std::vector<Vec3> ball;
    for (int axis = 0; axis < 3; ++axis)
        for (const float side : {-0.05f, 0.05f}) ball.emplace_back(0), ball.back()[axis] = side;
    const auto form = std::make_shared<const SettleForm>(SettleForm{ball});
    SettleOptions options;
    options.ground = 0, options.bounce = 0.7, options.damping = 0;
    const double down = std::sqrt(2 / g), up = 0.7 * std::sqrt(2 * g) / g;
    options.seconds = down + up;
    const Settled done = settled(std::vector<SettleBody>{{form, at({0, 0, 1.05})}}, {}, options);
    CHECK(middle(done.places[0]).z - 0.05 == Approx(0.49).margin(0.06));
}

TEST_CASE("a hung chain takes the form of a catenary", "[settle][wide]") {
    // 40 links of 50 mm between two points 1.4 m apart, first along a V.
    const int links = 41;
    const double link = 0.05, span = 1.4;
    std::vector<SettleBody> bodies;
    const double half = (links - 1) * link / 2, depth = std::sqrt(half * half - span * span / 4);
    for (int i = 0; i < links; ++i) {
        const double along = i * link, t = along <= half ? along / half : (2 * half - along) / half;
        const double x = along <= half ? -span / 2 * (1 - t) : span / 2 * (1 - t);
        bodies.push_back({block(0.04, 0.01, 0.01), at({x, 0, -depth * t}), i == 0 || i == links - 1});
    }
    SettleOptions options;
    options.linked = true, options.seconds = 20, options.damping = 0.9;
    const Settled done = settled(bodies, {}, options);
    // The held links stay as they are: the rope hangs between the points where the next ones are tied to them, and
    // through the points where all are.
    const auto tie = [&](std::size_t i) { return (middle(done.places[i]) + middle(done.places[i + 1])) * 0.5; };
    const DVec3 from = (middle(bodies[0].place) + middle(bodies[1].place)) * 0.5, to(-from.x, 0, from.z);
    double length = 0;
    for (std::size_t i = 0; i + 1 < done.places.size(); ++i)
        length += glm::distance(middle(done.places[i]), middle(done.places[i + 1]));
    CHECK(length == Approx((links - 1) * link).epsilon(0.005));  // nothing has stretched
    const auto rope = hung(from, to, (links - 2) * link);
    REQUIRE(rope);
    const auto height_at = [&](double x) {
        return from.z + rope->a * (std::cosh((rope->first + x - from.x) / rope->a) - std::cosh(rope->first / rope->a));
    };
    CHECK(middle(done.places[0]).x == -span / 2);
    double lowest = 0, farthest = 0;
    for (std::size_t i = 0; i + 1 < done.places.size(); ++i) {
        lowest = std::min(lowest, tie(i).z);
        farthest = std::max(farthest, std::abs(tie(i).z - height_at(tie(i).x)));
    }
    CHECK(lowest == Approx(rope->lowest()).epsilon(0.01));
    CHECK(farthest < 0.01 * (links - 1) * link);
}

TEST_CASE("a heap sinks and never rises, and lies in the end", "[settle][wide]") {
    double before = 1e9;
    for (const double time : {0.0, 0.05, 0.1, 0.2, 0.4, 0.8, 1.6}) {
        const double now = height(tried(heap(64, {{"time", time}})));
        INFO(time);
        CHECK(now <= before + 1e-4);
        before = now;
    }
    const Tried made = tried(heap(64, {{"time", 8}}));
    REQUIRE(made.clean("lie"));
    CHECK_FALSE(made.finding("lie", "still-moving"));
    CHECK_FALSE(made.finding("lie", "fell"));
    const auto box = *box_of(*made.step("lie").shape);
    CHECK(box.low.z == Approx(0).margin(0.002));
    CHECK(box.high.z < 0.3);  // it stood 0.6 high
    CHECK(made.step("lie").shape->instances[0].count() == 64);
    // Nothing sinks into another: a heap that lies begins without crossings.
    const Recipe again = heap(64, {{"time", 8}});
    Step once_more;
    once_more.id = "once_more", once_more.type = "settle";
    once_more.settings = {{"time", 0.1}};
    const auto twice = insert_step(again, "p", "lie", once_more);
    REQUIRE(twice);
    CHECK_FALSE(tried(*twice).finding("once_more", "begin-crossing"));
}

TEST_CASE("a heap is left once all of it lies, before its time, and lies as it was left", "[settle]") {
    std::vector<SettleBody> bodies;
    for (int i = 0; i < 64; ++i)
        bodies.push_back(
            {block(0.1, 0.07, 0.05), at({0.11 * (i % 4) + 0.003 * (i % 7), 0.11 * (i / 4 % 4), 0.1 + 0.12 * (i / 16)},
                                        {5.0 * (i % 5), 3.0 * (i % 3), 0})});
    SettleOptions options;
    options.seconds = 12, options.ground = 0;
    const Settled lies = settled(bodies, {}, options);
    CHECK(lies.moving == 0);
    CHECK(lies.seconds < 6);
    for (std::size_t i = 0; i < bodies.size(); ++i) bodies[i].place = lies.places[i];
    options.seconds = 1;
    const Settled later = settled(bodies, {}, options);
    double farthest = 0;
    for (std::size_t i = 0; i < bodies.size(); ++i)
        farthest = std::max(farthest, glm::distance(middle(later.places[i]), middle(lies.places[i])));
    CHECK(farthest < 0.01);  // a tenth of a stone
}

TEST_CASE("a heap is the same on every run and any number of threads", "[settle]") {
    const auto places = [](std::size_t threads) {
        const tbb::global_control few(tbb::global_control::max_allowed_parallelism, threads);
        const Tried made = tried(heap(48, {{"time", 1.5}, {"stir", 0.3}}));
        std::string bytes;
        for (const Instances& group : made.step("lie").shape->instances)
            bytes.append(reinterpret_cast<const char*>(group.places.data()), group.places.size() * sizeof(glm::mat4));
        return bytes;
    };
    const std::string first = places(1);
    CHECK(places(1) == first);
    CHECK(places(4) == first);
    const Tried other = tried(heap(48, {{"time", 1.5}, {"stir", 0.3}, {"seed", 2}}));
    CHECK(std::memcmp(first.data(), other.step("lie").shape->instances[0].places.data(), sizeof(glm::mat4)) != 0);
}

TEST_CASE("loose pieces of a mesh are bodies too, and lie on what is linked", "[settle]") {
    const Tried made =
        tried({step("table", "box", {{"size", {2, 2, 0.5}}}), step("brick", "box", {{"size", {0.3, 0.2, 0.1}}}),
               step("two", "array", {{"kind", "straight"}, {"count", 2}, {"offset", {0, 0, 0.4}}, {"result", "real"}}),
               step("above", "transform", {{"move", {0, 0, 0.8}}}),
               Json{{"id", "lie"}, {"step", "settle"}, {"in", {{"shape", "above"}, {"onto", "table"}}}}});
    REQUIRE(made.clean("lie"));
    const auto box = *box_of(*made.step("lie").shape);
    CHECK(box.low.z == Approx(0.5).margin(0.003));
    CHECK(box.high.z == Approx(0.7).margin(0.006));  // one on the other
    CHECK(made.part().measures.volume.value() == Approx(2 * 0.3 * 0.2 * 0.1).epsilon(1e-4));
}

TEST_CASE("a hollow body holds what a hull would not", "[settle][wide]") {
    const auto lies_at = [](const char* as) {
        const Tried made =
            tried({step("cup", "tube", {{"radius", 0.2}, {"wall", 0.04}, {"height", 0.3}}),
                   step("ball", "sphere", {{"radius", 0.06}}), step("high", "transform", {{"move", {0, 0, 0.6}}}),
                   Json{{"id", "both"}, {"step", "merge"}, {"in", {{"shape", "cup"}, {"with", "high"}}}},
                   step("lie", "settle", {{"as", as}, {"most", 12}})});
        return box_of(*made.step("lie").shape)->high.z;
    };
    CHECK(lies_at("pieces") == Approx(0.3).margin(0.02));  // the ball is in the cup
    CHECK(lies_at("hull") > 0.38);                         // it lies on what closes the cup for it
}

TEST_CASE("what goes wrong with bodies is told, and the advice cures it", "[settle]") {
    const Tried fell = tried(heap(16, {{"ground", false}, {"time", 6}}));
    REQUIRE(fell.finding("lie", "fell"));
    CHECK(fell.finding("lie", "fell")->text ==
          "16 of 16 bodies fell past everything and are left out: switch “ground” on, or link a shape for them to lie "
          "on.");
    CHECK_FALSE(tried(heap(16, {{"ground", true}, {"time", 6}})).finding("lie", "fell"));
    const Tried moving = tried(heap(64, {{"time", 0.2}}));
    REQUIRE(moving.finding("lie", "still-moving"));
    CHECK_FALSE(tried(heap(64, {{"time", 8}})).finding("lie", "still-moving"));
    const Tried nothing = tried({step("c", "circle"), step("lie", "settle")});
    CHECK(nothing.finding("lie", "no-bodies"));
    const Tried flat = tried({step("c", "grid"), step("lie", "settle")});
    CHECK_THAT(flat.finding("lie", "no-bodies")->text, Catch::Contains("thicken it"));
    const Tried crossing = tried({step("a", "box"), step("r", "array", {{"count", 3}, {"offset", {0.2, 0, 0}}}),
                                  step("lie", "settle", {{"time", 0.1}})});
    REQUIRE(crossing.finding("lie", "begin-crossing"));
}

TEST_CASE("settling is given up at a stop", "[settle][stop]") {
    std::atomic<bool> stop = false;
    MakeOptions options;
    options.stop = &stop;
    std::jthread soon([&] {
        std::this_thread::sleep_for(std::chrono::milliseconds(300));
        stop = true;
    });
    CHECK(Maker().make(heap(1600, {{"time", 60}}), options).stopped);
}

TEST_CASE("copies below are felt as hulls when asked: a block lies on them as on their faces, and bridges a hollow",
          "[settle]") {
    // Two trays of walls 0.05 m thick and 0.4 m high, side by side; the block is narrower than a tray is inside.
    const auto lain = [](bool hulls, bool solid) {
        Json tray = step("tray", "box", {{"size", {1, 1, 0.4}}, {"origin", "base"}});
        Json hollow = step("hollow", "box", {{"size", {0.9, 0.9, 0.35}}, {"origin", "base"}, {"in", Json::object()}});
        const Json raised = step("raised", "transform", {{"move", {0, 0, 0.05}}});
        const Json cut =
            step("cut", "boolean", {{"kind", "subtract"}, {"in", {{"shape", "tray"}, {"with", "raised"}}}});
        const Json row =
            step("row", "array", {{"count", 2}, {"offset", {1.5, 0, 0}}, {"in", {{"shape", solid ? "tray" : "cut"}}}});
        const Json block =
            step("block", "box", {{"size", {0.5, 0.5, 0.2}}, {"origin", "base"}, {"in", Json::object()}});
        const Json high = step("high", "transform", {{"move", {1.5, 0, 0.45}}});
        return tried({tray, hollow, raised, cut, row, block, high,
                      step("lie", "settle", {{"in", {{"shape", "high"}, {"onto", "row"}}}, {"hulls", hulls}})});
    };
    const auto lowest = [](const Tried& made) {
        float low = 1e9f;
        for (const Vec3& p : *made.mesh("lie").positions) low = std::min(low, p.z);
        return low;
    };
    CHECK(lowest(lain(false, true)) == Approx(0.4).margin(0.003));
    CHECK(lowest(lain(true, true)) == Approx(0.4).margin(0.003));
    CHECK(lowest(lain(false, false)) == Approx(0.05).margin(0.003));  // inside, on the tray's bottom
    CHECK(lowest(lain(true, false)) == Approx(0.4).margin(0.003));    // a hull has no inside
    // Without copies below the switch does nothing, which is told.
    CHECK_FALSE(lain(true, false).finding("lie", "no-copies-below"));
    CHECK(tried({step("block", "box"), step("lie", "settle", {{"hulls", true}})}).finding("lie", "no-copies-below"));
}

TEST_CASE("the coil of rope lies: nothing in the ground, nothing apart, turns on turns", "[settle][demo][released]") {
    const Recipe recipe = demo_recipe("coil");
    MakeOptions options;
    options.environment.folder = demo_folder;
    const Tried coil = tried(recipe, options);
    const auto* lain = coil.made.step(recipe, "coil", "lie");
    REQUIRE(lain);
    REQUIRE(lain->shape->instances.size() == 1);
    const auto& places = lain->shape->instances[0].places;
    const double thick = recipe.dial("thick")->value, each = 3 * thick;
    REQUIRE(places.size() > 50);
    std::size_t on_ground = 0, high = 0;
    for (std::size_t i = 0; i < places.size(); ++i) {
        const DVec3 at(places[i][3]);
        CHECK(at.z > 0.4 * thick);  // a rod that lies has its middle half its thickness up
        on_ground += at.z < 0.65 * thick;
        high += at.z > 2 * thick;
        if (i > 0) CHECK(glm::distance(at, DVec3(places[i - 1][3])) < 1.1 * each);  // still one rope
    }
    CHECK(on_ground > 10);  // the first turn
    CHECK(high > 20);       // lies under the last ones
    // Swept: three strands, closed, as long as the rods in a row (within what bends cut short), by volume.
    const PartOutcome& part = *coil.made.part(recipe, "coil");
    CHECK(part.measures.closed);
    CHECK(part.measures.pieces == 3);
    const double strand = 8 * std::pow(0.27 * thick, 2) * std::sin(2 * pi / 8) / 2;
    CHECK(*part.measures.volume == Approx(3 * strand * each * static_cast<double>(places.size() - 1)).epsilon(0.06));
}
