// SPDX-License-Identifier: GPL-3.0-or-later
// The settings of the steps on curves, edges and sets, one by one, against plane geometry and counts.
#include <catch2/catch.hpp>

#include "core/kernels/path.h"
#include "core/shape/sets.h"
#include "core/ground/numbers.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

Json line_of(const char* knots, const char* id = "c") {
    return step(id, "drawn_curve", {{"plane", "top"}, {"curves", Json::parse(knots)}, {"in", {{"shape", ""}}}});
}
double length(const Curve& curve) { return make_path(curve, {}, 64).whole; }
const std::vector<Curve>& curves_of(const Tried& made, const std::string& id) {
    REQUIRE(made.clean(id));
    return made.step(id).shape->curves;
}
std::size_t members(const Tried& made, const std::string& id, Domain domain, const std::string& name) {
    REQUIRE(made.clean(id));
    const auto found = set_members(made.mesh(id), domain, name);
    return found ? count_of(*found) : 0;
}

}  // namespace

TEST_CASE("fillet: corners over an angle, pieces, and own radii replaced", "[steps][curves]") {
    // An L of two metres a side whose corner is rounded by r is shorter by (2 - pi / 2) r.
    const char* corner = R"([{"knots":[{"at":[2,0]},{"at":[0,0]},{"at":[0,2]}]}])";
    const auto rounded = [&](const Json& settings) {
        const Tried made = tried({line_of(corner), step("f", "fillet", settings)});
        return curves_of(made, "f")[0];
    };
    CHECK(length(rounded({{"radius", 0.5}, {"pieces", 128}})) ==
          Approx(4 - (2 - pi / 2) * 0.5).epsilon(1e-4));  // a cubic stands for the arc
    CHECK(length(rounded({{"radius", 0.5}, {"over", 100}})) == Approx(4));
    CHECK(flatten(rounded({{"radius", 0.5}, {"pieces", 5}})).points.size() == 2 + 6);
    CHECK(flatten(rounded({{"radius", 0.5}, {"pieces", 9}})).points.size() == 2 + 10);
    const char* own = R"([{"knots":[{"at":[2,0]},{"at":[0,0],"fillet":0.2},{"at":[0,2]}]}])";
    for (const bool replace : {false, true}) {
        const Tried made =
            tried({line_of(own), step("f", "fillet", {{"radius", 0.5}, {"replace", replace}, {"pieces", 128}})});
        CHECK(length(curves_of(made, "f")[0]) == Approx(4 - (2 - pi / 2) * (replace ? 0.5 : 0.2)).epsilon(1e-4));
    }
}

TEST_CASE("join: within, leading on, pieces of the corner, and closing", "[steps][curves]") {
    const char* square = R"([{"knots":[{"at":[0,0]},{"at":[1,0]}]},{"knots":[{"at":[1,1]},{"at":[1.001,0]}]},
                             {"knots":[{"at":[1,1]},{"at":[0,1]}]},{"knots":[{"at":[0,1]},{"at":[0,0]}]}])";
    const auto joined = [&](const Json& settings) {
        return curves_of(tried({line_of(square), step("j", "join", settings)}), "j");
    };
    CHECK(joined({{"within", 0.0001}}).size() == 1);  // three of the corners meet, the fourth gapes by a millimetre
    CHECK_FALSE(joined({{"within", 0.0001}})[0].closed);
    CHECK(joined({{"within", 0.01}})[0].closed);
    CHECK_FALSE(joined({{"within", 0.01}, {"close", false}})[0].closed);
    const char* apart = R"([{"knots":[{"at":[0,0]},{"at":[0.9,0]}]},{"knots":[{"at":[1,0.1]},{"at":[1,1]}]}])";
    const auto led = [&](const Json& settings) {
        return curves_of(tried({line_of(apart), step("j", "join", settings)}), "j");
    };
    CHECK(led(Json::object()).size() == 2);
    REQUIRE(led({{"reach", 0.2}}).size() == 1);
    CHECK(length(led({{"reach", 0.2}})[0]) == Approx(2));
    const auto round = led({{"reach", 0.2}, {"radius", 0.5}, {"pieces", 7}});
    CHECK(flatten(round[0]).points.size() == 2 + 8);
    CHECK(length(led({{"reach", 0.2}, {"radius", 0.5}, {"pieces", 200}})[0]) ==
          Approx(2 - (2 - pi / 2) * 0.5).epsilon(1e-4));
}

TEST_CASE("resample and smooth_curve: corners kept, handles, rounds, strength, pieces", "[steps][curves]") {
    const char* zigzag = R"([{"knots":[{"at":[0,0]},{"at":[1,1]},{"at":[2,0]},{"at":[3,0.2]},{"at":[4,0]}]}])";
    const auto has = [](const Curve& curve, const DVec3& place) {
        return std::ranges::any_of(curve.knots,
                                   [&](const Knot& k) { return glm::distance(DVec3(k.at), place) < 1e-5; });
    };
    const Tried kept =
        tried({line_of(zigzag), step("r", "resample", {{"by", "length"}, {"longest", 0.3}, {"keep", 60}})});
    CHECK(has(curves_of(kept, "r")[0], {1, 1, 0}));          // turns by 90°
    CHECK_FALSE(has(curves_of(kept, "r")[0], {3, 0.2, 0}));  // by some 23°
    const Tried all =
        tried({line_of(zigzag), step("r", "resample", {{"by", "length"}, {"longest", 0.3}, {"keep", 10}})});
    CHECK(has(curves_of(all, "r")[0], {3, 0.2, 0}));
    const auto evened = [&](const Json& settings) {
        return curves_of(tried({line_of(zigzag), step("s", "smooth_curve", settings)}), "s")[0];
    };
    // One round at full strength puts every inner knot into the middle of its neighbours.
    const Curve even = evened({{"knots", false}, {"rounds", 1}, {"strength", 1}});
    CHECK(has(even, {1, 0, 0}));
    CHECK(has(even, {2, 0.6, 0}));
    CHECK(has(even, {0, 0, 0}));
    const Curve half = evened({{"knots", false}, {"rounds", 1}, {"strength", 0.5}});
    CHECK(has(half, {1, 0.5, 0}));
    CHECK(flatten(evened({{"pieces", 5}})).points.size() == 4 * 5 + 1);
    CHECK(flatten(evened({{"pieces", 20}})).points.size() == 4 * 20 + 1);
    // Handles set by hand stay unless they are to be replaced.
    const char* handled =
        R"([{"knots":[{"at":[0,0]},{"at":[1,0],"kind":"free","in":[0,-1],"out":[0,1]},{"at":[2,0]}]}])";
    const auto reach = [&](bool handles) {
        const Curve curve = curves_of(
            tried({line_of(handled), step("s", "smooth_curve", {{"handles", handles}, {"pieces", 64}})}), "s")[0];
        float high = 0;
        for (const Vec3& p : flatten(curve).points) high = std::max(high, p.y);
        return high;
    };
    CHECK(reach(false) > 0.2f);
    CHECK(reach(true) < 1e-5f);  // three knots in one line
}

TEST_CASE("fill and bar: the side that faces out, curves kept, sections", "[steps][surface]") {
    const Json loop = line_of(R"([{"closed":true,"knots":[{"at":[0,0]},{"at":[0,1]},{"at":[1,1]},{"at":[1,0]}]}])");
    const auto normal_of = [&](const Json& settings) {
        const Tried made = tried({loop, step("f", "fill", settings)});
        const Mesh& mesh = made.mesh("f");
        const auto face = mesh.topology->face(0);
        const auto at = [&](std::size_t i) { return DVec3((*mesh.positions)[face[i]]); };
        return glm::normalize(glm::cross(at(1) - at(0), at(2) - at(1)));
    };
    CHECK(normal_of({{"faces", "own"}}).z == Approx(-1));  // it was drawn clockwise
    CHECK(normal_of({{"faces", "up"}}).z == Approx(1));
    CHECK(normal_of({{"faces", "given"}, {"facing", {0, 0.1, -5}}}).z == Approx(-1));
    CHECK(normal_of({{"faces", "given"}, {"facing", {1, 0, 5}}}).z == Approx(1));
    CHECK(tried({loop, step("f", "fill", {{"keep_curves", true}})}).step("f").shape->curves.size() == 1);
    CHECK(tried({loop, step("f", "fill")}).step("f").shape->curves.empty());
    const Json line = step("l", "line", {{"from", {0, 0, 0}}, {"to", {0, 2, 0}}});
    const Tried round = tried({line, step("b", "bar", {{"width", 0.2}, {"sides", 6}})});
    CHECK(*round.part().measures.volume == Approx(0.5 * 6 * 0.01 * std::sin(pi / 3) * 2));
    const Tried flat = tried({line, step("b", "bar", {{"section", "rectangle"}, {"width", 0.2}, {"height", 0.05}})});
    CHECK(*flat.part().measures.volume == Approx(0.2 * 0.05 * 2));
    CHECK(flat.part().measures.closed);
    CHECK_FALSE(tried({line, step("b", "bar", {{"caps", false}})}).part().measures.closed);
}

TEST_CASE("bevel: what, chosen by, share, profile, hold and only", "[steps][bevel]") {
    // A chamfer of width w takes w² / 2 off every metre of a right-angled edge; four upright edges of a cube.
    const Json upright =
        step("up", "choose",
             {{"set", "up"}, {"what", "edges"}, {"rule", "box"}, {"low", {-1, -1, 0.4}}, {"high", {1, 1, 0.6}}});
    const auto cut = [&](const Json& settings) { return tried({cube, upright, step("b", "bevel", settings)}); };
    const Tried straight = cut({{"width", 0.1}, {"profile", 0}, {"only", "up"}, {"set", "strip"}});
    CHECK(*straight.part().measures.volume == Approx(1 - 4 * 0.01 / 2));
    CHECK(members(straight, "b", Domain::face, "strip") == 4);
    // Round: a square of w less a quarter circle stays cut off.
    const Tried round = cut({{"width", 0.1}, {"profile", 1}, {"segments", 32}, {"only", "up"}});
    CHECK(*round.part().measures.volume == Approx(1 - 4 * 0.01 * (1 - pi / 4)).epsilon(1e-4));
    CHECK(*cut({{"width", 0.1}, {"profile", -1}, {"segments", 32}, {"only", "up"}}).part().measures.volume <
          *straight.part().measures.volume);  // hollow
    // A quarter of the side beside the edge, a metre long.
    CHECK(*cut({{"measure", "share"}, {"share", 25}, {"profile", 0}, {"only", "up"}}).part().measures.volume ==
          Approx(1 - 4 * 0.0625 / 2));
    CHECK(cut({{"by", "angle"}, {"angle", 95}}).part().measures.faces == 6);
    CHECK(cut({{"by", "angle"}, {"angle", 80}, {"width", 0.1}}).part().measures.faces == 6 + 12 + 8);
    CHECK(cut({{"by", "all"}, {"width", 0.1}}).part().measures.faces == 6 + 12 + 8);
    CHECK(cut({{"by", "weight"}, {"width", 0.1}}).part().measures.faces == 6);  // nobody gave any
    // All eight corners cut off alone: a tetrahedron of w³ / 6 each.
    const Tried corners = cut({{"what", "vertices"}, {"width", 0.2}});
    CHECK(*corners.part().measures.volume == Approx(1 - 8 * 0.008 / 6));
    CHECK(corners.part().measures.faces == 14);  // six octagons and eight triangles
    // Bevels that would cross are held at half the side.
    const Tried held = cut({{"width", 0.8}, {"profile", 0}, {"only", "up"}});
    CHECK(held.part().measures.closed);
    CHECK(*held.part().measures.volume >= 1 - 4 * 0.25 / 2 - 1e-6);
    CHECK(held.step("b").findings.size() == 1);
}

TEST_CASE("bridge: the match is turned by points", "[steps][faces]") {
    const Json two = step("up", "transform", {{"move", {0, 0, 2}}, {"in", {{"shape", "a"}}}});
    Json merge = step("m", "merge");
    merge["in"] = {{"shape", "a"}, {"with", "up"}};
    const Json ends =
        step("ends", "choose",
             {{"set", "ends"}, {"what", "faces"}, {"rule", "box"}, {"low", {-1, -1, 0.9}}, {"high", {1, 1, 2.1}}});
    const auto area = [&](int turn) {
        const Tried made = tried({cube, two, merge, ends, step("b", "bridge", {{"only", "ends"}, {"turn", turn}})});
        REQUIRE(made.clean("b"));
        CHECK(made.part().measures.closed);
        return made.part().measures.area;
    };
    CHECK(area(0) == Approx(2 * 5 + 4));  // a straight tunnel of one metre
    CHECK(area(1) < area(0) - 0.1);       // a quarter turn draws the tunnel in
    CHECK(area(4) == Approx(area(0)));    // and all the way round
    CHECK(area(-1) == Approx(area(1)));
}

TEST_CASE("subdivide: creases by angle and their sharpness, corners of borders", "[steps][subdivide]") {
    const auto volume = [](const Json& settings) {
        Json s = {{"levels", 5}};
        s.update(settings);
        return *tried({cube, step("s", "subdivide", s)}).part().measures.volume;
    };
    const double soft = volume(Json::object());
    CHECK(volume({{"crease_by_angle", true}, {"crease", 10}}) == Approx(1));  // sharp for ever: the cube itself
    const double one = volume({{"crease_by_angle", true}, {"crease", 1}}),
                 two = volume({{"crease_by_angle", true}, {"crease", 2}});
    CHECK(soft < one);
    CHECK(one < two);
    CHECK(two < 1);
    CHECK(volume({{"crease_by_angle", true}, {"crease", 10}, {"crease_angle", 100}}) == Approx(soft));
    CHECK(volume({{"scheme", "split_only"}}) == Approx(1));
    const auto sheet = [](bool sharp) {
        return tried({step("a", "grid", {{"width", 1}, {"depth", 1}, {"across", 1}, {"deep", 1}}),
                      step("s", "subdivide", {{"levels", 5}, {"sharp_border", sharp}})})
            .part()
            .measures.area;
    };
    CHECK(sheet(true) == Approx(1));
    // Without sharp corners the border is the closed cubic B-spline of the square, cut in halves five times over (J. M.
    // Lane and R. F. Riesenfeld, "A theoretical development for the computer generation and display of piecewise
    // polynomial surfaces", IEEE PAMI 2, 1980). The curve itself holds 61/90 of it: by Green's theorem, with the
    // spline's own moments.
    std::vector<DVec2> ring = {{0, 0}, {1, 0}, {1, 1}, {0, 1}};
    for (int level = 0; level < 5; ++level) {
        std::vector<DVec2> finer;
        for (std::size_t i = 0, n = ring.size(); i < n; ++i) {
            finer.push_back(ring[i] * 0.75 + (ring[(i + n - 1) % n] + ring[(i + 1) % n]) * 0.125);
            finer.push_back((ring[i] + ring[(i + 1) % n]) * 0.5);
        }
        ring = std::move(finer);
    }
    double twice = 0;
    for (std::size_t i = 0; i < ring.size(); ++i) twice += cross2(ring[i], ring[(i + 1) % ring.size()]);
    CHECK(twice / 2 == Approx(61.0 / 90).epsilon(1e-3));
    CHECK(sheet(false) == Approx(twice / 2).epsilon(1e-6));
}

TEST_CASE("mirror: points near the plane are set onto it, or left", "[steps][copies]") {
    const Json off = step("t", "transform", {{"move", {0.50005, 0, 0}}});
    for (const bool hold : {true, false}) {
        const Tried made = tried({cube, off, step("m", "mirror", {{"axis", "x"}, {"weld", 0.001}, {"hold", hold}})});
        REQUIRE(made.clean("m"));
        CHECK(made.part().measures.closed);
        std::size_t on_plane = 0;
        for (const Vec3& p : *made.mesh("m").positions) on_plane += p.x == 0;
        CHECK(on_plane == (hold ? 4u : 0u));
    }
}

TEST_CASE("choose: grow, everything else, combining, comparing, ridges and grooves", "[steps][sets]") {
    const Json sheet = step("a", "grid", {{"width", 5}, {"depth", 5}, {"across", 5}, {"deep", 5}});
    const Json middle = {{"what", "faces"}, {"rule", "ball"}, {"centre", {0, 0, 0}}, {"radius", 0.1}};
    const auto chosen = [&](const Json& more, std::initializer_list<Json> before = {}) {
        Json steps = Json::array({sheet});
        for (const Json& one : before) steps.push_back(one);
        Json settings = middle;
        settings["set"] = "s";
        settings.update(more);
        steps.push_back(step("c", "choose", settings));
        return members(tried(recipe_of(steps)), "c", Domain::face, "s");
    };
    CHECK(chosen(Json::object()) == 1);
    CHECK(chosen({{"grow", 1}}) > 4);
    CHECK(chosen({{"grow", 9}}) == 25);
    // The inner nine, a round taken off: whichever way neighbours are counted, their middle is left.
    CHECK(chosen({{"rule", "box"}, {"low", {-1.1, -1.1, -1}}, {"high", {1.1, 1.1, 1}}}) == 9);
    CHECK(chosen({{"rule", "box"}, {"low", {-1.1, -1.1, -1}}, {"high", {1.1, 1.1, 1}}, {"grow", -1}}) == 1);
    CHECK(chosen({{"invert", true}}) == 24);
    const Json row =
        step("row", "choose",
             {{"set", "s"}, {"what", "faces"}, {"rule", "box"}, {"low", {-3, -0.4, -1}}, {"high", {3, 0.4, 1}}});
    CHECK(chosen({{"how", "replace"}}, {row}) == 1);
    CHECK(chosen({{"how", "add"}}, {row}) == 5);
    CHECK(chosen({{"how", "take"}}, {row}) == 4);
    CHECK(chosen({{"how", "common"}}, {row}) == 1);
    const Json numbered =
        step("n", "formula", {{"on", "faces"}, {"rows", Json::array({{{"target", "h"}, {"formula", "index"}}})}});
    const auto compared = [&](const Json& more) {
        Json settings = {{"rule", "attribute"}, {"attribute", "h"}, {"limit", 9.5}};
        settings.update(more);
        return chosen(settings, {numbered});
    };
    CHECK(compared({{"than", "above"}}) == 15);
    CHECK(compared({{"than", "below"}}) == 10);
    CHECK(compared({{"than", "between"}, {"upper", 14.5}}) == 5);
    // A step in a sheet: one ridge and one groove along it.
    const Json fold =
        step("f", "points_and_faces",
             {{"points", Json::parse("[[0,0,0],[1,0,0],[1,0,1],[2,0,1],[0,1,0],[1,1,0],[1,1,1],[2,1,1]]")},
              {"faces", Json::parse("[[0,1,5,4],[1,2,6,5],[2,3,7,6]]")}});
    const auto folds = [&](const char* turn) {
        const Tried made =
            tried({fold, step("c", "choose",
                              {{"set", "s"}, {"what", "edges"}, {"rule", "angle"}, {"angle", 30}, {"turn", turn}})});
        return members(made, "c", Domain::edge, "s");
    };
    CHECK(folds("both") == 2);
    CHECK(folds("convex") == 1);
    CHECK(folds("concave") == 1);
}

TEST_CASE("colour and feather: a gradient's range, a set softened under another name", "[steps][sets]") {
    const Json sheet = step("a", "grid", {{"width", 2}, {"depth", 1}, {"across", 20}, {"deep", 1}});
    const Json black_white = Json::parse(R"({"stops":[{"at":0,"colour":[0,0,0]},{"at":1,"colour":[1,1,1]}]})");
    const auto coloured = [&](const Json& more) {
        Json settings = {{"by", "axis"}, {"axis", "x"}, {"gradient", black_white}};
        settings.update(more);
        const Tried made = tried({sheet, step("c", "colour", settings)});
        REQUIRE(made.clean("c"));
        return std::pair{made.mesh("c"), column<Vec4>(made.mesh("c"), Domain::vertex, attribute_name::colour)};
    };
    const auto [fitted, over_all] = coloured(Json::object());
    for (std::size_t v = 0; v < over_all.size(); ++v)
        CHECK(over_all[v].x == Approx(((*fitted.positions)[v].x + 1) / 2).margin(1e-5));
    const auto [given, between] = coloured({{"fit", false}, {"low", -0.5}, {"high", 0.5}});
    for (std::size_t v = 0; v < between.size(); ++v)
        CHECK(between[v].x == Approx(std::clamp((*given.positions)[v].x + 0.5, 0.0, 1.0)).margin(1e-5));
    const Json right =
        step("r", "choose",
             {{"set", "right"}, {"what", "vertices"}, {"rule", "box"}, {"low", {0.01, -1, -1}}, {"high", {2, 1, 1}}});
    const Tried soft =
        tried({sheet, right, step("d", "feather", {{"attribute", "right"}, {"rounds", 8}, {"as", "slope"}})});
    REQUIRE(soft.clean("d"));
    const auto slope = column<float>(soft.mesh("d"), Domain::vertex, "slope");
    CHECK(members(soft, "d", Domain::vertex, "right") == 20);  // the set itself stays
    for (std::size_t v = 0; v < slope.size(); ++v) {
        const float x = (*soft.mesh("d").positions)[v].x;
        if (x < -0.95f) CHECK(slope[v] < 0.05f);
        if (x > 0.95f) CHECK(slope[v] > 0.95f);
    }
    const Tried kept =
        tried({sheet, right,
               step("d", "feather", {{"attribute", "right"}, {"rounds", 8}, {"as", "slope"}, {"only", "right"}})});
    const auto partly = column<float>(kept.mesh("d"), Domain::vertex, "slope");
    for (std::size_t v = 0; v < partly.size(); ++v)
        if ((*kept.mesh("d").positions)[v].x < 0.005f) CHECK(partly[v] == 0);
}
