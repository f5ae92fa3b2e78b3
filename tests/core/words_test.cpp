// SPDX-License-Identifier: GPL-3.0-or-later
// Text as messages quote it, and numbers as files write them.
#include <catch2/catch.hpp>
#include <clocale>
#include <cmath>

#include "core/formula/formula.h"
#include "core/ground/json.h"
#include "core/ground/numbers.h"
#include "core/ground/words.h"
#include "core/recipe/recipe_json.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

TEST_CASE("messages cut text at letters and name bytes that are none", "[words]") {
    CHECK(shortened("profile") == "profile");
    CHECK(shortened("aéé", 2) == "aé…");
    CHECK(shortened("aéé", 3) == "aéé");
    CHECK(shortened("Kai 北埠頭", 5) == "Kai 北…");
    CHECK(shortened("\xF0\x9F\xAA\x9D", 1) == "\xF0\x9F\xAA\x9D");  // four bytes
    CHECK(shortened("caf\xE9!") == "caf\\xe9!");
    CHECK(shortened("\xE2\x80") == "\\xe2\\x80");  // broken off
    CHECK(shortened("\xC0\x80") == "\\xc0\\x80");  // overlong (RFC 3629)
    CHECK(shortened("") == "");
}

TEST_CASE("no text in a recipe keeps a report from being written", "[words][bad input]") {
    for (const std::string text :
         {"= 3 × 4", "= “", "= 5 µm", "= é", "= größe", "northérn quay, a very long name — é"}) {
        const Recipe recipe = recipe_of(Json::array({step("b", "box", {{"size", {text, 1, 1}}})}));
        Maker maker;
        const Made made = maker.make(recipe);
        REQUIRE(made.has_errors());
        for (const Finding& finding : made.step(recipe, "p", "b")->findings) {
            INFO(finding.text);
            CHECK_NOTHROW(Json(finding.text).dump());  // throws on what is not UTF-8
        }
    }
    CHECK(json_text(Json("caf\xE9")) == "\"caf\xEF\xBF\xBD\"");
}

TEST_CASE("numbers in files are read the same in every locale", "[words][files]") {
    // Which locales a machine has differs; without one that writes a comma only the plain one is tried.
    std::vector<const char*> locales = {"C"};
    for (const char* name : {"de_DE.UTF-8", "tr_TR.UTF-8", "fr_FR.UTF-8"})
        if (std::setlocale(LC_NUMERIC, name)) locales.push_back(name);
    for (const char* name : locales) {
        INFO(name);
        std::setlocale(LC_NUMERIC, name);
        CHECK(number_of_digits("0.078") == 0.078);
        CHECK(number_of_digits("+2.5e-3") == 0.0025);
        CHECK(number_of_digits("-.5") == -0.5);
        CHECK(std::isinf(number_of_digits("1e999")));
        CHECK(std::isinf(number_of_digits("0.1e999")));
        CHECK(number_of_digits("-0.1e999") < 0);
        CHECK(std::isinf(number_of_digits(std::string(400, '9') + "e-1")));
        CHECK(number_of_digits("1e-999") == 0);
        CHECK(number_of_digits("12e-999") == 0);
        CHECK(number_of_digits("5e-324") == 5e-324);
    }
    std::setlocale(LC_NUMERIC, "C");
}

TEST_CASE("counts are told as people write them", "[words]") {
    CHECK(counted(1, "face") == "1 face");
    CHECK(counted(0, "face") == "0 faces");
    CHECK(counted(2, "copy", "copies") == "2 copies");
    CHECK(one_of_many("copies") == "copy");
    CHECK(one_of_many("levels") == "level");
}
