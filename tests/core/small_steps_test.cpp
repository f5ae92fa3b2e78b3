// SPDX-License-Identifier: GPL-3.0-or-later
// Small things steps can do: choose the farthest, fill a length evenly, begin a turn elsewhere, join own pieces, fill
// three numbers by one formula.
#include <catch2/catch.hpp>

#include "core/kernels/pieces.h"
#include "core/kernels/real_geometry.h"
#include "core/kernels/transform.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

TEST_CASE("the farthest along a way are chosen, and what lies near them", "[steps]") {
    const auto chosen = [](const char* what, Json direction, double near) {
        const Tried made = tried(
            {step("b", "box", {{"size", {1, 1, 2}}, {"along_z", 4}}),
             step("c", "choose",
                  {{"set", "top"}, {"rule", "farthest"}, {"what", what}, {"direction", direction}, {"near", near}})});
        REQUIRE(made.clean("c"));
        const Domain domain = what == std::string("faces")   ? Domain::face
                              : what == std::string("edges") ? Domain::edge
                                                             : Domain::vertex;
        return std::ranges::count(column<std::uint8_t>(made.mesh("c"), domain, "top"), 1);
    };
    CHECK(chosen("faces", {0, 0, 1}, 0) == 1);
    CHECK(chosen("vertices", {0, 0, 5}, 0) == 4);    // any length of the direction
    CHECK(chosen("vertices", {0, 0, 1}, 0.5) == 8);  // the next ring lies half a metre below
    CHECK(chosen("vertices", {1, 1, 1}, 0) == 1);
    CHECK(chosen("edges", {0, 0, -1}, 0) == 4);
    CHECK(chosen("vertices", {0, 0, 0}, 0) == 0);
}

TEST_CASE("a row stretches its step so that whole copies fill the length", "[steps]") {
    const auto row = [](double length, bool stretch) {
        return tried({step("b", "box", {{"size", {0.1, 0.1, 0.1}}}), step("r", "array",
                                                                          {{"kind", "straight"},
                                                                           {"until", "length"},
                                                                           {"length", length},
                                                                           {"offset", {0.3, 0, 0}},
                                                                           {"stretch", stretch}})});
    };
    const Tried plain = row(1.1, false), even = row(1.1, true);
    CHECK(plain.finding("r", "remainder"));
    CHECK_FALSE(even.finding("r", "remainder"));
    const Instances& copies = even.step("r").shape->instances[0];
    REQUIRE(copies.count() == 4);
    for (std::size_t i = 0; i < 4; ++i)
        CHECK(copies.places[i][3].x == Approx(1.1 / 4 * static_cast<double>(i)).margin(1e-6));
    CHECK(row(0.1, true).step("r").shape->instances[0].count() == 1);
}

TEST_CASE("a part turn begins where it is told", "[steps]") {
    const auto quarter = [](double from) {
        return tried({step("p", "rectangle", {{"width", 0.2}, {"height", 0.2}, {"across", 1}, {"up", 1}}),
                      step("l", "lathe", {{"angle", 90}, {"from", from}, {"segments", 64}})});
    };
    const auto first = *box_of(*quarter(0).step("l").shape), second = *box_of(*quarter(90).step("l").shape);
    CHECK(first.low.x == Approx(0).margin(1e-5));
    CHECK(first.low.y == Approx(0).margin(1e-5));
    CHECK(second.high.x == Approx(0).margin(1e-5));  // the next quarter round
    CHECK(second.low.y == Approx(0).margin(1e-5));
    CHECK(quarter(200).part().measures.volume.value() ==
          Approx(quarter(0).part().measures.volume.value()).epsilon(1e-5));
}

TEST_CASE("a union with nothing linked joins a shape's own pieces", "[steps][boolean]") {
    const Tried made = tried(
        {step("b", "box", {{"size", {1, 1, 1}}}),
         step("r", "array", {{"kind", "straight"}, {"count", 3}, {"offset", {0.5, 0.25, 0.125}}, {"result", "real"}}),
         step("one", "boolean", {{"kind", "union"}})});
    REQUIRE(made.clean("one"));
    CHECK(pieces_of(made.mesh("one")).size() == 1);
    // Inclusion and exclusion: 3 - 2 * 0.5 * 0.75 * 0.875, the first and the third only touch.
    CHECK(made.part().measures.volume.value() == Approx(3 - 2 * 0.5 * 0.75 * 0.875).epsilon(1e-5));
    // Its other settings act: where surfaces met is a set, and pieces can be left out.
    const Tried cut = tried(
        {step("b", "box", {{"size", {1, 1, 1}}}),
         step("r", "array", {{"kind", "straight"}, {"count", 2}, {"offset", {0.5, 0.25, 0.125}}, {"result", "real"}}),
         step("one", "boolean", {{"kind", "union"}, {"cut_set", "seam"}})});
    CHECK(std::ranges::count(column<std::uint8_t>(cut.mesh("one"), Domain::edge, "seam"), 1) > 0);
    const Tried apart =
        tried({step("b", "box"), step("r", "array", {{"count", 2}, {"offset", {3, 0, 0}}, {"result", "real"}}),
               step("one", "boolean", {{"kind", "union"}, {"pieces", "above"}, {"least", 0.5}})});
    CHECK(pieces_of(apart.mesh("one")).size() == 2);
    // One piece alone stays as it is, with a word.
    const Tried single = tried({step("b", "box"), step("one", "boolean", {{"kind", "union"}})});
    CHECK(single.finding("one", "no-operand"));
    const Tried open =
        tried({step("g", "grid"), step("r", "array", {{"count", 2}, {"offset", {3, 0, 0}}, {"result", "real"}}),
               step("one", "boolean", {{"kind", "union"}})});
    CHECK(open.finding("one", "refused-operand"));
}

TEST_CASE("one formula fills three numbers, and a name of three gives the one of its place", "[steps][recipe]") {
    const Tried made = tried({step("a", "vector", {{"value", {1, 2, 3}}}),
                              step("b", "vector", {{"value", {10, 20, 30}}}), step("box", "box", {{"size", {1, 1, 1}}}),
                              step("whole", "transform", {{"move", "= a.value + b.value * 2"}}),
                              step("mixed", "transform", {{"move", {"= a.value", 0, "= b.value"}}}),
                              step("of_made", "transform", {{"size", "= box.made.size * 2"}})});
    for (const char* id : {"whole", "mixed", "of_made"}) REQUIRE(made.clean(id));
    const auto box = *box_of(*made.step("whole").shape);
    CHECK(box.centre().x == Approx(21));
    CHECK(box.centre().y == Approx(42));
    CHECK(box.low.z == Approx(63));
    CHECK(box_of(*made.step("mixed").shape)->centre().x == Approx(22));
    CHECK(box_of(*made.step("mixed").shape)->low.z == Approx(93));
    CHECK(box_of(*made.step("of_made").shape)->size().y == Approx(2));
    // A row of points, and what has no three.
    const Tried row =
        tried({step("a", "vector", {{"value", {1, 0, 0}}}),
               step("p", "points_and_faces",
                    {{"points", {{0, 0, 0}, "= a.value", {"= a.value", 1, 0}}}, {"faces", {{0, 1, 2}}}})});
    REQUIRE(row.clean("p"));
    CHECK(row.part().measures.area == Approx(0.5));
    const Tried wrong = tried({step("box", "box"), step("t", "transform", {{"move", "= box.nothing"}})});
    CHECK_FALSE(wrong.clean("t"));
}

TEST_CASE("curves are trimmed or led on to one length, from either end or both", "[small]") {
    const auto made = [](double to, const char* keep) {
        return tried({step("l", "line", {{"from", {0, 0, 0}}, {"to", {2, 0, 0}}}),
                      step("t", "trim", {{"by", "to"}, {"to", to}, {"keep", keep}})});
    };
    const auto ends = [&](double to, const char* keep) {
        const Tried one = made(to, keep);
        const auto& knots = one.step("t").shape->curves.at(0).knots;
        return std::pair(knots.front().at.x, knots.back().at.x);
    };
    CHECK(ends(1.5, "start") == std::pair(0.0f, 1.5f));
    CHECK(ends(1.5, "end") == std::pair(0.5f, 2.0f));
    CHECK(ends(1.5, "middle") == std::pair(0.25f, 1.75f));
    CHECK(ends(3, "start") == std::pair(0.0f, 3.0f));
    CHECK(ends(3, "middle") == std::pair(-0.5f, 2.5f));
    // A bent one keeps its form: a quarter of a circle of length pi / 2.
    const Tried arc = tried({step("a", "arc", {{"radius", 1}, {"angle", 180}, {"segments", 64}}),
                             step("t", "trim", {{"by", "to"}, {"to", 1.5707963}})});
    for (const Knot& knot : arc.step("t").shape->curves[0].knots)
        CHECK(glm::length(DVec3(knot.at)) == Approx(1).margin(1e-4));
}

TEST_CASE("the faces that close a part turn go into sets", "[small]") {
    const Json profile = step("c", "circle", {{"radius", 0.1}, {"across", 0.5}, {"segments", 16}});
    const Tried made = tried({profile, step("l", "lathe", {{"angle", 90}, {"start_set", "first"}, {"end_set", "last"}}),
                              step("s", "choose", {{"rule", "set"}, {"from", "last"}, {"set", "seen"}}),
                              step("d", "delete", {{"only", "seen"}, {"which", "keep"}})});
    CHECK(made.clean("d"));
    // The start lies in the plane y = 0, the end in x = 0.
    REQUIRE(made.mesh("d").face_count() == 1);
    for (const Vec3& p : *made.mesh("d").positions) {
        CHECK(std::abs(p.x) < 1e-6f);
        CHECK(p.y > 0.3f);
    }
    const Tried whole = tried({profile, step("l", "lathe", {{"start_set", "first"}})});
    CHECK(whole.finding("l", "no-caps"));
}

TEST_CASE("so many copies fill a path, each touching the next", "[small]") {
    const auto made = [](int count, double end) {
        return tried(recipe_of(Json::array(
            {step("b", "box", {{"size", {0.4, 0.1, 0.1}}}), step("l", "line", {{"from", {0, 0, 0}}, {"to", {3, 0, 0}}}),
             step("a", "along_curve",
                  {{"in", {{"shape", "l"}, {"copy", "b"}}}, {"count", count}, {"touch", true}, {"end", end}})})));
    };
    for (const int count : {1, 7, 12}) {
        const Tried one = made(count, 0.5);
        const auto& places = one.step("a").shape->instances.at(0).places;
        REQUIRE(places.size() == static_cast<std::size_t>(count));
        const double each = 2.5 / count;
        for (int i = 0; i < count; ++i) {
            const auto& place = places[static_cast<std::size_t>(i)];
            CHECK(glm::length(DVec3(place[0])) * 0.4 == Approx(each).margin(1e-6));
            CHECK(place[3].x == Approx(each * (i + 0.5)).margin(1e-5));
        }
    }
}
