// SPDX-License-Identifier: GPL-3.0-or-later
// Trial runs on recipes whose borders are known in closed form: a square root breaks where it has no value.
#include <catch2/catch.hpp>
#include <fstream>
#include <tbb/global_control.h>

#include "core/files/files.h"
#include "core/inspect/trial.h"
#include "core/inspect/variant_plan.h"
#include "tests/support/folder.h"
#include "tests/support/build.h"
#include "tests/support/node.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

Json number(const char* name, double value, double low, double high) {
    return {{"name", name}, {"value", value}, {"min", low}, {"max", high}};
}

/// A box whose width is the root of an expression: an error where that is negative.
Recipe rooted(const std::string& expression, const Json& dials) {
    return recipe_of(Json::array({step("block", "box", {{"size", {"= 0.1 + sqrt(" + expression + ")", 1, 1}}})}),
                     dials);
}

const DialTrial& of(const Trial& trial, const char* name) {
    return *std::ranges::find(trial.dials, std::string(name), &DialTrial::name);
}

TrialOrder order_of(std::size_t samples) { return {samples, 0, false}; }

}  // namespace

TEST_CASE("a recipe that holds is said to hold, over its whole ranges", "[trial]") {
    const Recipe recipe = rooted("a + b", Json::array({number("a", 1, 0, 2), number("b", 1, 0, 2)}));
    const Trial trial = try_dials(recipe, {}, order_of(100));
    CHECK(trial.holds());
    CHECK(trial.made > 120);
    CHECK(trial.findings.empty());
    CHECK(trial.pairs.empty());
    for (const DialTrial& dial : trial.dials) {
        CHECK_FALSE(dial.narrowed);
        REQUIRE(dial.stretches.size() == 1);
        CHECK(dial.stretches[0].holds);
    }
    CHECK(same(narrowed(recipe, trial), recipe));
}

TEST_CASE("the border of a dial alone is closed in on by halving", "[trial]") {
    const Recipe recipe = rooted("(a - 0.3) * (1.7 - a)", Json::array({number("a", 1, 0, 2), number("b", 1, 0, 2)}));
    const Trial trial = try_dials(recipe, {}, order_of(60));
    CHECK_FALSE(trial.holds());
    const DialTrial& a = of(trial, "a");
    REQUIRE(a.stretches.size() == 3);
    CHECK_FALSE(a.stretches[0].holds);
    CHECK(a.stretches[1].holds);
    CHECK_FALSE(a.stretches[2].holds);
    CHECK(a.stretches[0].code == "bad-value");
    // 1/256 of the range of 2, and the rounding to a thousandth of it.
    CHECK(a.safe_low == Approx(0.3).margin(2.0 / 256 + 0.003));
    CHECK(a.safe_low >= 0.3);
    CHECK(a.safe_high == Approx(1.7).margin(2.0 / 256 + 0.003));
    CHECK(a.safe_high <= 1.7);
    CHECK_FALSE(of(trial, "b").narrowed);
    CHECK(trial.pairs.empty());
    CHECK(trial.safe_broke == 0);
    CHECK(trial.safe_tried > 0);
    REQUIRE(trial.findings.size() == 1);
    CHECK(trial.findings[0].part == "p");
    CHECK(trial.findings[0].step == "block");
    // The setting it shows does break.
    const Made made = Maker().make(*with_dials(recipe, trial.findings[0].dials));
    CHECK(made.has_errors());
    // The narrowed recipe holds: the button's advice, followed.
    CHECK(try_dials(narrowed(recipe, trial), {}, order_of(100)).holds());
    CHECK(narrowed(recipe, trial, "b").dial("a")->low == 0);
}

TEST_CASE("dials that break together alone are named as a pair, and ranges kept apart", "[trial]") {
    const Recipe recipe =
        rooted("3 - a - b", Json::array({number("a", 0.5, 0, 2), number("b", 0.5, 0, 2), number("c", 0.5, 0, 2)}));
    const Trial trial = try_dials(recipe, {}, order_of(120));
    CHECK_FALSE(trial.holds());
    CHECK(of(trial, "a").stretches.size() == 1);
    CHECK(of(trial, "b").stretches.size() == 1);
    REQUIRE(trial.pairs.size() == 1);
    CHECK(trial.pairs[0].dials == std::vector<std::string>{"a", "b"});
    CHECK(Maker().make(*with_dials(recipe, trial.pairs[0].setting)).has_errors());
    CHECK_FALSE(of(trial, "c").narrowed);
    CHECK(of(trial, "a").safe_high + of(trial, "b").safe_high <= 3.0 + 1e-9);
    // Not by closing the dials down: most of the square is still there.
    CHECK(of(trial, "a").safe_high * of(trial, "b").safe_high > 1.5);
    CHECK(trial.safe_broke == 0);
    CHECK(try_dials(narrowed(recipe, trial), {}, order_of(200)).holds());
}

TEST_CASE("words and whole numbers are tried one by one", "[trial]") {
    const Json style{{"name", "style"}, {"kind", "choice"}, {"value", "a"}, {"choices", {"a", "b", "c"}}};
    const Json count{{"name", "n"}, {"value", 3}, {"min", 0}, {"max", 8}, {"unit", "count"}};
    const Recipe recipe = rooted("0.5 - (style == 1) - (n > 6)", Json::array({style, count}));
    const Trial trial = try_dials(recipe, {}, order_of(40));
    REQUIRE(of(trial, "style").stretches.size() == 3);
    CHECK_FALSE(of(trial, "style").stretches[1].holds);
    CHECK(of(trial, "style").stretches[1].from == Approx(1.0 / 3));
    CHECK(of(trial, "n").safe_high == 6);
    CHECK(of(trial, "n").safe_low == 0);
}

TEST_CASE("colours are turned from black over hues to white", "[trial]") {
    const Json tint{{"name", "tint"}, {"kind", "colour"}, {"value", {0.2, 0.2, 0.2}}};
    const Trial trial = try_dials(rooted("0.9 - tint.red", Json::array({tint})), {}, order_of(20));
    const DialTrial& colour = of(trial, "tint");
    CHECK(colour.turned);
    REQUIRE(colour.stretches.size() == 2);
    CHECK(colour.stretches[0].holds);
    CHECK_FALSE(colour.stretches[1].holds);
    CHECK(colour.stretches[1].from == Approx(7.0 / 8));
    REQUIRE(trial.findings.size() == 1);
    CHECK(trial.findings[0].dials.at("tint") == Json::array({1, 1, 1}));
}

TEST_CASE("a recipe broken as saved is said to be so, and a stop is obeyed", "[trial]") {
    const Recipe recipe = rooted("0 - a", Json::array({number("a", 1, 0.5, 2)}));
    const Trial trial = try_dials(recipe, {}, order_of(50));
    CHECK(trial.base_broken);
    CHECK(trial.made == 1);
    REQUIRE(trial.findings.size() == 1);
    CHECK(trial.findings[0].as_saved);
    std::atomic<bool> stop = true;
    MakeOptions making;
    making.stop = &stop;
    CHECK(try_dials(recipe, making, order_of(50)).stopped);
}

TEST_CASE("cautions count when they are asked to", "[trial]") {
    // A lathe's face over budget is a caution of the part.
    Recipe recipe = recipe_of(Json::array({step("block", "box", {{"along_x", "= n"}, {"along_y", "= n"}})}),
                              Json::array({{{"name", "n"}, {"value", 2}, {"min", 1}, {"max", 20}, {"unit", "count"}}}));
    recipe.budget = 250;
    TrialOrder order = order_of(20);
    CHECK(try_dials(recipe, {}, order).holds());
    order.cautions = true;
    const Trial trial = try_dials(recipe, {}, order);
    CHECK_FALSE(trial.holds());
    // 2 n² + 4 n faces of a box cut n by n by 1: 10 gives 240, 11 gives 286.
    CHECK(of(trial, "n").safe_high == 10);
}

TEST_CASE("the command takes pictures of what broke, and says which is which", "[trial][command][released]") {
    const Folder folder;
    std::ofstream(folder / "r.bricol") << R"json({"bricol": 1, "dials": [{"name": "a", "value": 1, "min": 0, "max": 2}],
        "parts": [{"name": "p", "steps": [{"id": "b", "step": "box"},
            {"id": "t", "step": "transform", "size": ["= 0.1 + sqrt(1.5 - a)", 1, 1]}]}]})json";
    int code = 0;
    const std::string command = std::string(command_path()) + " trial '" + (folder / "r.bricol") + "' --samples 20 ";
    const Json told = Json::parse(output_of(command + "--json --pictures '" + (folder / "pictures") + "'", &code));
    CHECK(code == 1);
    CHECK_FALSE(told["holds"].get<bool>());
    REQUIRE(told["findings"].size() == 1);
    CHECK(told["findings"][0]["picture"] == "01-bad-value.png");
    const auto picture = read_file(folder / "pictures/01-bad-value.png");
    REQUIRE(picture);
    // Width and height of a PNG stand in bytes 16 to 23 (ISO/IEC 15948, 11.2.2).
    CHECK(picture->substr(16, 8) == std::string("\0\0\1\340\0\0\1\150", 8));
    CHECK_THAT(output_of(command + "--pictures '" + (folder / "pictures") + "'", &code),
               Catch::Contains("picture 01-bad-value.png"));
    // A folder that cannot be made is told.
    std::ofstream(folder / "file") << "x";
    CHECK_THAT(output_of(command + "--pictures '" + (folder / "file/in") + "' 2>&1", &code),
               Catch::Contains("folder cannot be made"));
    CHECK(code == 3);
}

TEST_CASE("a trial is the same at one thread and at four", "[trial]") {
    const Recipe recipe =
        rooted("(3 - a - b) * (a - 0.1)", Json::array({number("a", 0.5, 0, 2), number("b", 0.5, 0, 2)}));
    const auto tried_at = [&](std::size_t threads) {
        const tbb::global_control bound(tbb::global_control::max_allowed_parallelism, threads);
        return try_dials(recipe, {}, order_of(150));
    };
    const Trial one = tried_at(1), four = tried_at(4);
    CHECK(one.made == four.made);
    CHECK(one.broke == four.broke);
    REQUIRE(one.findings.size() == four.findings.size());
    for (std::size_t i = 0; i < one.findings.size(); ++i) {
        CHECK(one.findings[i].dials == four.findings[i].dials);
        CHECK(one.findings[i].times == four.findings[i].times);
    }
    for (std::size_t d = 0; d < 2; ++d) {
        CHECK(one.dials[d].safe_low == four.dials[d].safe_low);
        CHECK(one.dials[d].safe_high == four.dials[d].safe_high);
    }
}
