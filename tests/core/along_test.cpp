// SPDX-License-Identifier: GPL-3.0-or-later
// Copies along paths, and shapes that follow them.
#include <catch2/catch.hpp>
#include <numbers>
#include <tbb/global_control.h>

#include "core/kernels/alignment.h"
#include "core/kernels/array.h"
#include "core/kernels/real_geometry.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

const Array<glm::mat4>& places_along(const Tried& made, const std::string& id) {
    REQUIRE(made.step(id).shape->instances.size() == 1);
    return made.step(id).shape->instances[0].places;
}

Json along(Json settings) {
    settings["in"] = {{"shape", "path"}, {"copy", "bead"}};
    return step("row", "along_curve", settings);
}

}  // namespace

TEST_CASE("thirteen links rolled by a quarter turn each end at 1 170 degrees", "[along]") {
    // Common practice: every link of a chain stands across the one before; with a first roll of 90 the thirteenth has
    // 13 x 90.
    const Tried made = tried({step("path", "line", {{"to", {13, 0, 0}}}),
                              step("bead", "box", {{"size", {1, 0.6, 0.2}}, {"in", {{"shape", ""}}}}),
                              along({{"by", "touching"}, {"roll", 90}, {"roll_each", 90}})});
    const auto& row = places_along(made, "row");
    REQUIRE(row.size() == 13);
    for (std::size_t i = 0; i < 13; ++i) {
        const double roll = (90.0 * static_cast<double>(i + 1)) * pi / 180;
        // The copy's own y, turned about x by the roll.
        CHECK(glm::distance(DVec3(row[i] * Vec4(0, 1, 0, 0)), DVec3(0, std::cos(roll), std::sin(roll))) < 1e-5);
        CHECK(row[i][3].x == Approx(0.5 + static_cast<double>(i)));
    }
    CHECK_FALSE(made.finding("row", "copies-overlap"));
}

TEST_CASE("copies look along the path, level, or as they are", "[along]") {
    const auto looks = [](const char* look, Json to) {
        const Tried made = tried({step("path", "line", {{"to", to}}), step("bead", "box", {{"in", {{"shape", ""}}}}),
                                  along({{"by", "count"}, {"count", 2}, {"look", look}, {"frames", "up"}})});
        const auto& row = places_along(made, "row");
        return std::pair{DVec3(row[1] * Vec4(1, 0, 0, 0)), DVec3(row[1] * Vec4(0, 0, 1, 0))};
    };
    const auto [ahead, up] = looks("along", {1, 1, 1});
    CHECK(glm::distance(ahead, glm::normalize(DVec3(1, 1, 1))) < 1e-6);
    CHECK(up.z > 0.5);
    const auto [level, level_up] = looks("level", {1, 1, 1});
    CHECK(glm::distance(level, glm::normalize(DVec3(1, 1, 0))) < 1e-6);
    CHECK(glm::distance(level_up, DVec3(0, 0, 1)) < 1e-6);
    CHECK(looks("same", {1, 1, 1}).first == DVec3(1, 0, 0));
}

TEST_CASE("copies that leave a rest are told with the distance", "[along][findings]") {
    const Tried rest =
        tried({step("path", "line", {{"to", {2.2, 0, 0}}}),
               step("bead", "box", {{"size", {0.5, 0.1, 0.1}}, {"in", {{"shape", ""}}}}), along({{"by", "touching"}})});
    REQUIRE(rest.finding("row", "left-over"));
    CHECK(places_along(rest, "row").size() == 4);
    CHECK_FALSE(mended(rest, "row", "left-over").finding("row", "left-over"));
    const Tried none =
        tried({step("path", "line", {{"to", {2, 0, 0}}}), step("row", "along_curve", {{"in", {{"copy", ""}}}})});
    CHECK(none.finding("row", "wrong-input"));
    const Tried many = tried({step("path", "line", {{"to", {2, 0, 0}}}), step("bead", "box", {{"in", {{"shape", ""}}}}),
                              along({{"by", "spacing"}, {"spacing", 1e-5}})});
    CHECK(
        std::ranges::any_of(many.step("row").findings, [](const Finding& f) { return f.severity == Severity::error; }));
}

TEST_CASE("what follows a curve keeps its lengths along it", "[follow]") {
    // A thin strip along x, laid on a quarter circle of the same length: its middle line lies on the arc, and every
    // piece keeps its length.
    const double radius = 2 / pi;
    const Tried made = tried(
        {step("path", "arc", {{"radius", radius}, {"from", 0}, {"angle", 90}, {"plane", "top"}}),
         step("strip", "box",
              {{"size", {1, 0.1, 0.02}}, {"along_x", 256}, {"along_y", 2}, {"along_z", 1}, {"in", {{"shape", ""}}}}),
         step("bent", "follow_curve",
              {{"origin", "middle"}, {"frames", "up"}, {"in", {{"shape", "strip"}, {"path", "path"}}}})});
    const Mesh &before = made.mesh("strip"), &after = made.mesh("bent");
    double along_before = 0, along_after = 0;
    for (const auto& edge : before.topology->edges) {
        const DVec3 a((*before.positions)[edge[0]]), b((*before.positions)[edge[1]]);
        if (std::abs(a.y) > 1e-6 || std::abs(b.y) > 1e-6 || a.z > 0.005 || b.z > 0.005 || std::abs(a.x - b.x) < 1e-6)
            continue;
        along_before += glm::distance(a, b);
        along_after += glm::distance(DVec3((*after.positions)[edge[0]]), DVec3((*after.positions)[edge[1]]));
    }
    CHECK(along_before > 0.99);
    CHECK(along_after / along_before == Approx(1).epsilon(1e-4));
    const Measures m = measure(after);
    CHECK(m.closed);
    CHECK(*m.volume == Approx(0.1 * 0.02).epsilon(2e-3));  // Pappus: the section's middle goes on the arc
    CHECK_FALSE(made.finding("bent", "longer-than-path"));
    CHECK_FALSE(made.finding("bent", "tight-bend"));
    // All three axes keep the outside outside.
    for (const char* axis : {"x", "y", "z"}) {
        const Tried any = tried(
            {step("path", "arc", {{"radius", 2}, {"from", 0}, {"angle", 90}, {"plane", "top"}}),
             step("block", "box",
                  {{"size", {0.5, 0.5, 0.5}}, {"along_x", 8}, {"along_y", 8}, {"along_z", 8}, {"in", {{"shape", ""}}}}),
             step("bent", "follow_curve",
                  {{"axis", axis}, {"origin", "middle"}, {"in", {{"shape", "block"}, {"path", "path"}}}})});
        CHECK(*measure(any.mesh("bent")).volume == Approx(0.125).epsilon(1e-2));
    }
}

TEST_CASE("following tells what runs beyond, beside and too tightly", "[follow][findings]") {
    const auto with = [](Json path, Json shape) {
        return tried({path, shape, step("bent", "follow_curve", {{"in", {{"shape", "block"}, {"path", "path"}}}})});
    };
    const Json block = step("block", "box", {{"size", {2, 0.2, 0.2}}, {"origin", "centre"}, {"in", {{"shape", ""}}}});
    const Tried longer = with(step("path", "line", {{"to", {1.5, 0, 0}}}), block);
    REQUIRE(longer.finding("bent", "longer-than-path"));
    CHECK(longer.finding("bent", "longer-than-path")->text.find("0.5 m") != std::string::npos);
    const Tried fitted = mended(longer, "bent", "longer-than-path");
    CHECK(box_of(*fitted.step("bent").shape)->high.x == Approx(1.5));
    const Tried late = tried({step("path", "line", {{"to", {1.5, 0, 0}}}), block,
                              step("bent", "follow_curve",
                                   {{"stretch", true}, {"start", 2}, {"in", {{"shape", "block"}, {"path", "path"}}}})});
    CHECK(late.finding("bent", "no-room"));
    CHECK(*measure(late.mesh("bent")).volume > 0);  // passed on as it was, not inside out
    const Tried beside =
        tried({step("path", "line", {{"to", {3, 0, 0}}}), block, step("off", "transform", {{"move", {0, 1, 0}}}),
               step("bent", "follow_curve", {{"in", {{"shape", "off"}, {"path", "path"}}}})});
    REQUIRE(beside.finding("bent", "different-origins"));
    CHECK_FALSE(mended(beside, "bent", "different-origins").finding("bent", "different-origins"));
    CHECK(with(step("path", "arc", {{"radius", 0.05}, {"angle", 180}}), block).finding("bent", "tight-bend"));
    CHECK(tried({step("block", "box"), step("bent", "follow_curve")}).finding("bent", "wrong-input"));
}

TEST_CASE("an alignment keeps every cross-section level and as wide as it was", "[alignment]") {
    const Json deck =
        step("deck", "box",
             {{"size", {12, 2, 0.2}}, {"along_x", 240}, {"along_y", 4}, {"along_z", 1}, {"in", {{"shape", ""}}}});
    const Json start = step("at", "transform", {{"move", {6, 0, 0}}});
    const Json plan = step(
        "plan", "drawn_curve",
        {{"plane", "top"},
         {"curves",
          Json::parse(
              R"([{"knots":[{"at":[0,0]},{"at":[4,0],"kind":"smooth"},{"at":[8,3],"kind":"smooth"},{"at":[13,4]}]}])")},
         {"in", {{"shape", ""}}}});
    const Json height =
        step("height", "drawn_curve",
             {{"plane", "front"},
              {"curves", Json::parse(R"([{"knots":[{"at":[0,0.5]},{"at":[6,1.5],"kind":"smooth"},{"at":[14,0.5]}]}])")},
              {"in", {{"shape", ""}}}});
    for (const double longest : {0.0, 1.5}) {
        const Tried made = tried(
            {deck, start, plan, height,
             step("laid", "alignment",
                  {{"plan_longest", longest}, {"in", {{"shape", "at"}, {"plan", "plan"}, {"height", "height"}}}})});
        REQUIRE(made.clean("laid"));
        const Mesh &before = made.mesh("at"), &after = made.mesh("laid");
        std::map<std::pair<float, float>, float> level;  // (x, z) before: z after
        double worst = 0;
        for (std::size_t i = 0; i < before.vertex_count(); ++i) {
            const Vec3 &p = (*before.positions)[i], &q = (*after.positions)[i];
            const auto [it, fresh] = level.try_emplace({p.x, p.z}, q.z);
            if (!fresh) worst = std::max(worst, static_cast<double>(std::abs(it->second - q.z)));
        }
        CHECK(worst < 1e-6);
        const Measures m = measure(after);
        CHECK(m.closed);
        // The middle line keeps its length in plan, so the volume stays (Pappus; lifting straight up changes no
        // volume).
        CHECK(*m.volume == Approx(12 * 2 * 0.2).epsilon(2e-3));
        if (longest == 0) continue;
        // Straight lengths: between two breaks the middle line does not bend. Twelve metres in pieces of 1.5 and plan
        // of some 14.
        const Path straight = make_path(in_lengths(flatten(made.step("plan").shape->curves[0]), {longest, 0}), {});
        CHECK(straight.size() == 11);
    }
}

TEST_CASE("an alignment in so many pieces bends long faces at its mitres and nowhere else", "[alignment]") {
    // A deck of six faces, on a quarter circle of 10 m radius in five chords.
    const Json deck = step("deck", "box", {{"size", {15, 2, 0.2}}, {"in", {{"shape", ""}}}});
    const Json plan = step("plan", "arc", {{"plane", "top"}, {"radius", 10}, {"angle", 90}, {"in", {{"shape", ""}}}});
    const auto laid = [&](const Json& more) {
        Json settings = {{"origin", "low"}, {"in", {{"shape", "deck"}, {"plan", "plan"}}}};
        settings.update(more);
        return tried({deck, plan, step("laid", "alignment", settings)});
    };
    const Tried cut = laid({{"plan_by", "pieces"}, {"plan_pieces", 5}, {"cut", true}});
    REQUIRE(cut.clean("laid"));
    // Four joints: the four long faces are five each, the ends stay.
    CHECK(cut.mesh("laid").face_count() == 4 * 5 + 2);
    const Measures& m = cut.part().measures;
    CHECK(m.closed);
    // A chord of a fifth of the quarter is 2 r sin 9°; all five are shorter than the deck, which goes straight on.
    const double chord = 2 * 10 * std::sin(std::numbers::pi / 20);
    // Pappus: the middle line keeps its length, mitred prisms as much as straight ones.
    CHECK(*m.volume == Approx(15 * 2 * 0.2).epsilon(1e-5));
    std::size_t along = 0;
    const Mesh& mesh = cut.mesh("laid");
    for (const auto& [a, b] : mesh.topology->edges) {
        const DVec3 way = DVec3((*mesh.positions)[b]) - DVec3((*mesh.positions)[a]);
        // On mitres an edge one metre to a side of the middle is longer or shorter by 2 tan 9° a joint, half that for
        // the first piece.
        const double mitre = std::tan(std::numbers::pi / 20);
        for (const double wanted : {chord + 2 * mitre, chord - 2 * mitre})
            along += std::abs(glm::length(way) - wanted) < 2e-3;  // the arc itself is drawn in chords: 0.8 mm off
    }
    CHECK(along == 3 * 4);  // the three inner pieces, four edges each
    // Uncut, the same faces cut every corner.
    const Tried whole = laid({{"plan_by", "pieces"}, {"plan_pieces", 5}});
    CHECK(whole.mesh("laid").face_count() == 6);
    // A plan with a drawn corner is cut there even without lengths; a bent one that is followed has no joints.
    CHECK(laid({{"cut", true}}).finding("laid", "no-joints"));
    // The heights have joints of their own.
    const Tried lifted = tried({step("deck", "box", {{"size", {12, 2, 0.2}}, {"in", {{"shape", ""}}}}),
                                step("height", "arc",
                                     {{"plane", "front"},
                                      {"radius", 20},
                                      {"from", 70},
                                      {"angle", 40},
                                      {"across", 6.8404},
                                      {"in", {{"shape", ""}}}}),
                                step("laid", "alignment",
                                     {{"origin", "low"},
                                      {"height_by", "pieces"},
                                      {"height_pieces", 4},
                                      {"cut", true},
                                      {"in", {{"shape", "deck"}, {"height", "height"}}}})});
    CHECK(lifted.mesh("laid").face_count() == 4 * 4 + 2);  // three joints lie on its twelve metres
    CHECK(*lifted.part().measures.volume == Approx(12 * 2 * 0.2).epsilon(1e-5));  // lifting straight up changes none
}

TEST_CASE("alignments tell what does not fit", "[alignment][findings]") {
    const Json deck = step("deck", "box", {{"size", {12, 2, 0.2}}, {"in", {{"shape", ""}}}});
    const auto with = [&](const char* plan, const char* height, Json settings = {}) {
        settings["in"] = {{"shape", "deck"}, {"plan", "plan"}, {"height", "height"}};
        settings["origin"] = "low";
        return tried(
            {deck,
             step("plan", "drawn_curve", {{"plane", "top"}, {"curves", Json::parse(plan)}, {"in", {{"shape", ""}}}}),
             step("height", "drawn_curve",
                  {{"plane", "front"}, {"curves", Json::parse(height)}, {"in", {{"shape", ""}}}}),
             step("laid", "alignment", settings)});
    };
    const char* level = R"([{"knots":[{"at":[0,0]},{"at":[12,0]}]}])";
    CHECK(with(R"([{"knots":[{"at":[0,0]},{"at":[5,0]}]}])", level).finding("laid", "longer-than-path"));
    CHECK(with(level, R"([{"knots":[{"at":[0,0]},{"at":[6,1]},{"at":[5,2]},{"at":[12,2]}]}])")
              .finding("laid", "turns-back"));
    CHECK(with(level, R"([{"knots":[{"at":[0,0]},{"at":[6,0]}]}])").finding("laid", "longer-than-heights"));
    CHECK(with(level, R"([{"knots":[{"at":[0,0]},{"at":[12,3]}]}])", {{"steepest", 10}}).finding("laid", "too-steep"));
    CHECK(tried({deck, step("laid", "alignment")}).finding("laid", "no-path"));
    // A cut at every joint looks at every face: too much of it is refused, and nothing half done goes on.
    const Tried heavy = tried(
        {step("deck", "box", {{"size", {12, 2, 0.2}}, {"along_x", 300}, {"along_y", 300}, {"in", {{"shape", ""}}}}),
         step("plan", "line", {{"from", {0, 0, 0}}, {"to", {0, 12, 0}}, {"in", {{"shape", ""}}}}),
         step("laid", "alignment",
              {{"plan_by", "pieces"},
               {"plan_pieces", 9000},
               {"cut", true},
               {"origin", "low"},
               {"in", {{"shape", "deck"}, {"plan", "plan"}}}})});
    CHECK(heavy.finding("laid", "too-many"));
    CHECK(*heavy.mesh("laid").positions == *heavy.mesh("deck").positions);  // as a step that failed hands it on
    const Tried plain = with(level, level);
    CHECK(plain.step("laid").findings.empty());
    CHECK(box_of(*plain.step("laid").shape)->high.x == Approx(12));
}

TEST_CASE("steps along curves give the same bytes for any number of threads", "[follow]") {
    const auto bytes = [](int threads) {
        const tbb::global_control limit(tbb::global_control::max_allowed_parallelism,
                                        static_cast<std::size_t>(threads));
        const Tried made = tried({step("path", "helix"),
                                  step("block", "box",
                                       {{"size", {1, 0.05, 0.05}},
                                        {"along_x", 400},
                                        {"along_y", 4},
                                        {"along_z", 4},
                                        {"in", {{"shape", ""}}}}),
                                  step("bent", "follow_curve", {{"in", {{"shape", "block"}, {"path", "path"}}}})});
        return *made.mesh("bent").positions;
    };
    CHECK(bytes(1) == bytes(2));
}
