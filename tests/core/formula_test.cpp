// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <catch2/catch.hpp>

#include "core/formula/formula.h"
#include "core/formula/functions.h"
#include "core/recipe/resolve.h"
#include "core/recipe/edit.h"

using namespace bricol;

namespace {

Result<double> value(const std::string& text) {
    return evaluate(text, [](const std::string& name) -> Result<double> {
        if (name == "height") return 1.5;
        if (name == "column.slab") return 0.2;
        return Problem{"no " + name, "", ""};
    });
}

}  // namespace

TEST_CASE("formulas know units, names and functions in degrees", "[formula]") {
    CHECK(*value("1 + 2 * 3") == Approx(7));
    CHECK(*value("38 mm") == Approx(0.038));
    CHECK(*value("0.25 turn") == Approx(90));
    CHECK(*value("1 in + 1 ft") == Approx(0.3302));
    CHECK(*value("45° + 5deg") == Approx(50));
    CHECK(*value("height / 3") == Approx(0.5));
    CHECK(*value("-height + column.slab") == Approx(-1.3));
    CHECK(*value("sin(30)") == Approx(0.5));
    CHECK(*value("atan2(1, 1)") == Approx(45));
    CHECK(*value("max(1, 2, 3) ^ 2") == Approx(9));
    CHECK(*value("height > 1 ? 10 : 20") == Approx(10));
    CHECK(*value("mod(-1, 3)") == Approx(2));
    CHECK(*value("25 % * 8") == Approx(2));
    CHECK(*value("1e-3") == Approx(0.001));
}

TEST_CASE("wrong formulas give one plain problem", "[formula]") {
    for (const char* text : {"", "1 +", "(1", "1)", "1 / 0", "sqrt(-1)", "nothing + 1", "3 lightyears", "1 2", "max()",
                             "a = 3", "height ; 1", "$x", "1e999"}) {
        const auto result = value(text);
        INFO(text);
        REQUIRE_FALSE(result);
        CHECK_FALSE(result.problem().text().empty());
    }
    CHECK_FALSE(value(std::string(5000, '(')));
    CHECK_FALSE(value(std::string(1999, '-').append("1x")));
    CHECK(value("3 lightyears").problem().where == "column 3");
}

TEST_CASE("typed text is a number in the shown unit, a unit, or a formula", "[formula]") {
    CHECK(read_typed("1.2", Quantity::length, "mm")->value == Approx(0.0012));
    CHECK(read_typed("38 mm", Quantity::length, "m")->value == Approx(0.038));
    CHECK(read_typed(" 90 ", Quantity::angle, "m")->value == Approx(90));
    CHECK(read_typed("0.5 turn", Quantity::angle, "m")->value == Approx(180));
    CHECK(read_typed("1/4", Quantity::length, "m")->value == Approx(0.25));
    CHECK(read_typed("= height / 3", Quantity::length, "m")->text == "= height / 3");
    CHECK_FALSE(read_typed("height", Quantity::length, "m"));
    CHECK_FALSE(read_typed("abc def", Quantity::length, "m"));
}

TEST_CASE("offsets do not pile up", "[formula]") {
    CHECK(with_offset("= girth * 0.5", 0.02) == "= girth * 0.5 + 0.02");
    CHECK(with_offset("= girth * 0.5 + 0.02", 0.01) == "= girth * 0.5 + 0.03");
    CHECK(with_offset("= girth * 0.5 + 0.02", -0.05) == "= girth * 0.5 - 0.03");
    CHECK(with_offset("= girth * 0.5 - 0.03", 0.03) == "= girth * 0.5");
    CHECK(with_offset("= max(a, b + 0.1)", 0.2) == "= max(a, b + 0.1) + 0.2");
}

TEST_CASE("numbers are written for people", "[formula]") {
    CHECK(format_number(0.1) == "0.1");
    CHECK(format_number(1234.5) == "1234.5");
    CHECK(format_number(-0.0) == "0");
    CHECK(format_value(0.038, Quantity::length, "m") == "38 mm");
    CHECK(format_value(1.2, Quantity::length, "m") == "1.2 m");
    CHECK(format_value(45, Quantity::angle, "m") == "45°");
    CHECK(name_from("Collar width") == "collar_width");
    CHECK_FALSE(usable_name("2x"));
    CHECK_FALSE(usable_name("sin"));
}

TEST_CASE("links between numbers are followed, circles spelled out", "[formula][resolve]") {
    Recipe recipe;
    recipe.dials.push_back({"height", 2, 0, 4, "m", "", Json::object()});
    auto part = std::make_shared<Part>();
    part->name = "post";
    const auto add = [&](const std::string& id, Json settings) {
        Step step;
        step.id = id;
        step.type = "cylinder";
        step.settings = std::move(settings);
        part->steps.push_back(std::make_shared<const Step>(step));
    };
    add("a", {{"height", "= height / 4"}, {"radius", "= b.radius * 2"}});
    add("b", {{"radius", 0.1}, {"height", "= c.height"}});
    add("c", {{"height", "= b.height"}});
    recipe.parts.push_back(part);
    Resolver resolver(recipe);
    CHECK(*resolver.name("post", "a.height") == Approx(0.5));
    CHECK(*resolver.name("post", "a.radius") == Approx(0.2));
    CHECK(*resolver.name("elsewhere", "post.a.radius") == Approx(0.2));
    const auto circle = resolver.name("post", "b.height");
    REQUIRE_FALSE(circle);
    CHECK(circle.problem().what.find("b.height → c.height → b.height") != std::string::npos);
    CHECK_FALSE(resolver.name("post", "a.colour"));
    // A default counts as a number, too.
    CHECK(*resolver.name("post", "a.segments") == Approx(32));
}

TEST_CASE("every function's example comes to what the manual says", "[formula][docs]") {
    const NameLookup nothing = [](const std::string& name) -> Result<double> { return Problem{name, "", ""}; };
    for (const FunctionInfo& f : all_functions()) {
        INFO(f.example);
        const auto value = evaluate(f.example, nothing);
        REQUIRE(value);
        CHECK(*value == Approx(f.gives).margin(1e-12));
        CHECK(std::string(f.example).find(std::string(f.name) + "(") != std::string::npos);
        // The number of values it takes is the number its arguments say.
        const auto commas = std::ranges::count(f.arguments, ',');
        CHECK((f.most > 60 || commas + 1 == f.least));
    }
}
