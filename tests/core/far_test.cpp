// SPDX-License-Identifier: GPL-3.0-or-later
// Shapes that grow beyond all measure.
#include <catch2/catch.hpp>

#include "core/kernels/real_geometry.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

/// A start that is made ten thousand times as large, seven times, and then given to a step.
Recipe growing(const Json& start, const Json& last) {
    Json steps = start;
    for (int i = 0; i < 7; ++i)
        steps.push_back(step("grow" + std::to_string(i), "transform", {{"size", {1e4, 1e4, 1e4}}}));
    steps.push_back(last);
    return recipe_of(steps);
}

}  // namespace

TEST_CASE("places beyond reach are an error of the step that leads there", "[make][bad input]") {
    const std::vector<std::pair<const char*, Json>> starts = {
        {"points", Json::array({step("s", "box")})},
        {"knots", Json::array({step("s", "circle")})},
        {"copies", Json::array({step("s", "box"), step("a", "array", {{"count", 3}})})}};
    const std::vector<Json> lasts = {step("t", "lattice", {{"between", "straight"}}), step("t", "roughen"),
                                     step("t", "scatter", {{"count", 50}}), step("t", "weld"), step("t", "subdivide")};
    for (const auto& [what, start] : starts)
        for (const Json& last : lasts) {
            INFO(what << " before " << last.dump());
            const Recipe recipe = growing(start, last);
            Maker maker;
            const Made made = maker.make(recipe);
            CHECK(made.has_errors());
            // About a metre, grown by 10^4 each time: at the third it is beyond 10^9 m.
            for (const char* fine : {"grow0", "grow1"}) {
                REQUIRE(made.step(recipe, "p", fine));
                CHECK_FALSE(made.step(recipe, "p", fine)->failed);
            }
            REQUIRE(made.step(recipe, "p", "grow2"));
            const StepOutcome& beyond = *made.step(recipe, "p", "grow2");
            REQUIRE(beyond.failed);
            CHECK(beyond.findings.front().code == "not-finite");
            // What goes on is what came in, and no step behind gives anything that cannot be measured.
            for (const auto& one : recipe.part("p")->steps) {
                const StepOutcome* outcome = made.step(recipe, "p", one->id);
                if (!outcome) continue;
                const ShapePtr written_out = real_geometry(outcome->shape);  // lives as long as its points are read
                for (const Vec3& p : *written_out->mesh.positions) REQUIRE(std::isfinite(p.x + p.y + p.z));
            }
        }
}
