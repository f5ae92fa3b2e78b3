// SPDX-License-Identifier: GPL-3.0-or-later
// Patterns on surfaces, UVs, unwrapping, blends and tiles.
#include <catch2/catch.hpp>
#include <numbers>
#include <tbb/global_control.h>

#include "core/kernels/drape.h"
#include "core/kernels/primitives.h"
#include "core/kernels/uv.h"
#include "core/kernels/uv_check.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

/// A grid of 1 by 1 with UVs 0..1, bent to part of a cylinder about y of the given radius.
Mesh shell(double radius, int pieces) {
    Mesh sheet = with_uvs(make_grid(1, 1, pieces, pieces), {});
    Array<Vec3> points = *sheet.positions;
    for (Vec3& p : points) {
        const double a = static_cast<double>(p.x) / radius;
        p = Vec3(radius * std::sin(a), p.y, radius * std::cos(a));
    }
    sheet.positions = std::make_shared<const Array<Vec3>>(std::move(points));
    return sheet;
}

}  // namespace

TEST_CASE("a draped pattern lies on the cylinder, its thickness along the normals", "[drape]") {
    const double radius = 0.8, thick = 0.05;
    const DrapeSurface surface(shell(radius, 128));
    DrapeSurface::Options options;
    options.origin = {-0.5, -0.5, 0};
    std::vector<Vec3> points;
    for (double x = -0.45; x < 0.5; x += 0.15)
        for (const double z : {0.0, thick}) points.push_back(Vec3(x, 0.2, z));
    const auto on = surface.draped(points, options);
    for (std::size_t i = 0; i < points.size(); ++i) {
        const double a = static_cast<double>(points[i].x) / radius, r = radius + static_cast<double>(points[i].z);
        CHECK(glm::distance(on.points[i], DVec3(r * std::sin(a), 0.2, r * std::cos(a))) < 2e-4);
    }
    options.amount = 0;
    const auto flat = surface.draped(points, options);
    for (std::size_t i = 0; i < points.size(); ++i) CHECK(glm::distance(flat.points[i], DVec3(points[i])) < 1e-6);
    // On the way the thickness stays: neighbours above one another are as far apart as they were.
    options.amount = 0.5;
    const auto half = surface.draped(points, options);
    for (std::size_t i = 0; i + 1 < points.size(); i += 2)
        CHECK(glm::distance(half.points[i], half.points[i + 1]) == Approx(thick).epsilon(1e-6));
    // Lengths: the surface is as long as flat, so nothing is stretched; a UV square half as long is.
    const auto [least, most] = surface.stretch({1, 1});
    CHECK(least == Approx(1).epsilon(1e-3));
    CHECK(most == Approx(1).epsilon(1e-3));
    CHECK(surface.stretch({0.5, 1})[1] == Approx(2).epsilon(1e-3));
    // On the inside of the bend a pattern thicker than the radius turns over.
    options.amount = 1;
    CHECK(surface.crossings(options, 0, 0.1).empty());
    CHECK_FALSE(surface.crossings(options, -radius * 1.1, 0).empty());
}

TEST_CASE("the drape step cuts at the border and tells what does not fit", "[drape][findings]") {
    const auto with = [](Json settings, Json pattern, std::vector<Json> between = {}) {
        std::vector<Json> steps = {step("sheet", "grid", {{"width", 1}, {"depth", 1}, {"across", 24}, {"deep", 24}})};
        steps.push_back(step("curl", "bend", {{"angle", 120}}));
        for (Json& one : between) steps.push_back(one);
        const std::string onto = steps.back()["id"];
        steps.push_back(pattern);
        settings["in"] = {{"shape", "weave"}, {"onto", onto}};
        steps.push_back(step("laid", "drape", settings));
        return tried(recipe_of(Json(steps)));
    };
    const Json weave =
        step("weave", "box", {{"size", {2, 2, 0.02}}, {"along_x", 40}, {"along_y", 40}, {"in", {{"shape", ""}}}});
    const Tried cut = with({{"fit", "size"}, {"origin", {-0.5, -0.5, 0}}}, weave);
    REQUIRE(cut.clean("laid"));
    const Measures m = measure(cut.mesh("laid"));
    CHECK(m.closed);                                // cut ends are capped
    const double radius = 1 / glm::radians(120.0);  // the pattern stands on the inside of the bend: Pappus
    CHECK(*m.volume == Approx(0.02 * (1 - 0.01 / radius)).epsilon(3e-3));
    CHECK_FALSE(cut.finding("laid", "missed"));
    const Tried dropped = with({{"fit", "size"}, {"origin", {-0.5, -0.5, 0}}, {"trim", "drop"}}, weave);
    CHECK(dropped.finding("laid", "missed"));
    CHECK_FALSE(measure(dropped.mesh("laid")).closed);
    CHECK(with({{"fit", "fill"}, {"stretch", 2.2}}, weave).finding("laid", "stretched") ==
          nullptr);  // twice as large as the sheet
    CHECK(with({{"fit", "fill"}, {"stretch", 1.8}}, weave).finding("laid", "stretched"));
    CHECK(with({{"fit", "size"}, {"origin", {-0.5, -0.5, 0}}, {"size", {0.3, 1, 0}}}, weave)
              .finding("laid", "stretched"));
    CHECK(with({{"fit", "size"}, {"origin", {5, 5, 0}}}, weave).finding("laid", "nothing-left"));
    CHECK(with({{"fit", "size"}, {"origin", {-0.5, -0.5, 0}}, {"base", "zero"}},
               step("weave", "box", {{"size", {1, 1, 1.5}}, {"along_x", 10}, {"in", {{"shape", ""}}}}))
              .finding("laid", "pattern-crosses"));
}

TEST_CASE("a pattern is trimmed along a border of any form, and all that is left lies on the surface", "[drape]") {
    // A disc of radius 0.4, flat: the area of a grid trimmed to it is the disc's.
    const Tried disc =
        tried({step("c", "circle", {{"radius", 0.4}, {"segments", 96}, {"plane", "top"}}),
               step("f", "fill", {{"style", "triangles"}, {"faces", "up"}}),
               step("even", "remesh", {{"edge", 0.05}, {"hold_borders", true}}), step("m", "uv", {{"scale", "real"}})});
    const DrapeSurface surface(disc.mesh("m"));
    CHECK_FALSE(surface.rectangular());
    CHECK(DrapeSurface(shell(1, 8)).rectangular());
    for (const int pieces : {17, 60}) {
        const auto trimmed = surface.trimmed(make_grid(1, 1, pieces, pieces), {});
        const Mesh& cut = trimmed.mesh;
        CHECK_FALSE(trimmed.refused);
        CHECK_FALSE(measure(cut).closed);  // a sheet stays a sheet
        REQUIRE(sound(cut));
        CHECK(measure(cut).area == Approx(96 * 0.5 * 0.16 * std::sin(2 * pi / 96)).epsilon(pieces == 17 ? 5e-3 : 5e-4));
        const auto on = surface.draped(*cut.positions, {});
        CHECK(std::ranges::count(on.missed, 1) == 0);
    }
}

TEST_CASE("what a round border cuts open is closed again", "[drape]") {
    const Tried disc =
        tried({step("c", "circle", {{"radius", 0.4}, {"segments", 96}, {"plane", "top"}}),
               step("f", "fill", {{"style", "triangles"}, {"faces", "up"}}),
               step("even", "remesh", {{"edge", 0.05}, {"hold_borders", true}}), step("m", "uv", {{"scale", "real"}})});
    const DrapeSurface surface(disc.mesh("m"));
    const double area = 96 * 0.5 * 0.16 * std::sin(2 * pi / 96);
    // A slab wider than the disc gets a wall all round: a prism over the disc.
    const Tried slab = tried({step("b", "box", {{"size", {1, 1, 0.03}}, {"along_x", 40}, {"along_y", 40}})});
    const auto prism = surface.trimmed(slab.mesh("b"), {});
    REQUIRE(sound(prism.mesh));
    CHECK_FALSE(prism.refused);
    const Measures m = measure(prism.mesh);
    CHECK(m.closed);
    CHECK(m.turned_edges == 0);
    CHECK(*m.volume == Approx(area * 0.03).epsilon(2e-3));
    // Bars across it get a cap at either end; each is as long as its chord.
    double chords = 0;
    Array<Mesh> bars;
    for (const double y : {-0.2, 0.05, 0.3}) {
        const Tried bar = tried({step("b", "box", {{"size", {2, 0.01, 0.02}}, {"along_x", 25}}),
                                 step("t", "transform", {{"move", {0, y, 0}}})});
        bars.push_back(bar.mesh("t"));
        chords += 2 * std::sqrt(0.16 - y * y);
    }
    const auto cut = surface.trimmed(joined_meshes(bars), {});
    const Measures three = measure(cut.mesh);
    CHECK(three.closed);
    CHECK(three.pieces == 3);
    // In one piece each, their long edges come in and go out again.
    const Tried whole = tried({step("b", "box", {{"size", {2, 0.01, 0.02}}})});
    const Measures one = measure(surface.trimmed(whole.mesh("b"), {}).mesh);
    CHECK(one.closed);
    CHECK(*one.volume == Approx(2 * 0.4 * 0.01 * 0.02).epsilon(2e-3));
    CHECK(*three.volume == Approx(chords * 0.01 * 0.02).epsilon(2e-3));
}

TEST_CASE("curves are draped by their knots, and end where the UVs do", "[drape]") {
    const auto laid = [](Json knots, const char* trim) {
        return tried(
            recipe_of({step("sheet", "grid", {{"width", 1}, {"depth", 1}, {"across", 64}, {"deep", 4}}),
                       step("curl", "bend", {{"angle", 120}}),
                       step("line", "drawn_curve",
                            {{"plane", "top"}, {"curves", Json::array({{{"knots", knots}}})}, {"in", {{"shape", ""}}}}),
                       step("d", "drape",
                            {{"fit", "size"},
                             {"origin", {-0.5, -0.5, 0}},
                             {"base", "zero"},
                             {"trim", trim},
                             {"in", {{"shape", "line"}, {"onto", "curl"}}}})}));
    };
    // Along the bend: all knots lie on the cylinder's line, as far apart along it as they were flat.
    const Json inside = Json::array({{{"at", {-0.4, 0.1}}}, {{"at", {-0.1, 0.1}}}, {{"at", {0.3, 0.1}}}});
    const Tried on = laid(inside, "cut");
    REQUIRE(on.step("d").shape->curves.size() == 1);
    const auto& knots = on.step("d").shape->curves[0].knots;
    REQUIRE(knots.size() == 3);
    const double radius = 1 / glm::radians(120.0);
    for (std::size_t i = 0; i + 1 < 3; ++i) {
        const double flat = i == 0 ? 0.3 : 0.4, chord = glm::distance(DVec3(knots[i].at), DVec3(knots[i + 1].at));
        CHECK(chord == Approx(2 * radius * std::sin(flat / radius / 2)).epsilon(2e-3));
    }
    const Json over = Json::array({{{"at", {-0.4, 0.1}}}, {{"at", {0.4, 0.1}}}, {{"at", {0.9, 0.1}}}});
    const Tried cut = laid(over, "cut");
    CHECK(cut.finding("d", "curves-missed"));
    CHECK(cut.step("d").shape->curves[0].knots.size() == 2);
    CHECK(laid(over, "keep").step("d").shape->curves[0].knots.size() == 3);
}

TEST_CASE("UVs that leave the square, lie edge-on or are stretched are told", "[uv][findings]") {
    // A sheet leaning by 60 degrees and seen from above is twice as long as its picture one way and as long the other:
    // by its mean scale, the square root of 2, it is stretched and squeezed by that root.
    const auto leaning = [](double angle, Json settings) {
        settings["scale"] = "real";
        return tried({step("g", "grid", {{"across", 4}, {"deep", 4}}),
                      step("t", "transform", {{"turn", {angle, 0, 0}}}), step("m", "uv", settings)});
    };
    const UvCheck check = checked_uvs(leaning(60, {}).mesh("m"), 1.4);
    CHECK(check.stretch == Approx(std::sqrt(2.0)).epsilon(1e-4));
    CHECK(check.stretched == 32);
    CHECK(leaning(60, {{"stretch", 1.4}}).finding("m", "uvs-stretched"));
    CHECK_FALSE(leaning(60, {{"stretch", 1.5}}).finding("m", "uvs-stretched"));
    CHECK(leaning(90, {}).finding("m", "uvs-flat"));
    // One scale for all is no stretch, however large.
    const Tried box = tried({step("b", "box"), step("m", "uv", {{"by", "box"}})});
    CHECK(checked_uvs(box.mesh("m"), 1.001).stretched == 0);
    CHECK_FALSE(box.finding("m", "uvs-outside"));
    // Round a cylinder the faces at the seam go on beyond 1.
    const Tried tube =
        tried({step("c", "cylinder", {{"segments", 24}}), step("turned", "transform", {{"turn", {0, 0, 7}}}),
               step("m", "uv", {{"by", "cylinder"}})});
    REQUIRE(tube.finding("m", "uvs-outside"));
    CHECK(checked_uvs(tube.mesh("m"), 0).high.x > 1);
}

TEST_CASE("draped points are the same for any number of threads", "[drape]") {
    const DrapeSurface surface(shell(0.5, 64));
    const Mesh pattern = make_grid(1, 1, 300, 300);
    DrapeSurface::Options options;
    options.origin = {-0.5, -0.5, 0};
    const auto run = [&](int threads) {
        const tbb::global_control limit(tbb::global_control::max_allowed_parallelism,
                                        static_cast<std::size_t>(threads));
        return surface.draped(*pattern.positions, options).points;
    };
    CHECK(run(1) == run(2));
}

TEST_CASE("tiles whose borders match are told from those that do not", "[tile]") {
    const Tried good = tried({step("t", "grid", {{"across", 6}, {"deep", 4}}), step("check", "check_tile")});
    CHECK(good.finding("check", "tile-matches"));
    CHECK_FALSE(good.finding("check", "tile-differs"));
    // One border point moved: it and the one that waited for it.
    const Tried bad = tried(
        {step("t", "grid", {{"across", 6}, {"deep", 4}}),
         step("pick", "choose",
              {{"what", "vertices"}, {"rule", "ball"}, {"centre", {0.5, 0.25, 0}}, {"radius", 0.01}, {"set", "one"}}),
         step("off", "transform", {{"move", {0, 0, 0.013}}, {"only", "one"}}), step("check", "check_tile")});
    REQUIRE(bad.finding("check", "tile-differs"));
    CHECK(bad.finding("check", "tile-differs")->places.size() == 2);
    CHECK(bad.finding("check", "tile-differs")->text.find("13 mm") != std::string::npos);
}

TEST_CASE("UVs by projection, against the formulas of the projections", "[uv]") {
    const Tried ball =
        tried({step("s", "sphere", {{"radius", 1}, {"origin", "centre"}}), step("m", "uv", {{"by", "sphere"}})});
    const Mesh& mesh = ball.mesh("m");
    const auto& uv = column<Vec2>(mesh, Domain::corner, attribute_name::uv);
    for (Index f = 0; f < mesh.face_count(); ++f) {
        float low = 1e9f, high = -1e9f;
        for (Index c = mesh.topology->face_offsets[f]; c < mesh.topology->face_offsets[f + 1]; ++c) {
            const DVec3 p((*mesh.positions)[mesh.topology->corner_vertex[c]]);
            CHECK(uv[c].y == Approx(0.5 + std::asin(std::clamp(p.z, -1.0, 1.0)) / pi).margin(1e-5));
            if (std::hypot(p.x, p.y) > 1e-6) {
                const double u = std::atan2(p.y, p.x) / (2 * pi);
                CHECK(std::abs(std::remainder(uv[c].x - u, 1.0)) < 1e-5);
            }
            low = std::min(low, uv[c].x), high = std::max(high, uv[c].x);
        }
        CHECK(high - low < 0.5f);  // no face runs back across the picture
    }
    const Tried real =
        tried({step("b", "box", {{"size", {0.4, 0.3, 0.2}}}), step("m", "uv", {{"by", "box"}, {"scale", "real"}})});
    const auto& box = column<Vec2>(real.mesh("m"), Domain::corner, attribute_name::uv);
    const Topology& t = *real.mesh("m").topology;
    for (std::size_t c = 0; c < t.corner_count(); c += 1) {
        const Index next = c % 4 == 3 ? static_cast<Index>(c - 3) : static_cast<Index>(c + 1);
        const double flat = glm::distance(DVec2(box[c]), DVec2(box[next])),
                     true_length = glm::distance(DVec3((*real.mesh("m").positions)[t.corner_vertex[c]]),
                                                 DVec3((*real.mesh("m").positions)[t.corner_vertex[next]]));
        CHECK(flat == Approx(true_length).epsilon(1e-5));
    }
}

TEST_CASE("unwrapping along seams keeps angles and sizes of what can be laid flat", "[uv][unwrap]") {
    // A cylinder's wall cut open is a rectangle: nothing is stretched, whatever the solver.
    const Tried wall = tried(
        {step("c", "cylinder", {{"radius", 0.5}, {"height", 1}, {"segments", 48}, {"levels", 6}, {"caps", "none"}}),
         step("pick", "choose",
              {{"what", "edges"},
               {"rule", "box"},
               {"low", {0.49, -0.001, -1}},
               {"high", {0.51, 0.001, 2}},
               {"set", "cut"}}),
         step("flat", "unwrap", {{"seams", "cut"}, {"by_angle", false}})});
    REQUIRE(wall.clean("flat"));
    CHECK_FALSE(wall.finding("flat", "not-a-disc"));
    const Mesh& mesh = wall.mesh("flat");
    const auto& uv = column<Vec2>(mesh, Domain::corner, attribute_name::uv);
    double least = 1e9, most = 0;
    for (Index c = 0; c < uv.size(); ++c) {
        const Index f = c / 4, next = f * 4 + (c + 1) % 4;
        const double ratio = glm::distance(DVec2(uv[c]), DVec2(uv[next])) /
                             glm::distance(DVec3((*mesh.positions)[mesh.topology->corner_vertex[c]]),
                                           DVec3((*mesh.positions)[mesh.topology->corner_vertex[next]]));
        least = std::min(least, ratio), most = std::max(most, ratio);
        CHECK(uv[c].x >= -1e-6f);
        CHECK(uv[c].y <= 1 + 1e-6f);
    }
    CHECK(most / least < 1.001);
    // A box falls into six squares of one size; a closed ball needs seams.
    const Tried box = tried({step("b", "box", {{"size", {1, 1, 1}}}), step("flat", "unwrap")});
    REQUIRE(box.finding("flat", "unwrapped"));
    CHECK(box.finding("flat", "unwrapped")->text.find("6 pieces") != std::string::npos);
    const Tried ball = tried({step("s", "sphere"), step("flat", "unwrap", {{"by_angle", false}})});
    CHECK(ball.finding("flat", "not-a-disc"));
    const Tried again = tried({step("b", "box", {{"size", {1, 1, 1}}}), step("flat", "unwrap")});
    CHECK(column<Vec2>(again.mesh("flat"), Domain::corner, attribute_name::uv) ==
          column<Vec2>(box.mesh("flat"), Domain::corner, attribute_name::uv));
}

TEST_CASE("blends lie between shapes of one build", "[blend]") {
    const auto with = [](double amount, int segments) {
        return tried({step("low", "cylinder", {{"radius", 0.2}, {"segments", 16}}),
                      step("high", "cylinder", {{"radius", 0.6}, {"segments", segments}, {"in", {{"shape", ""}}}}),
                      step("between", "blend", {{"amount", amount}, {"in", {{"shape", "low"}, {"other", "high"}}}})});
    };
    for (const double amount : {0.0, 0.25, 1.0})
        CHECK(box_of(*with(amount, 16).step("between").shape)->high.x == Approx(0.2 + 0.4 * amount));
    CHECK(with(0.5, 20).finding("between", "unlike-topology"));
}
