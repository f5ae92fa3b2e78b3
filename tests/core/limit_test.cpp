// SPDX-License-Identifier: GPL-3.0-or-later
// A number held between bounds, and what is said when it is.
#include <catch2/catch.hpp>

#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

Tried box_held(Json limit) {
    limit["id"] = "n";
    limit["step"] = "limit";
    return tried(recipe_of(Json::array({limit, step("b", "box", {{"size", {"= n.value", 1, 1}}})})));
}

double width_of(const Tried& made) { return box_of(*made.step("b").shape)->size().x; }

}  // namespace

TEST_CASE("limit: gives the number within its bounds", "[steps]") {
    struct Case {
        const char* hold;
        double wanted, given;
    };
    for (const Case& one : std::initializer_list<Case>{{"both", 3, 3},
                                                       {"both", 1, 2},
                                                       {"both", 9, 5},
                                                       {"least", 9, 9},
                                                       {"least", 1, 2},
                                                       {"most", 9, 5},
                                                       {"most", 1, 1}}) {
        INFO(one.hold << " " << one.wanted);
        // A bound that is not asked for stays what it is by default, and is not written.
        Json settings{{"wanted", one.wanted}, {"hold", one.hold}};
        if (one.hold != std::string("most")) settings["least"] = 2;
        if (one.hold != std::string("least")) settings["most"] = 5;
        const Tried made = box_held(settings);
        CHECK(width_of(made) == Approx(one.given));
        CHECK((made.finding("n", "held-back") != nullptr) == (one.wanted != one.given));
        CHECK(made.clean("b"));
    }
}

TEST_CASE("limit: what it says to ask for is not held back", "[steps][findings]") {
    for (const double bound : {0.12184, 7.77777e-4, 31.415, 1.0, -0.00123456, 2.0 / 3}) {
        for (const bool most : {true, false}) {
            const char* const key = most ? "most" : "least";
            const auto held = [&](double wanted) {
                return box_held({{"wanted", wanted}, {"hold", key}, {key, bound}});
            };
            const Tried made = held(bound + (most ? 1.0 : -1.0));
            REQUIRE(made.finding("n", "held-back"));
            const std::string& text = made.finding("n", "held-back")->text;
            INFO(text);
            const std::size_t at = text.find("Ask for ");
            REQUIRE(at != std::string::npos);
            const double advised = Json::parse(text.substr(at + 8, text.find(" or ", at) - at - 8)).get<double>();
            CHECK(held(advised).finding("n", "held-back") == nullptr);
            CHECK(advised == Approx(bound).epsilon(0.01));
        }
    }
}

TEST_CASE("limit: lengths and angles are written no finer than they are read, on the side that holds", "[steps]") {
    struct Case {
        const char *as, *key;
        double bound;
        const char* says;
    };
    for (const Case& one : std::initializer_list<Case>{{"length", "most", 0.0255, "Ask for 25.5 mm or less."},
                                                       {"length", "most", 0.12184, "Ask for 0.121 m or less."},
                                                       {"length", "least", 1.2399e-5, "Ask for 0.013 mm or more."},
                                                       {"length", "most", 1.2399e-5, "Ask for 0.012 mm or less."},
                                                       {"angle", "least", 0.0123, "Ask for 0.013° or more."},
                                                       {"angle", "most", 12.3456, "Ask for 12.3° or less."}}) {
        const double wanted = one.bound + (std::string_view(one.key) == "most" ? 90 : -90);
        const Tried made = box_held({{"wanted", wanted}, {"hold", one.key}, {one.key, one.bound}, {"as", one.as}});
        REQUIRE(made.finding("n", "held-back"));
        INFO(made.finding("n", "held-back")->text);
        CHECK(made.finding("n", "held-back")->text.ends_with(one.says));
    }
}

TEST_CASE("limit: bounds that contradict one another are told", "[steps][findings]") {
    const Tried made = box_held({{"wanted", 3}, {"hold", "both"}, {"least", 4}, {"most", 2}, {"as", "length"}});
    REQUIRE(made.finding("n", "crossed-limits"));
    CHECK(made.finding("n", "crossed-limits")->text.find("4 m") != std::string::npos);
    CHECK(width_of(made) == Approx(4));
    const Tried mended = box_held({{"wanted", 3}, {"hold", "both"}, {"least", 2}, {"most", 4}});
    CHECK(mended.clean("n"));
}

TEST_CASE("pick_number: a number past the last entry is told", "[steps][findings]") {
    const auto picked = [](int which) {
        return tried(
            recipe_of(Json::array({step("n", "pick_number", {{"which", which}, {"count", 2}, {"a", 4}, {"b", 7}}),
                                   step("b", "box", {{"size", {"= n.value", 1, 1}}})})));
    };
    CHECK(picked(1).clean("n"));
    const Tried past = picked(3);
    REQUIRE(past.finding("n", "out-of-entries"));
    CHECK(width_of(past) == Approx(7));
}
