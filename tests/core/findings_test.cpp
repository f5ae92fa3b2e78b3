// SPDX-License-Identifier: GPL-3.0-or-later
// What the steps of the solid kit notice, where they say it, and that their buttons mend it.
#include <catch2/catch.hpp>

#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

TEST_CASE("a bevel wider than there is room is held, and its button finds the width that fits", "[findings]") {
    const Tried wide = tried({step("b", "box", {{"size", {0.1, 0.1, 0.1}}}), step("v", "bevel", {{"width", 0.08}})});
    const Finding* held = wide.finding("v", "overlap-held");
    REQUIRE(held);
    CHECK_FALSE(held->places.empty());
    CHECK(held->text.find("12 of 12") != std::string::npos);
    CHECK(wide.part().measures.closed);
    const Tried fits = mended(wide, "v", "overlap-held");
    CHECK_FALSE(fits.finding("v", "overlap-held"));
    CHECK(fits.recipe.part("p")->steps[1]->settings["width"].get<double>() < 0.0501);
    CHECK(fits.recipe.part("p")->steps[1]->settings["width"].get<double>() > 0.045);
}

TEST_CASE("steps that hold edges say when they come after a smoothing", "[findings]") {
    const Tried wrong =
        tried({step("b", "box"), step("s", "subdivide"), step("v", "bevel", {{"by", "all"}, {"width", 0.01}})});
    CHECK(wrong.finding("v", "after-smoothing"));
    const Tried right =
        tried({step("b", "box"), step("v", "bevel", {{"by", "all"}, {"width", 0.01}}), step("s", "subdivide")});
    CHECK_FALSE(right.finding("v", "after-smoothing"));
    CHECK_FALSE(tried({step("b", "box"), step("s", "subdivide", {{"skip", true}}), step("v", "bevel")})
                    .finding("v", "after-smoothing"));
}

TEST_CASE("widths after an uneven sizing are explained", "[findings]") {
    for (const char* key : {"bevel", "thicken", "struts"}) {
        INFO(key);
        CHECK(tried({step("b", "box"), step("t", "transform", {{"size", {1, 1, 3}}}), step("w", key)})
                  .finding("w", "uneven-size"));
        CHECK_FALSE(tried({step("b", "box"), step("t", "transform", {{"size", {2, 2, 2}}}), step("w", key)})
                        .finding("w", "uneven-size"));
    }
}

TEST_CASE("booleans say which operand is wrong, and when nothing came of it", "[findings][boolean]") {
    const Json body = step("b", "box", {{"size", {1, 1, 1}}}),
               cut = step("c", "boolean", {{"kind", "difference"}, {"in", {{"shape", "b"}, {"with", "o"}}}});
    SECTION("open") {
        const Tried open = tried({body, step("o", "cylinder", {{"caps", "none"}}), cut});
        const Finding* f = open.finding("c", "refused-operand");
        REQUIRE(f);
        CHECK(f->severity == Severity::error);
        CHECK(f->text.find("With") != std::string::npos);
        CHECK(f->text.find("open") != std::string::npos);
        CHECK(open.part().measures.faces == 6);  // the input passes through
    }
    SECTION("not a mesh, and empty") {
        CHECK(tried({body, step("o", "circle"), cut}).finding("c", "empty-operand")->severity == Severity::error);
        const Tried empty = tried({body, step("o", "drawn_curve"), cut});
        CHECK(empty.finding("c", "nothing-to-cut-with")->severity == Severity::note);
        CHECK_FALSE(empty.made.has_errors());
        CHECK(empty.part().measures.faces == 6);
        CHECK(tried({body, step("c", "boolean", {{"kind", "difference"}, {"in", {{"shape", "b"}}}})})
                  .finding("c", "no-operand"));
    }
    SECTION("nothing cut") {
        const Tried apart = tried(
            {body, step("n", "box", {{"size", {0.1, 0.1, 0.1}}}), step("o", "transform", {{"move", {5, 0, 0}}}), cut});
        const Finding* f = apart.finding("c", "unchanged");
        REQUIRE(f);
        CHECK(f->text.find("other way round") != std::string::npos);
        CHECK(apart.part().measures.faces == 6);
    }
    SECTION("nothing left, the wrong way round") {
        const Tried swallowed =
            tried({step("b", "box", {{"size", {0.2, 0.2, 0.2}}}), step("n", "box", {{"size", {2, 2, 2}}}),
                   step("o", "transform", {{"move", {0, 0, -0.5}}}), cut});
        CHECK(swallowed.finding("c", "empty-result"));
        Json other = cut;
        other["kind"] = "difference_back";
        const Tried back =
            tried({step("b", "box", {{"size", {0.2, 0.2, 0.2}}}), step("n", "box", {{"size", {2, 2, 2}}}),
                   step("o", "transform", {{"move", {0, 0, -0.5}}}), other});
        CHECK_FALSE(back.finding("c", "empty-result"));
        CHECK(*back.part().measures.volume == Approx(8 - 0.008));
    }
    SECTION("crosses itself where it is cut") {
        // The result closes all the same; that its faces cross one another is told at the part, as without the cut.
        MakeOptions thorough;
        thorough.thorough = true;
        const Tried crossing =
            tried(recipe_of({step("k", "box", {{"size", {2, 0.5, 0.5}}, {"along_x", 24}}),
                             step("b", "bend", {{"angle", 330}, {"about", "point"}, {"centre", {0, 0, -0.2}}}),
                             step("n", "box", {{"size", {3, 0.2, 3}}}),
                             step("o", "transform", {{"move", {0, 0, -1.5}}}), cut}),
                  thorough);
        CHECK(crossing.part().measures.closed);
        CHECK(crossing.part_says("crossing-faces"));
    }
}

TEST_CASE("an unknown set is named, with the nearest that exists as its button", "[findings][sets]") {
    const Tried wrong = tried({step("b", "box"), step("c", "choose", {{"set", "lid"}, {"rule", "facing"}}),
                               step("x", "extrude", {{"only", "lod"}})});
    const Finding* f = wrong.finding("x", "unknown-set");
    REQUIRE(f);
    CHECK(f->text.find("“lid”") != std::string::npos);
    CHECK(wrong.part().measures.faces == 6);
    const Tried right = mended(wrong, "x", "unknown-set");
    CHECK_FALSE(right.finding("x", "unknown-set"));
    CHECK(right.part().measures.faces == 10);
    CHECK(tried({step("b", "box"), step("x", "extrude", {{"only", "anything"}})}).finding("x", "unknown-set"));
    CHECK(tried({step("b", "box"), step("c", "choose", {{"set", "none"}, {"rule", "ball"}, {"centre", {5, 5, 5}}}),
                 step("x", "extrude", {{"only", "none"}})})
              .finding("x", "empty-set"));
}

TEST_CASE("a pulled sheet without a back is an open slab until its back is kept", "[findings]") {
    const Tried open = tried({step("g", "grid"), step("x", "extrude", {{"distance", 0.1}})});
    CHECK(open.finding("x", "open-slab"));
    CHECK_FALSE(open.part().measures.closed);
    const Tried closed = mended(open, "x", "open-slab");
    CHECK_FALSE(closed.finding("x", "open-slab"));
    CHECK(closed.part().measures.closed);
    CHECK(*closed.part().measures.volume == Approx(0.1));
}

TEST_CASE("walls between welded copies are found and taken away", "[findings]") {
    const Tried walls =
        tried({step("b", "box", {{"size", {1, 1, 1}}}),
               step("a", "array",
                    {{"count", 4}, {"offset", {1, 0, 0}}, {"result", "real"}, {"weld", true}, {"drop_inner", false}})});
    const Finding* f = walls.finding("a", "inner-faces");
    REQUIRE(f);
    CHECK(f->text.starts_with("6 faces"));
    CHECK(walls.part_says("non-manifold"));
    const Tried clean = mended(walls, "a", "inner-faces");
    CHECK_FALSE(clean.finding("a", "inner-faces"));
    CHECK(clean.part().measures.closed);
    CHECK(*clean.part().measures.volume == Approx(4));
    CHECK(clean.part().measures.faces == 18);
    CHECK(tried({step("b", "box", {{"size", {1, 1, 1}}}),
                 step("a", "array", {{"count", 3}, {"offset", {1.2, 0, 0}}, {"result", "real"}, {"weld", true}})})
              .finding("a", "nothing-welded"));
}

TEST_CASE("copies that lie on one another are noticed", "[findings]") {
    CHECK(tried({step("b", "box"), step("a", "array", {{"offset", {0, 0, 0}}})})
              .finding("a", "copies-overlap")
              ->severity == Severity::caution);
}

TEST_CASE("a wall thicker than its bend is tight, and a bend tighter than its bar is thick", "[findings]") {
    const Json ball = step("b", "geodesic_sphere", {{"radius", 0.1}, {"frequency", 3}});
    const Tried thick = tried({ball, step("w", "thicken", {{"thickness", 0.15}})});
    REQUIRE(thick.finding("w", "too-thick"));
    CHECK_FALSE(thick.finding("w", "too-thick")->places.empty());
    CHECK_FALSE(tried({ball, step("w", "thicken", {{"thickness", 0.02}})}).finding("w", "too-thick"));
    CHECK_FALSE(
        tried({ball, step("w", "thicken", {{"thickness", 0.15}, {"side", "outward"}})}).finding("w", "too-thick"));
    const Json beam = step("b", "box", {{"size", {1, 0.1, 0.4}}, {"along_x", 20}, {"origin", "centre"}});
    CHECK(tried({beam, step("n", "bend", {{"angle", 330}})}).finding("n", "too-tight"));
    CHECK_FALSE(tried({beam, step("n", "bend", {{"angle", 90}})}).finding("n", "too-tight"));
}

TEST_CASE("neighbours that face opposite ways and edges with too many faces are told at the part", "[findings]") {
    const Tried folded =
        tried({step("a", "grid", {{"across", 1}, {"deep", 1}}), step("f", "flip", {{"in", {{"shape", "a"}}}}),
               step("t", "transform", {{"move", {1, 0, 0}}, {"in", {{"shape", "f"}}}}),
               step("m", "merge", {{"in", {{"shape", "a"}, {"with", "t"}}}}), step("w", "weld")});
    CHECK(folded.part_says("turned-faces"));
    const Tried mirrored = tried({step("a", "box"), step("s", "transform", {{"size", {-1, 1, 1}}})});
    CHECK_FALSE(mirrored.part_says("inside-out"));  // a mirroring size keeps the outside outside
    CHECK(tried({step("a", "box"), step("f", "flip")}).part_says("inside-out"));
}

TEST_CASE("sheets welded along one line are told where it happens", "[findings][weld]") {
    // Three sheets that share an edge: two become one surface, the third makes three faces at it.
    const auto sheet = [](const char* id, double turn) {
        return step(id, "points_and_faces",
                    {{"points",
                      {{0, 0, 0}, {0, 0, 1}, {std::cos(turn), std::sin(turn), 1}, {std::cos(turn), std::sin(turn), 0}}},
                     {"faces", {{0, 1, 2, 3}}},
                     {"in", Json::object()}});
    };
    const Tried three =
        tried({sheet("a", 0), sheet("b", 2), sheet("c", 4),
               step("m", "merge", {{"in", {{"shape", "a"}, {"with", "b"}, {"and", "c"}}}}), step("w", "weld")});
    REQUIRE(three.finding("w", "many-faces"));
    CHECK(three.finding("w", "many-faces")->text.find("1 edge has") != std::string::npos);
    const Tried two = tried({sheet("a", 0), sheet("b", 2),
                             step("m", "merge", {{"in", {{"shape", "a"}, {"with", "b"}}}}), step("w", "weld")});
    CHECK_FALSE(two.finding("w", "many-faces"));
    // Nothing to weld is no fault.
    CHECK(tried({step("b", "box"), step("w", "weld")}).finding("w", "unchanged")->severity == Severity::note);
}
