// SPDX-License-Identifier: GPL-3.0-or-later
// The settings of the steps that make shapes, one by one: volumes, areas and lengths in closed form (Bronstein and
// Semendjajew, Handbook of Mathematics), with the exact factor of regular polygons instead of circles.
#include <catch2/catch.hpp>
#include <numbers>

#include "core/kernels/path.h"
#include "core/shape/sets.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

/// Area of a regular polygon of n corners on a circle of that radius.
double ngon(int n, double radius) { return 0.5 * n * radius * radius * std::sin(2 * pi / n); }

Measures of(std::initializer_list<Json> steps) { return tried(steps).part().measures; }

double length_of_first(const Tried& made, const std::string& id) {
    REQUIRE(made.clean(id));
    REQUIRE_FALSE(made.step(id).shape->curves.empty());
    return make_path(made.step(id).shape->curves[0], {}, 64).whole;
}
std::size_t members(const Mesh& mesh, Domain domain, const std::string& name) {
    const auto found = set_members(mesh, domain, name);
    return found ? count_of(*found) : 0;
}

}  // namespace

TEST_CASE("cone: radii, height, segments, levels and origin", "[steps][solids]") {
    const Measures tip = of({step("c", "cone", {{"radius", 2}, {"height", 3}, {"segments", 12}})});
    CHECK(*tip.volume == Approx(ngon(12, 2) * 3 / 3));
    CHECK(tip.closed);
    CHECK(tip.faces == 13);
    const Measures frustum =
        of({step("c", "cone", {{"radius", 2}, {"top_radius", 1}, {"height", 3}, {"segments", 12}, {"levels", 5}})});
    CHECK(*frustum.volume == Approx(3.0 / 3 * (ngon(12, 2) + ngon(12, 1) + std::sqrt(ngon(12, 2) * ngon(12, 1)))));
    CHECK(frustum.faces == 12 * 5 + 2);
    CHECK(frustum.box->low.z == Approx(0).margin(1e-9));
    const Measures centred = of({step("c", "cone", {{"height", 3}, {"origin", "centre"}})});
    CHECK(centred.box->low.z == Approx(-1.5));
    CHECK(centred.box->high.z == Approx(1.5));
    // On its tip: wider at the top than below.
    CHECK(of({step("c", "cone", {{"radius", 0}, {"top_radius", 1}, {"height", 3}, {"segments", 12}})}).volume ==
          Approx(ngon(12, 1)));
}

TEST_CASE("tube and torus: wall, levels, rings and origin", "[steps][solids]") {
    const Measures tube = of(
        {step("t", "tube",
              {{"radius", 1}, {"wall", 0.25}, {"height", 2}, {"segments", 24}, {"levels", 3}, {"origin", "centre"}})});
    CHECK(*tube.volume == Approx((ngon(24, 1) - ngon(24, 0.75)) * 2));
    CHECK(tube.faces == 24 * 3 * 2 + 24 * 2);
    CHECK(tube.box->high.z == Approx(1));
    CHECK(tube.box->low.z == Approx(-1));
    for (const auto& [origin, low] : {std::pair{"base", 0.0}, {"centre", -0.1}}) {
        const Measures torus = of(
            {step("t", "torus",
                  {{"radius", 1}, {"tube", 0.1}, {"ring_segments", 200}, {"tube_segments", 16}, {"origin", origin}})});
        CHECK(torus.box->low.z == Approx(low).margin(1e-6));
        // Pappus, with the section's own area; the ring of 200 chords takes the last digits.
        CHECK(*torus.volume == Approx(ngon(16, 0.1) * 2 * pi).epsilon(1e-3));
        CHECK(torus.faces == 200 * 16);
    }
}

TEST_CASE("polygon: turn, rounded corners, star and plane", "[steps][curves]") {
    const auto area = [](const Json& settings) { return of({step("p", "polygon", settings), step("f", "fill")}).area; };
    CHECK(area({{"radius", 1}, {"sides", 5}}) == Approx(ngon(5, 1)));
    // A star is 2n triangles between a corner and the next one inside.
    CHECK(area({{"radius", 1}, {"sides", 5}, {"inner", 0.4}}) == Approx(5 * 1 * 0.4 * std::sin(pi / 5)));
    // A rounded corner of a square loses r² (1 - pi / 4).
    CHECK(area({{"radius", std::sqrt(0.5)}, {"sides", 4}, {"corner", 0.2}, {"pieces", 64}}) ==
          Approx(1 - 4 * 0.04 * (1 - pi / 4)).epsilon(1e-4));
    CHECK(area({{"radius", std::sqrt(0.5)}, {"sides", 4}, {"corner", 0.2}, {"pieces", 1}}) ==
          Approx(1 - 4 * 0.04 / 2));  // one piece cuts the corner straight
    const auto width = [](double turn) {
        return of({step("p", "polygon", {{"radius", 1}, {"sides", 4}, {"turn", turn}}), step("f", "fill")})
            .box->size()
            .x;
    };
    CHECK(std::abs(width(45) - width(0)) == Approx(2 - std::sqrt(2.0)));  // on its corner, and on its side
    const Box front = *of({step("p", "polygon", {{"plane", "front"}}), step("f", "fill")}).box;
    CHECK(front.size().y == Approx(0).margin(1e-9));
}

TEST_CASE("helix: taper, handedness, start, axis", "[steps][curves]") {
    const Tried spring =
        tried({step("h", "helix", {{"radius", 0.5}, {"turns", 3}, {"pitch", 0.2}, {"segments", 256}})});
    CHECK(length_of_first(spring, "h") == Approx(3 * std::hypot(2 * pi * 0.5, 0.2)).epsilon(1e-5));
    // A flat spiral from 1 to 3 over four turns: Archimedes' r = 1 + t / (4 pi), its length by the closed integral.
    const Tried spiral = tried(
        {step("h", "helix",
              {{"radius", 1}, {"turns", 4}, {"pitch", 0}, {"taper", true}, {"end_radius", 3}, {"segments", 256}})});
    const double b = 2 / (8 * pi);
    const auto integral = [&](double r) {
        return (r / b * std::sqrt(r * r / (b * b) + 1) + std::asinh(r / b)) * b / 2;
    };
    CHECK(length_of_first(spiral, "h") == Approx(integral(3) - integral(1)).epsilon(1e-5));
    const auto quarter = [](const Json& more) {
        Json settings = {{"radius", 1}, {"turns", 0.25}, {"pitch", 4}};
        settings.update(more);
        const Tried made = tried({step("h", "helix", settings)});
        const auto& knots = made.step("h").shape->curves[0].knots;
        return std::pair{DVec3(knots.front().at), DVec3(knots.back().at)};
    };
    const auto near = [](const DVec3& a, const DVec3& b) { return glm::distance(a, b) < 1e-5; };
    CHECK(near(quarter(Json::object()).second, {0, 1, 1}));
    CHECK(near(quarter({{"left", true}}).second, {0, -1, 1}));
    CHECK(near(quarter({{"from", 180}}).first, {-1, 0, 0}));
    CHECK(near(quarter({{"from", 180}}).second, {0, -1, 1}));
    CHECK(quarter({{"axis", "x"}}).second.x == Approx(1));
    CHECK(quarter({{"axis", "y"}}).second.y == Approx(1));
}

TEST_CASE("hang: spans and their pieces", "[steps][curves]") {
    for (const auto& [pieces, segments] : {std::pair{4, 1}, {4, 8}, {16, 2}}) {
        const Tried rope = tried({step("h", "hang", {{"pieces", pieces}, {"segments", segments}, {"slack", 0.3}})});
        const Curve& curve = rope.step("h").shape->curves[0];
        CHECK(curve.knots.size() == static_cast<std::size_t>(pieces) + 1);
        CHECK(flatten(curve).points.size() == static_cast<std::size_t>(pieces * segments) + 1);
        CHECK(length_of_first(rope, "h") == Approx(2 * 1.3).epsilon(2e-3));
    }
}

TEST_CASE("thicken: sides, rims, sets and only", "[steps][faces]") {
    const Json sheet = step("a", "grid", {{"width", 2}, {"depth", 1}, {"across", 2}, {"deep", 1}});
    const Json one =
        step("one", "choose",
             {{"set", "one"}, {"what", "faces"}, {"rule", "box"}, {"low", {0, -1, -1}}, {"high", {2, 1, 1}}});
    const auto wall = [&](const Json& more) {
        Json settings = {{"thickness", 0.2}, {"outer_set", "out"}, {"inner_set", "in_side"}, {"rim_set", "rim"}};
        settings.update(more);
        return tried({sheet, one, step("t", "thicken", settings)});
    };
    for (const auto& [side, low] : {std::pair{"inward", -0.2}, {"both", -0.1}, {"outward", 0.0}}) {
        const Tried made = wall({{"side", side}});
        INFO(side);
        CHECK(*made.part().measures.volume == Approx(0.4));
        CHECK(made.part().measures.closed);
        CHECK(made.part().measures.box->low.z == Approx(low).margin(1e-7));
        CHECK(made.part().measures.box->size().z == Approx(0.2));
        CHECK(members(made.mesh("t"), Domain::face, "out") == 2);
        CHECK(members(made.mesh("t"), Domain::face, "in_side") == 2);
        CHECK(members(made.mesh("t"), Domain::face, "rim") == 6);
    }
    const Tried open = wall({{"rims", false}});
    CHECK_FALSE(open.part().measures.closed);
    CHECK(open.part().measures.faces == 4);
    // One of two panes of a square metre: both sides, four rims, and the other pane as it was.
    const Tried half = wall({{"only", "one"}});
    CHECK(half.part().measures.area == Approx(2 + 4 * 0.2 + 1));
    CHECK(wall(Json::object()).part().measures.area == Approx(2 * 2 + 6 * 0.2));
}

TEST_CASE("struts: share, depth, sides, borders, panes and sets", "[steps][faces]") {
    const Json sheet = step("a", "grid", {{"width", 2}, {"depth", 1}, {"across", 2}, {"deep", 1}});
    const Json middle =
        step("mid", "choose",
             {{"set", "mid"}, {"what", "edges"}, {"rule", "box"}, {"low", {-0.1, -1, -1}}, {"high", {0.1, 1, 1}}});
    const auto frame = [&](const Json& settings) { return tried({sheet, middle, step("s", "struts", settings)}); };
    const Tried square = frame({{"thickness", 0.1}, {"depth", 0.3}});
    CHECK(square.part().measures.closed);
    CHECK(square.part().measures.box->size().z == Approx(0.3));
    CHECK(frame({{"thickness", 0.1}}).part().measures.box->size().z == Approx(0.1));
    CHECK(members(square.mesh("s"), Domain::face, "bars") == square.mesh("s").face_count());
    const Tried panes = frame({{"thickness", 0.1}, {"keep_faces", true}, {"pane_set", "glass"}, {"bar_set", "lead"}});
    CHECK(members(panes.mesh("s"), Domain::face, "glass") == 2);
    CHECK(members(panes.mesh("s"), Domain::face, "lead") + 2 == panes.mesh("s").face_count());
    const Tried round = frame({{"section", "round"}, {"thickness", 0.1}, {"sides", 5}});
    const Tried finer = frame({{"section", "round"}, {"thickness", 0.1}, {"sides", 20}});
    CHECK(round.mesh("s").face_count() < finer.mesh("s").face_count());
    // One bar of the seven: a tube with a ball at either end, of a length of one and a radius of 0.05.
    const Tried single = frame({{"section", "round"}, {"thickness", 0.1}, {"sides", 20}, {"only", "mid"}});
    CHECK(single.part().measures.box->size().y == Approx(1.1).epsilon(0.01));
    CHECK(single.part().measures.box->size().x == Approx(0.1).epsilon(0.03));
    const Tried inner = frame({{"section", "round"}, {"thickness", 0.1}, {"sides", 20}, {"borders", false}});
    CHECK(inner.part().measures.box->size().x == Approx(0.1).epsilon(0.03));  // only the middle edge has two faces
    // A share of each edge's own length: all edges here are a metre long.
    const Tried shared =
        frame({{"section", "round"}, {"measure", "share"}, {"share", 30}, {"sides", 20}, {"only", "mid"}});
    CHECK(shared.part().measures.box->size().x == Approx(0.3).epsilon(0.03));
}

TEST_CASE("simplify: a count, borders and held faces", "[steps][faces]") {
    const Json ball = step("b", "sphere", {{"radius", 1}, {"slices", 64}, {"rings", 32}});
    const Json top =
        step("top", "choose",
             {{"set", "top"}, {"what", "faces"}, {"rule", "box"}, {"low", {-2, -2, 1.5}}, {"high", {2, 2, 3}}});
    const Tried counted = tried({ball, step("s", "simplify", {{"to", "count"}, {"count", 500}, {"error", 1}})});
    CHECK(counted.mesh("s").face_count() <= 500);
    CHECK(counted.mesh("s").face_count() >= 450);
    CHECK(counted.part().measures.closed);
    const Tried held = tried({ball, top, step("s", "simplify", {{"share", 0.2}, {"error", 1}, {"hold", "top"}})});
    const auto triangles_above = [](const Mesh& mesh) {
        std::size_t sum = 0;
        for (std::size_t f = 0; f < mesh.face_count(); ++f) {
            float low = 9;
            for (const Index v : mesh.topology->face(f)) low = std::min(low, (*mesh.positions)[v].z);
            if (low > 1.5f) sum += mesh.topology->face(f).size() - 2;
        }
        return sum;
    };
    CHECK(triangles_above(held.mesh("s")) == triangles_above(held.mesh("b")));
    const Json sheet = step("b", "grid", {{"across", 32}, {"deep", 32}});
    const auto border = [&](bool hold) {
        return tried({sheet, step("s", "simplify", {{"share", 0.05}, {"error", 1}, {"hold_borders", hold}})})
            .part()
            .measures.border_edges;
    };
    CHECK(border(true) == 4 * 32);
    CHECK(border(false) < 4 * 32);
}

TEST_CASE("sweep: middle, scale, roll, twist by the metre, sharpness and sets of its ends", "[steps][sweep]") {
    const Json path = step("path", "line", {{"from", {0, 0, 0}}, {"to", {0, 2, 0}}});
    const auto swept = [&](const Json& more) {
        Json settings = {{"kind", "rectangle"}, {"width", 0.4}, {"height", 0.2}, {"frames", "up"}};
        settings.update(more);
        return tried({path, step("s", "sweep", settings)});
    };
    const Tried plain = swept({{"start_set", "first"}, {"end_set", "last"}});
    CHECK(*plain.part().measures.volume == Approx(0.4 * 0.2 * 2));
    CHECK(members(plain.mesh("s"), Domain::face, "first") == 1);
    CHECK(members(plain.mesh("s"), Domain::face, "last") == 1);
    CHECK(*swept({{"scale", 3}}).part().measures.volume == Approx(9 * 0.4 * 0.2 * 2));
    CHECK(swept({{"roll", 90}}).part().measures.box->size().z == Approx(0.4));
    // Half a turn a metre is a full turn over two.
    const Json bent = step("path", "line", {{"from", {0, 0, 0}}, {"to", {0, 2, 0}}});
    const Tried twisted =
        tried({bent, step("cut", "resample", {{"by", "count"}, {"count", 33}}),
               step("s", "sweep", {{"kind", "rectangle"}, {"width", 0.4}, {"height", 0.2}, {"twist_each", 180}})});
    CHECK(twisted.part().measures.box->size().z == Approx(2 * std::hypot(0.2, 0.1)).epsilon(0.01));  // its diagonal
    const Tried whole =
        tried({bent, step("cut", "resample", {{"by", "count"}, {"count", 33}}),
               step("s", "sweep", {{"kind", "rectangle"}, {"width", 0.4}, {"height", 0.2}, {"twist", 360}})});
    CHECK(*twisted.part().measures.volume == Approx(*whole.part().measures.volume));
    CHECK(whole.step("s").findings.empty());
    // Without points on the way there are two rings, and a turn between them is lost: told, and cured as told.
    const Tried lost =
        tried({bent, step("s", "sweep", {{"kind", "rectangle"}, {"width", 0.4}, {"height", 0.2}, {"twist", 360}})});
    const Finding* coarse = lost.finding("s", "coarse-twist");
    REQUIRE(coarse);
    const auto advice = coarse->text.find("no piece longer than ");
    REQUIRE(advice != std::string::npos);
    const std::string longest = "= " + coarse->text.substr(advice + 21, coarse->text.size() - advice - 22);
    const Tried cured =
        tried({bent, step("cut", "resample", {{"by", "length"}, {"longest", longest}}),
               step("s", "sweep", {{"kind", "rectangle"}, {"width", 0.4}, {"height", 0.2}, {"twist", 360}})});
    CHECK(cured.step("s").findings.empty());
    // Round a closed path the last piece counts too: here it alone is long, and half the turn falls on it.
    Json knots = Json::array();
    for (int i = 0; i <= 20; ++i) knots.push_back({{"at", Json::array({-2 + 0.2 * i, std::sin(pi * i / 20)})}});
    const Json bow = step(
        "bow", "drawn_curve",
        {{"plane", "top"}, {"curves", Json::array({{{"closed", true}, {"knots", knots}}})}, {"in", {{"shape", ""}}}});
    const Json turning = {{"kind", "rectangle"}, {"width", 0.1}, {"height", 0.05}, {"twist", 360}};
    const Tried last = tried({bow, step("s", "sweep", turning)});
    REQUIRE(last.finding("s", "coarse-twist"));
    double arc = 0;
    for (int i = 0; i < 20; ++i) arc += std::hypot(0.2, std::sin(pi * (i + 1) / 20) - std::sin(pi * i / 20));
    CHECK(last.finding("s", "coarse-twist")->text.find(fmt::format("{:.4g}°", 360 * 4 / (4 + arc))) !=
          std::string::npos);
    CHECK_FALSE(tried({bow, step("cut", "resample", {{"by", "length"}, {"longest", 0.1}}), step("s", "sweep", turning)})
                    .finding("s", "coarse-twist"));
    // What the path cannot keep, a part of a turn, turns nothing and is not called coarse.
    Json partly = turning;
    partly["twist"] = 100;
    CHECK(tried({bow, step("s", "sweep", partly)}).finding("s", "closing-twist"));
    CHECK_FALSE(tried({bow, step("s", "sweep", partly)}).finding("s", "coarse-twist"));
    // A section drawn off the path's line is carried beside it, or over it by its middle.
    const Json section =
        step("sec", "rectangle",
             {{"width", 0.4}, {"height", 0.2}, {"across", 1}, {"plane", "front"}, {"in", {{"shape", ""}}}});
    const auto drawn = [&](bool middle) {
        const Tried made = tried({path, section,
                                  step("s", "sweep",
                                       {{"kind", "curves"},
                                        {"frames", "up"},
                                        {"to_middle", middle},
                                        {"in", {{"shape", "path"}, {"section", "sec"}}}})});
        REQUIRE(made.clean("s"));
        return made.part().measures.box->centre().x;
    };
    CHECK(drawn(true) == Approx(0).margin(1e-6));
    CHECK(std::abs(drawn(false)) == Approx(1));
}

TEST_CASE("a frame along open borders is one solid round each, mitred at its corners", "[steps][sweep]") {
    const Tried made =
        tried({step("a", "grid", {{"width", 3}, {"depth", 3}, {"across", 3}, {"deep", 3}}),
               step("hole", "choose", {{"set", "hole"}, {"rule", "ball"}, {"centre", {0, 0, 0}}, {"radius", 0.1}}),
               step("open", "delete", {{"only", "hole"}}), step("rims", "curve_from_edges"),
               step("bars", "sweep", {{"kind", "rectangle"}, {"width", 0.1}, {"height", 0.05}, {"frames", "up"}})});
    REQUIRE(made.clean("bars"));
    const Measures& m = made.part().measures;
    CHECK(m.closed);
    CHECK(m.pieces == 2);
    // Pappus: the middle of the section goes twelve metres round the sheet and four round the hole.
    CHECK(*m.volume == Approx(0.1 * 0.05 * (12 + 4)));
    CHECK(m.box->size().x == Approx(3 + 0.1));
    CHECK(m.box->size().z == Approx(0.05));
}

TEST_CASE("lathe: caps and what looks sharp", "[steps][lathe]") {
    const Json profile = step("p", "line", {{"from", {1, 0, 0}}, {"to", {1, 0, 2}}});
    const Tried capped = tried({profile, step("l", "lathe", {{"segments", 12}})});
    CHECK(*capped.part().measures.volume == Approx(ngon(12, 1) * 2));  // led to the axis at both ends
    CHECK(capped.part().measures.closed);
    const Tried open = tried({profile, step("l", "lathe", {{"segments", 12}, {"caps", false}})});
    CHECK(open.part().measures.faces == 12);
    CHECK(open.part().measures.border_edges == 24);
    // A profile that turns by 90° looks sharp there below that angle and smooth above it: the normals at the rim part.
    const auto normals_at_rim = [](double smooth) {
        const Json bend =
            step("p", "drawn_curve",
                 {{"plane", "front"},
                  {"curves", Json::parse(R"([{"knots":[{"at":[0,2]},{"at":[1,2]},{"at":[1,0]},{"at":[0,0]}]}])")}});
        const Tried made = tried({bend, step("l", "lathe", {{"segments", 12}, {"smooth", smooth}})});
        const Mesh& mesh = made.mesh("l");
        const auto* normals = mesh.attributes.values<Vec3>(Domain::corner, attribute_name::normal);
        if (!normals) {  // one for each point is all a smooth shape needs
            REQUIRE(mesh.attributes.values<Vec3>(Domain::vertex, attribute_name::normal));
            return std::size_t{1};
        }
        std::set<std::array<int, 3>> seen;
        for (std::size_t c = 0; c < mesh.topology->corner_count(); ++c) {
            const Vec3& p = (*mesh.positions)[mesh.topology->corner_vertex[c]];
            if (glm::distance(p, Vec3(1, 0, 2)) > 1e-5f) continue;
            const Vec3 n = (*normals)[c];
            seen.insert({static_cast<int>(std::lround(n.x * 100)), static_cast<int>(std::lround(n.y * 100)),
                         static_cast<int>(std::lround(n.z * 100))});
        }
        return seen.size();
    };
    CHECK(normals_at_rim(100) == 1);
    CHECK(normals_at_rim(40) == 2);
}

TEST_CASE("loft: through, rows, loop, seam, caps, sharpness and sets of its ends", "[steps][loft]") {
    const auto ring = [](const char* id, double radius, double height) {
        return std::vector<Json>{
            step(id, "circle", {{"radius", radius}, {"segments", 32}, {"plane", "top"}, {"in", {{"shape", ""}}}}),
            step(std::string(id) + "_up", "transform", {{"move", {0, 0, height}}})};
    };
    const auto lofted = [&](const Json& settings) {
        std::vector<Json> steps;
        for (const auto& [id, radius, height] : {std::tuple{"a", 1.0, 0.0}, {"b", 2.0, 1.0}, {"c", 1.0, 2.0}})
            for (Json& one : ring(id, radius, height)) steps.push_back(std::move(one));
        steps.push_back(step("ab", "merge", {{"in", {{"shape", "a_up"}, {"with", "b_up"}}}}));
        steps.push_back(step("abc", "merge", {{"in", {{"shape", "ab"}, {"with", "c_up"}}}}));
        steps.push_back(step("l", "loft", settings));
        return tried(recipe_of(Json(steps)));
    };
    const double one = ngon(32, 1), two = ngon(32, 2);
    const Tried straight = lofted({{"start_set", "floor"}, {"end_set", "lid"}});
    CHECK(
        *straight.part().measures.volume ==
        Approx(2.0 / 3 * (one + two + std::sqrt(one * two))).epsilon(1e-3));  // two frustums; cubics stand for circles
    CHECK(members(straight.mesh("l"), Domain::face, "floor") == 1);
    CHECK(members(straight.mesh("l"), Domain::face, "lid") == 1);
    CHECK(lofted({{"rows", 4}}).part().measures.faces == 32 * 8 + 2);
    CHECK(*lofted({{"rows", 4}}).part().measures.volume == Approx(*straight.part().measures.volume));
    const Tried smooth = lofted({{"through", "smooth"}, {"rows", 16}});
    CHECK(*smooth.part().measures.volume > *straight.part().measures.volume);  // it bulges between
    CHECK(smooth.part().measures.box->high.x == Approx(2).epsilon(0.02));
    for (const auto& [caps, faces] : {std::pair{"both", 2}, {"none", 0}, {"start", 1}, {"end", 1}})
        CHECK(lofted({{"caps", caps}}).part().measures.faces == static_cast<std::size_t>(64 + faces));
    CHECK(lofted({{"closed", true}}).part().measures.faces == 32 * 3);
    CHECK(lofted({{"seam", 5}}).part().measures.area == Approx(straight.part().measures.area));
}

TEST_CASE("thread_points and curve_from_edges: closed, pieces, sets, angle and the mesh kept", "[steps][curves]") {
    const Json box = step("a", "box", {{"size", {1, 1, 1}}});
    const Json lid =
        step("lid", "choose",
             {{"set", "lid"}, {"what", "vertices"}, {"rule", "box"}, {"low", {-1, -1, 0.9}}, {"high", {1, 1, 2}}});
    const auto threaded = [&](const Json& settings) { return tried({box, lid, step("t", "thread_points", settings)}); };
    CHECK(threaded(Json::object()).step("t").shape->curves[0].knots.size() == 8);
    const Tried top = threaded({{"only", "lid"}, {"order", "nearest"}, {"smooth", false}, {"closed", true}});
    CHECK(top.step("t").shape->curves[0].closed);
    CHECK(length_of_first(top, "t") == Approx(4));  // round the lid
    const Tried open = threaded({{"only", "lid"}, {"order", "nearest"}, {"smooth", false}});
    CHECK(length_of_first(open, "t") == Approx(3));
    const auto points = [&](int pieces) {
        return flatten(threaded({{"only", "lid"}, {"pieces", pieces}}).step("t").shape->curves[0]).points.size();
    };
    CHECK(points(4) == 3 * 4 + 1);
    CHECK(points(10) == 3 * 10 + 1);
    const auto edges = [&](const Json& settings) { return tried({box, lid, step("c", "curve_from_edges", settings)}); };
    CHECK(edges({{"which", "sharp"}, {"angle", 80}}).step("c").shape->curves.size() == 12);
    CHECK(edges({{"which", "sharp"}, {"angle", 100}}).step("c").shape->curves.empty());
    CHECK(edges({{"which", "sharp"}, {"keep_mesh", true}}).mesh("c").face_count() == 6);
    CHECK(edges({{"which", "sharp"}}).mesh("c").face_count() == 0);
    const Json rim =
        step("rim", "choose",
             {{"set", "rim"}, {"what", "edges"}, {"rule", "box"}, {"low", {-1, -1, 0.9}}, {"high", {1, 1, 2}}});
    const Tried loop = tried({box, rim, step("c", "curve_from_edges", {{"which", "set"}, {"only", "rim"}})});
    REQUIRE(loop.step("c").shape->curves.size() == 1);
    CHECK(loop.step("c").shape->curves[0].closed);
    CHECK(length_of_first(loop, "c") == Approx(4));
    const Tried rounded =
        tried({box, rim,
               step("c", "curve_from_edges", {{"which", "set"}, {"only", "rim"}, {"smooth", true}, {"pieces", 6}})});
    CHECK(flatten(rounded.step("c").shape->curves[0]).points.size() == 4 * 6);
    CHECK(length_of_first(rounded, "c") > 4);  // a smooth way through the corners swings out
}
