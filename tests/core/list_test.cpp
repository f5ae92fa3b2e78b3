// SPDX-License-Identifier: GPL-3.0-or-later
// Small tables of numbers, one row of which a dial chooses.
#include <catch2/catch.hpp>

#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

Json size_list(const Json& row = nullptr) {
    Json list = step("sizes", "list",
                     {{"table",
                       {{"heads", {"across mm", "sides", "turn deg"}},
                        {"rows", {{"small", 100, 4, 0}, {"middle", 200, 6, 15}, {"large", "= 3 * 100", 8, 30}}}}}});
    if (!row.is_null()) list["row"] = row;
    return list;
}

Json post() {
    return step("post", "cylinder", {{"radius", "= sizes.across / 2"}, {"segments", "= sizes.sides"}, {"height", 1}});
}

double width(const Tried& made) { return made.mesh("post").positions->front().x * 2; }

}  // namespace

TEST_CASE("a list gives the numbers of the row that is named, in the units of its heads", "[list]") {
    const Tried first = tried({size_list(), post()});
    CHECK(first.clean("post"));
    CHECK(width(first) == Approx(0.1));
    CHECK(first.mesh("post").face_count() == 6);
    const Tried middle = tried({size_list("middle"), post()});
    CHECK(width(middle) == Approx(0.2));
    CHECK(middle.mesh("post").face_count() == 8);
    CHECK(width(tried({size_list("large"), post()})) == Approx(0.3));  // a formula in a cell
    // A formula counts rows from 0.
    CHECK(width(tried({size_list("= 1 + 1"), post()})) == Approx(0.3));
    CHECK(width(tried({size_list("#1"), post()})) == Approx(0.2));
}

TEST_CASE("a choice's dial names the row, and goes on doing so when it is renamed", "[list]") {
    const Json dials = Json::array(
        {{{"name", "size"}, {"kind", "choice"}, {"choices", {"large", "small", "huge"}}, {"value", "large"}}});
    const Recipe recipe = recipe_of(Json::array({size_list("= size"), post()}), dials);
    CHECK(width(tried(recipe)) == Approx(0.3));
    CHECK(width(tried(*turn_dial(recipe, "size", "small"))) == Approx(0.1));
    const Recipe renamed = *rename_dial(recipe, "size", "thread");
    CHECK(renamed.part("p")->steps[0]->settings["row"] == "= thread");
    CHECK(width(tried(*turn_dial(renamed, "thread", "small"))) == Approx(0.1));
    // A word that is no row is told with those there are.
    const Tried lost = tried(*turn_dial(recipe, "size", "huge"));
    REQUIRE(lost.finding("post", "bad-value"));
    CHECK(lost.finding("post", "bad-value")->text.find("“huge”") != std::string::npos);
    CHECK(lost.finding("post", "bad-value")->text.find("small, middle, large") != std::string::npos);
}

TEST_CASE("what is wrong with a list is told where it stands", "[list]") {
    const auto said = [](Json list, const std::string& code = "bad-value") {
        const Tried made = tried({std::move(list), post()});
        for (const char* id : {"sizes", "post"})
            if (const Finding* finding = made.finding(id, code)) return finding->text;
        return std::string();
    };
    CHECK(said(size_list("= 7")).find("3 rows") != std::string::npos);
    Json list = size_list();
    list["table"]["rows"][1] = {"middle", 1};
    CHECK(said(list).find("table/rows/1") != std::string::npos);
    list = size_list();
    list["table"]["rows"][1][0] = "small";
    CHECK(said(list).find("twice") != std::string::npos);
    list = size_list();
    list["table"]["heads"][0] = "across parsec";
    CHECK(said(list).find("parsec") != std::string::npos);
    list = size_list();
    list["table"]["heads"][0] = "acr.oss mm";
    CHECK(said(list).find("acr.oss") != std::string::npos);
    list["table"]["heads"][0] = "across  ";  // a space without a unit is no unit
    CHECK(said(list).empty());
    list["table"]["heads"][0] = "  ";
    CHECK(said(list).find("cannot be asked for") != std::string::npos);
    for (const Json& wrong : {Json(3), Json("text"), Json::array({1}), Json{{"heads", 3}, {"rows", 4}},
                              Json{{"heads", {1}}, {"rows", {{1}}}}}) {
        list["table"] = wrong;
        CHECK_FALSE(said(list).empty());
    }
    const Tried lost = tried({size_list(), step("post", "cylinder", {{"radius", "= sizes.acros"}})});
    REQUIRE(lost.finding("post", "bad-value"));
    CHECK(lost.finding("post", "bad-value")->text.find("There are: across, sides, turn") != std::string::npos);
    // Numbers that ask for one another.
    list = size_list();
    list["table"]["rows"][0][1] = "= post.radius";
    CHECK(said(list).find("circle") != std::string::npos);
}
