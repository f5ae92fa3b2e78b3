// SPDX-License-Identifier: GPL-3.0-or-later
// Formulas on the knots of curves and on standing copies.
#include <catch2/catch.hpp>
#include <numbers>
#include <tbb/global_control.h>

#include "core/kernels/curve_edit.h"
#include "core/kernels/real_geometry.h"
#include "core/kernels/transform.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

const std::vector<Knot>& knots(const Tried& tried, const std::string& id, std::size_t curve = 0) {
    return tried.step(id).shape->curves.at(curve).knots;
}

}  // namespace

TEST_CASE("a wave is laid over the knots of a line, and what is swept along it follows", "[formula][knots]") {
    const auto make = [] {
        return tried(
            {step("axis", "line", {{"to", {1, 0, 0}}, {"pieces", 24}}),
             step("law", "formula",
                  {{"on", "knots"},
                   {"rows", rows({{"z", "0.2 * sin(360 * x)"}, {"radius", "1 + along"}, {"roll", "90 * along"}})}}),
             step("rod", "sweep", {{"radius", 0.01}})});
    };
    const Tried wave = make();
    for (const char* id : {"axis", "law", "rod"}) REQUIRE(wave.clean(id));
    const auto& list = knots(wave, "law");
    REQUIRE(list.size() == 25);
    for (std::size_t k = 0; k < list.size(); ++k) {
        const double x = static_cast<double>(list[k].at.x);
        CHECK(x == Approx(static_cast<double>(k) / 24));
        CHECK(static_cast<double>(list[k].at.z) == Approx(0.2 * std::sin(2 * std::numbers::pi * x)).margin(1e-6));
        CHECK(static_cast<double>(list[k].radius) == Approx(1 + static_cast<double>(k) / 24));
        CHECK(static_cast<double>(list[k].roll) == Approx(std::numbers::pi / 2 * static_cast<double>(k) / 24));
    }
    const Box rod = *box_of(*wave.step("rod").shape);
    CHECK(rod.high.z > 0.2);
    CHECK(rod.low.z < -0.2);
    const tbb::global_control one(tbb::global_control::max_allowed_parallelism, 1);
    CHECK(*make().mesh("rod").positions == *wave.mesh("rod").positions);
}

TEST_CASE("handles by formula bend what was straight", "[formula][knots]") {
    // Two knots a metre apart whose handles make the cubic of y = x² (see the length of a parabola).
    const Tried bent = tried({step("l", "line", {{"to", {1, 1, 0}}, {"pieces", 1}}),
                              step("f", "formula",
                                   {{"on", "knots"},
                                    {"rows", rows({{"out.x", "index == 0 ? 1 / 3 : 0"},
                                                   {"in.x", "index == 1 ? -1 / 3 : 0"},
                                                   {"in.y", "index == 1 ? -2 / 3 : 0"}})}})});
    REQUIRE(bent.clean("f"));
    CHECK(length_of(bent.step("f").shape->curves[0]) ==
          Approx((2 * std::sqrt(5.0) + std::asinh(2.0)) / 4).epsilon(1e-6));
    CHECK(*bent.step("f").numbers->at("length") == Approx(1.4789428575));
}

TEST_CASE("knots know their curve, and numbers over all of them", "[formula][knots]") {
    const Tried two =
        tried({step("a", "line", {{"to", {1, 0, 0}}, {"pieces", 2}}),
               step("b", "line", {{"to", {0, 1, 0}}, {"pieces", 1}, {"in", {{"shape", ""}}}}),
               Json{{"id", "m"}, {"step", "merge"}, {"in", {{"shape", "a"}, {"with", "b"}}}},
               step("f", "formula",
                    {{"on", "knots"}, {"rows", rows({{"z", "curve * 10 + along"}, {"fillet", "most(x)"}})}})});
    REQUIRE(two.clean("f"));
    CHECK(knots(two, "f", 0)[1].at.z == 0.5f);
    CHECK(knots(two, "f", 1)[0].at.z == 10);
    CHECK(knots(two, "f", 1)[1].at.z == 11);
    CHECK(knots(two, "f", 1)[1].fillet == 1);
}

TEST_CASE("what knots do not have is refused, and what is left alone is told", "[formula][knots][bad input]") {
    const auto law = [](const Json& settings) {
        Json all{{"on", "knots"}};
        all.update(settings);
        return tried({step("axis", "line", {{"to", {1, 0, 0}}}), step("law", "formula", all)});
    };
    const Tried target = law({{"rows", rows({{"along", "1"}})}});
    REQUIRE(target.finding("law", "bad-target"));
    CHECK(target.finding("law", "bad-target")->text.find("radius") != std::string::npos);
    CHECK(law({{"rows", rows({{"2rust", "1"}})}}).finding("law", "bad-target"));
    const Tried name = law({{"rows", rows({{"z", "radios"}})}});
    REQUIRE(name.finding("law", "unknown-name"));
    CHECK(name.finding("law", "unknown-name")->text.find("“radius”") != std::string::npos);
    const Tried root = law({{"rows", rows({{"z", "sqrt(x - 0.5)"}})}});
    REQUIRE(root.finding("law", "bad-value"));
    CHECK(root.finding("law", "bad-value")->places.size() == 1);
    CHECK(law({{"rows", rows({{"z", "1"}})}, {"only", "rim"}}).finding("law", "unknown-set"));
    const Tried mesh = tried({step("b", "box"), step("f", "formula", {{"on", "knots"}, {"rows", rows({{"z", "1"}})}})});
    CHECK(mesh.finding("f", "wrong-domain"));
    const Tried curve = tried({step("l", "line"), step("f", "formula", {{"rows", rows({{"z", "1"}})}})});
    REQUIRE(curve.finding("f", "wrong-domain"));
    CHECK(curve.finding("f", "wrong-domain")->text.find("choose knots") != std::string::npos);
}

TEST_CASE("copies are sized and turned where they stand", "[formula][copies]") {
    const Tried row =
        tried({step("b", "box", {{"size", {1, 1, 1}}, {"origin", "centre"}}),
               step("a", "array", {{"count", 3}, {"offset", {5, 0, 0}}}),
               step("f", "formula",
                    {{"on", "instances"}, {"rows", rows({{"size", "size * (1 + index)"}, {"turn", "45 * index"}})}})});
    for (const char* id : {"a", "f"}) REQUIRE(row.clean(id));
    REQUIRE(row.step("f").shape->instances.size() == 1);
    const Instances& copies = row.step("f").shape->instances[0];
    REQUIRE(copies.count() == 3);
    for (std::size_t i = 0; i < 3; ++i) {
        Shape one;
        one.instances = {Instances(copies.shape, {copies.places[i]})};
        const Box box = *box_of(one);
        const double size = 1 + static_cast<double>(i);
        // A square turned by 45° is wider by the root of two; turned by 90° it is as wide as before.
        CHECK(box.size().x == Approx(i == 1 ? size * std::numbers::sqrt2 : size).epsilon(1e-5));
        CHECK(box.size().z == Approx(size).epsilon(1e-6));
        CHECK(box.centre().x == Approx(5.0 * static_cast<double>(i)).margin(1e-5));
    }
    CHECK(*row.step("f").numbers->at("volume") == Approx(1 + 8 + 27).epsilon(1e-5));
}

TEST_CASE("the mixer writes the same on knots as a formula", "[mixer][knots]") {
    const Tried both = tried(
        {step("axis", "line", {{"to", {1, 0, 0}}, {"pieces", 6}}),
         step("f", "formula", {{"on", "knots"}, {"rows", rows({{"z", "z + 0.5"}})}}),
         Json{{"id", "m"},
              {"step", "mixer"},
              {"in", {{"shape", "axis"}}},
              {"on", "knots"},
              {"blocks", Json::array({{{"id", "p"}, {"block", "read"}, {"what", "position"}},
                                      {{"id", "v"}, {"block", "vector"}, {"x", 0}, {"y", 0}, {"z", 0.5}},
                                      {{"id", "s"}, {"block", "add"}, {"a", "p"}, {"b", "v"}},
                                      {{"id", "o"}, {"block", "write"}, {"what", "position"}, {"value", "s"}}})}}});
    for (const char* id : {"f", "m"}) REQUIRE(both.clean(id));
    for (std::size_t k = 0; k < 7; ++k) CHECK(knots(both, "m")[k].at == knots(both, "f")[k].at);
}
