// SPDX-License-Identifier: GPL-3.0-or-later
// Steps on faces and edges, each setting against what geometry says: areas and volumes of prisms, frustums and regular
// polygons (Bronstein and Semendjajew, Handbook of Mathematics), and counts of faces from Euler's formula.
#include <catch2/catch.hpp>
#include <numbers>

#include "core/kernels/normals.h"
#include "core/shape/selection.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

const Json lid_set = step("lid", "choose", {{"set", "lid"}, {"what", "faces"}, {"rule", "facing"}, {"within", 1}});

std::size_t set_size(const Mesh& mesh, Domain domain, const std::string& name) {
    const auto members = set_members(mesh, domain, name);
    return members ? count_of(*members) : 0;
}

}  // namespace

TEST_CASE("disc: radius, hole, segments, style and rings", "[steps]") {
    const double wedge = 16 * std::sin(2 * pi / 32);  // area of a regular 32-gon on a circle of radius 1
    const Tried whole = tried({step("d", "disc", {{"radius", 2}})});
    CHECK(whole.mesh("d").face_count() == 1);
    CHECK(whole.part().measures.area == Approx(wedge * 4));
    CHECK(tried({step("d", "disc", {{"style", "fan"}})}).mesh("d").face_count() == 32);
    CHECK(tried({step("d", "disc", {{"style", "rings"}, {"rings", 3}})}).mesh("d").face_count() == 96);
    const Tried holed = tried({step("d", "disc", {{"radius", 2}, {"hole", 1}, {"segments", 32}})});
    CHECK(holed.part().measures.area == Approx(wedge * 3));
    CHECK(holed.part().measures.border_edges == 64);
    const Tried six = tried({step("d", "disc", {{"radius", 1}, {"segments", 6}})});
    CHECK(six.part().measures.area == Approx(3 * std::sqrt(3.0) / 2));  // a regular hexagon
}

TEST_CASE("fill: every outline is filled in its own plane, however it lies in space", "[steps]") {
    // A square, a tilted hexagon with a square hole, and an upright triangle, as one set of curves.
    const auto outline = [](const char* id, int sides, double radius) {
        return step(id, "polygon", {{"sides", sides}, {"radius", radius}, {"in", Json::object()}});
    };
    const auto turned = [](const char* id, const DVec3& turn, const DVec3& move) {
        return step(id, "transform", {{"turn", {turn.x, turn.y, turn.z}}, {"move", {move.x, move.y, move.z}}});
    };
    const auto with = [](const char* id, const char* shape, const char* other) {
        return step(id, "merge", {{"in", {{"shape", shape}, {"with", other}}}});
    };
    const Tried made = tried({outline("square", 4, 1), outline("six", 6, 0.5), outline("hole", 4, 0.2),
                              with("holed", "six", "hole"), turned("tilted", {30, 20, 0}, {0, 0, 2}),
                              outline("three", 3, 1), turned("upright", {90, 0, 0}, {3, 0, 0}),
                              with("two", "square", "tilted"), with("all", "two", "upright"), step("f", "fill")});
    // Regular polygons of n sides on a circle of radius r: n r² sin(2 pi / n) / 2.
    const auto area = [](double n, double r) { return n * r * r * std::sin(2 * pi / n) / 2; };
    CHECK(made.part().measures.area == Approx(area(4, 1) + area(6, 0.5) - area(4, 0.2) + area(3, 1)).epsilon(1e-5));
    CHECK(made.part().measures.pieces == 3);
    // The faces' own normals: up, tilted as the outline was, and level.
    const DVec3 tilt = DVec3(placement(DVec3(0), DVec3(30, 20, 0), DVec3(1), DVec3(0)) * glm::dvec4(0, 0, 1, 0));
    std::size_t up = 0, tilted = 0, level = 0;
    const Array<Vec3> normals = face_normals(made.mesh("f"));
    for (const DVec3 n : normals) {
        up += std::abs(n.z) > 1 - 1e-6;
        tilted += std::abs(glm::dot(n, tilt)) > 1 - 1e-6;
        level += std::abs(n.y) > 1 - 1e-6;
    }
    CHECK(up == 1);
    CHECK(tilted >= 8);  // a hole gives triangles
    CHECK(level == 1);
    CHECK(up + tilted + level == normals.size());
}

TEST_CASE("fill_holes: style, size, set and only", "[steps]") {
    const Json open = step("open", "delete", {{"only", "lid"}});
    for (const auto& [style, faces] : {std::pair{"face", 6}, std::pair{"fan", 9}, std::pair{"triangles", 7}}) {
        const Tried t = tried({cube, lid_set, open, step("f", "fill_holes", {{"style", style}, {"set", "new"}})});
        INFO(style);
        CHECK(t.part().measures.closed);
        CHECK(t.part().measures.faces == static_cast<std::size_t>(faces));
        CHECK(*t.part().measures.volume == Approx(1));
        CHECK(set_size(t.mesh("f"), Domain::face, "new") == static_cast<std::size_t>(faces - 5));
    }
    CHECK_FALSE(tried({cube, lid_set, open, step("f", "fill_holes", {{"most_sides", 3}})}).part().measures.closed);
}

TEST_CASE("bridge: two faces become a tunnel of as many rows", "[steps]") {
    const Json between =
        step("ends", "choose",
             {{"set", "ends"}, {"what", "faces"}, {"rule", "box"}, {"low", {-1, -1, 0.9}}, {"high", {1, 1, 3.1}}});
    for (const int rows : {1, 3}) {
        Json merge = step("m", "merge");
        merge["in"] = {{"shape", "a"}, {"with", "up"}};
        const Tried t =
            tried({cube, step("b", "box", {{"size", {1, 1, 1}}}), step("up", "transform", {{"move", {0, 0, 3}}}), merge,
                   between, step("j", "bridge", {{"only", "ends"}, {"segments", rows}, {"set", "tube"}})});
        CHECK(t.part().measures.closed);
        CHECK(t.part().measures.pieces == 1);
        CHECK(*t.part().measures.volume == Approx(4));  // two cubes and the two metres between them
        CHECK(t.part().measures.faces == static_cast<std::size_t>(10 + 4 * rows));
        CHECK(set_size(t.mesh("j"), Domain::face, "tube") == static_cast<std::size_t>(4 * rows));
    }
}

TEST_CASE("inset: width and how, with both sets", "[steps]") {
    const Tried each =
        tried({cube, lid_set,
               step("i", "inset", {{"width", 0.1}, {"only", "lid"}, {"inner_set", "in"}, {"rim_set", "rim"}})});
    const Mesh& mesh = each.mesh("i");
    CHECK(mesh.face_count() == 10);
    CHECK(set_size(mesh, Domain::face, "in") == 1);
    CHECK(set_size(mesh, Domain::face, "rim") == 4);
    CHECK(*each.part().measures.volume == Approx(1));
    const Tried inner =
        tried({cube, lid_set, step("i", "inset", {{"width", 0.1}, {"only", "lid"}, {"inner_set", "in"}}),
               step("k", "delete", {{"only", "in"}, {"which", "keep"}})});
    CHECK(inner.part().measures.area == Approx(0.64));  // (1 - 2 · 0.1)²
    // A patch of two by two quads together keeps its inner edges; each alone gets a ring of its own.
    const Json grid = step("g", "grid", {{"across", 2}, {"deep", 2}});
    CHECK(tried({grid, step("i", "inset", {{"width", 0.1}, {"how", "together"}})}).mesh("i").face_count() == 12);
    CHECK(tried({grid, step("i", "inset", {{"width", 0.1}, {"how", "each"}})}).mesh("i").face_count() == 20);
}

TEST_CASE("cut_loop: cuts and slide across a ring of quads", "[steps]") {
    const auto cut = [](const Json& settings) {
        Json all = {{"places", Json::array({{{"edge", {0.5, 0.5, 0.5}}}})}};
        for (const auto& [key, value] : settings.items()) all[key] = value;
        return tried({cube, step("c", "cut_loop", all)});
    };
    CHECK(cut(Json::object()).mesh("c").face_count() == 10);
    CHECK(cut({{"cuts", 3}}).mesh("c").face_count() == 18);
    CHECK(set_size(cut({{"set", "ring"}}).mesh("c"), Domain::edge, "ring") == 4);
    const auto heights = [](const Tried& t) {
        std::set<float> z;
        for (const Vec3& p : *t.mesh("c").positions) z.insert(std::round(p.z * 1000) / 1000);
        return z;
    };
    CHECK(heights(cut(Json::object())) == std::set<float>{0, 0.5f, 1});
    const std::set<float> slid = heights(cut({{"slide", 0.5}}));
    REQUIRE(slid.size() == 3);
    CHECK((slid.contains(0.75f) || slid.contains(0.25f)));
    CHECK(*cut({{"cuts", 2}}).part().measures.volume == Approx(1));
}

TEST_CASE("cut_loop: new points blend what their edges' ends have, and are in no set of theirs", "[steps]") {
    const Json height = step("w", "attribute", {{"attribute", "w"}, {"by", "axis"}, {"from", 0}, {"to", 1}});
    const Json top =
        step("top", "choose",
             {{"set", "top"}, {"what", "vertices"}, {"rule", "box"}, {"low", {-1, -1, 0.9}}, {"high", {1, 1, 2}}});
    const Json places = Json::array({{{"edge", {0.5, 0.5, 0.5}}}, {{"edge", {0, 0.5, 1}}}});
    const Tried t =
        tried({cube, height, top, step("c", "cut_loop", {{"places", places}, {"cuts", 2}, {"slide", 0.25}})});
    const Mesh& mesh = t.mesh("c");
    const auto* w = mesh.attributes.values<float>(Domain::vertex, "w");
    REQUIRE(w);
    CHECK(mesh.vertex_count() > 8);
    for (std::size_t v = 0; v < mesh.vertex_count(); ++v) {
        INFO(v);
        CHECK((*w)[v] == Approx((*mesh.positions)[v].z).margin(1e-6));
    }
    CHECK(set_size(mesh, Domain::vertex, "top") == 4);
}

TEST_CASE("dissolve_flat: joins what lies in one plane, by angle and set", "[steps]") {
    const Json fine = step("a", "box", {{"size", {1, 1, 1}}, {"along_x", 4}, {"along_y", 4}, {"along_z", 4}});
    const Tried t = tried({fine, step("d", "dissolve_flat")});
    CHECK(t.mesh("d").face_count() == 6);
    CHECK(t.mesh("d").vertex_count() == 8);
    CHECK(*t.part().measures.volume == Approx(1));
    CHECK(tried({fine, lid_set, step("d", "dissolve_flat", {{"only", "lid"}})}).mesh("d").face_count() == 81);
    // Twelve sides turn by 30° each: below the angle they stay.
    const Json drum = step("a", "cylinder", {{"segments", 12}});
    const std::size_t sides = tried({drum}).mesh("a").face_count();
    CHECK(tried({drum, step("d", "dissolve_flat", {{"angle", 20}})}).mesh("d").face_count() <= sides);
    CHECK(tried({drum, step("d", "dissolve_flat", {{"angle", 20}})}).mesh("d").face_count() >= 12);
}

TEST_CASE("edge_weight: what, value and which edges", "[steps]") {
    const auto weights = [](const Json& settings, std::string_view name) {
        const Tried t = tried({cube, step("w", "edge_weight", settings)});
        const auto* column = t.mesh("w").attributes.values<float>(Domain::edge, name);
        REQUIRE(column);
        return std::vector<float>(column->begin(), column->end());
    };
    const auto all = weights({{"value", 0.25}}, attribute_name::bevel);
    CHECK(all == std::vector<float>(12, 0.25f));
    CHECK(weights({{"what", "crease"}, {"sharpness", 3}}, attribute_name::crease) == std::vector<float>(12, 3.0f));
    CHECK(weights({{"by", "angle"}, {"angle", 100}}, attribute_name::bevel) == std::vector<float>(12, 0.0f));
    const Tried some = tried({cube, lid_set, step("w", "edge_weight", {{"only", "lid"}})});
    const auto* column = some.mesh("w").attributes.values<float>(Domain::edge, attribute_name::bevel);
    REQUIRE(column);
    CHECK(std::ranges::count(*column, 1.0f) == 4);
}

TEST_CASE("split_off: parts faces along the border of a set", "[steps]") {
    const Tried t = tried({cube, lid_set, step("s", "split_off", {{"only", "lid"}})});
    CHECK(t.mesh("s").vertex_count() == 12);
    CHECK(t.part().measures.pieces == 2);
    CHECK(t.part().measures.border_edges == 8);
    CHECK(t.part().measures.area == Approx(6));
}

TEST_CASE("triangulate: all faces or those of a set", "[steps]") {
    const Tried all = tried({cube, step("t", "triangulate")});
    CHECK(all.mesh("t").face_count() == 12);
    CHECK(*all.part().measures.volume == Approx(1));
    CHECK(tried({cube, lid_set, step("t", "triangulate", {{"only", "lid"}})}).mesh("t").face_count() == 7);
}

TEST_CASE("slice: across, at, free planes, what is kept and capped", "[steps]") {
    const auto sliced = [](const Json& settings) { return tried({cube, step("s", "slice", settings)}); };
    CHECK(*sliced({{"at", 0.25}}).part().measures.volume == Approx(0.75));
    CHECK(*sliced({{"at", 0.25}, {"keep", "below"}}).part().measures.volume == Approx(0.25));
    CHECK(*sliced({{"across", "x"}, {"at", 0.3}}).part().measures.volume == Approx(0.2));
    CHECK(sliced({{"at", 0.25}, {"keep", "both"}}).part().measures.pieces == 2);
    CHECK(sliced({{"at", 0.25}, {"keep", "edges_only"}}).part().measures.faces == 10);
    CHECK(sliced({{"at", 0.25}, {"cap", false}}).part().measures.border_edges == 4);
    CHECK(set_size(sliced({{"at", 0.25}, {"set", "cut"}}).mesh("s"), Domain::face, "cut") == 1);
    // Through the middle at 45°: half of it stays.
    CHECK(*sliced({{"across", "free"}, {"normal", {1, 0, 1}}, {"point", {0, 0, 0.5}}}).part().measures.volume ==
          Approx(0.5));
}

TEST_CASE("rounded_box: the volume of a box with round edges, its segments and its origin", "[steps]") {
    // Steiner: the inner box, its faces times r, its edges times quarter circles, one ball.
    const double a = 1, b = 0.8, c = 0.6, r = 0.2, x = a - 2 * r, y = b - 2 * r, z = c - 2 * r;
    const double exact =
        x * y * z + 2 * r * (x * y + y * z + z * x) + pi * r * r * (x + y + z) + 4.0 / 3 * pi * r * r * r;
    const Tried t = tried({step("b", "rounded_box", {{"size", {a, b, c}}, {"radius", r}, {"round_segments", 32}})});
    CHECK(t.part().measures.closed);
    CHECK(*t.part().measures.volume == Approx(exact).epsilon(2e-3));
    CHECK(t.part().measures.box->low.z == Approx(0).margin(1e-6));
    for (std::size_t f = 0; f < t.mesh("b").face_count(); ++f) REQUIRE(t.mesh("b").topology->face(f).size() == 4);
    const Tried centred = tried({step("b", "rounded_box", {{"origin", "centre"}, {"segments", {2, 1, 1}}})});
    CHECK(centred.part().measures.box->centre().z == Approx(0).margin(1e-6));
    CHECK(centred.mesh("b").face_count() > tried({step("b", "rounded_box")}).mesh("b").face_count());
}

TEST_CASE("material: from the kit, of one's own, on a set", "[steps]") {
    const Tried kit = tried({cube, step("m", "material", {{"kit", "brass"}})});
    const auto used = materials_of(*kit.step("m").shape);
    REQUIRE(used.size() == 1);
    CHECK(used[0].metallic == 1);
    const Tried own = tried({cube, lid_set,
                             step("m", "material",
                                  {{"kit", "own"},
                                   {"called", "pitch"},
                                   {"colour", {1, 0.5, 0}},
                                   {"metallic", 0.25},
                                   {"roughness", 0.75},
                                   {"transmission", 0.5},
                                   {"ior", 1.33},
                                   {"alpha", 0.5},
                                   {"double_sided", true},
                                   {"only", "lid"}})});
    const auto mine = materials_of(*own.step("m").shape);
    REQUIRE(mine.size() == 1);
    CHECK(mine[0].name == "pitch");
    // sRGB 0.5 is 0.2140 in linear light (IEC 61966-2-1).
    CHECK(mine[0].colour.x == Approx(1));
    CHECK(mine[0].colour.y == Approx(0.21404).epsilon(1e-4));
    CHECK((mine[0].metallic == 0.25f && mine[0].roughness == 0.75f && mine[0].transmission == 0.5f));
    CHECK((mine[0].ior == 1.33f && mine[0].alpha == 0.5f && mine[0].double_sided));
    const auto* numbers = own.mesh("m").attributes.values<std::int32_t>(Domain::face, attribute_name::material);
    REQUIRE(numbers);
    CHECK(std::ranges::count(*numbers, 0) == 5);
}

TEST_CASE("a selection is all, or these, and never anything else", "[shape]") {
    const Selection all, none = Selection::none(), some = Mask{1, 0, 1};
    CHECK((all.all() && all[0] && all[1000000]));
    CHECK((!none.all() && !none[0] && !none[7]));
    CHECK((some[0] && !some[1] && some[2] && !some[3]));
    CHECK(all.mask(3) == Mask{1, 1, 1});
    CHECK(none.mask(3) == Mask{0, 0, 0});
    CHECK(some.mask(5) == Mask{1, 0, 1, 0, 0});
    // An empty set changes nothing; no set changes everything.
    const Json nobody =
        step("n", "choose", {{"set", "nobody"}, {"what", "vertices"}, {"rule", "ball"}, {"centre", {9, 9, 9}}});
    const auto top = [](const Tried& t) { return t.part().measures.box->high.z; };
    CHECK(top(tried({cube, nobody, step("t", "stretch", {{"factor", 2}, {"only", "nobody"}})})) == Approx(1));
}

TEST_CASE("extrude: a sheet grows to both sides, with walls, rows and a back", "[steps]") {
    const Json sheet = step("a", "grid", {{"width", 2}, {"depth", 1}, {"across", 2}, {"deep", 1}});
    const Json both = {{"distance", 0.3}, {"other_way", 0.2}, {"back", true}, {"back_set", "below"}};
    const Tried slab = tried({sheet, step("e", "extrude", both)});
    const Measures& m = slab.part().measures;
    CHECK(m.closed);
    CHECK(*m.volume == Approx(2 * 1 * 0.5));  // a prism: area times height
    CHECK(m.box->low.z == Approx(-0.2));
    CHECK(m.box->high.z == Approx(0.3));
    CHECK(m.area == Approx(2 * 2 + 6 * 0.5));
    CHECK(set_size(slab.mesh("e"), Domain::face, "below") == 2);
    Json rows = both;
    rows["divisions"] = 5;
    const Tried divided = tried({sheet, step("e", "extrude", rows)});
    CHECK(divided.part().measures.faces == 4 + 6 * 5);  // six sides of the border, five rows
    CHECK(*divided.part().measures.volume == Approx(1));
    // One by one every face is a block of its own; along an axis the walls stand straight.
    Json alone = both;
    alone["how"] = "each";
    const Tried blocks = tried({sheet, step("e", "extrude", alone)});
    CHECK(blocks.part().measures.pieces == 2);
    CHECK(*blocks.part().measures.volume == Approx(1));
    const Json leaning = step("t", "transform", {{"turn", {0, 60, 0}}});
    Json along = both;
    along["along"] = "x";
    const Tried leaned = tried({sheet, leaning, step("e", "extrude", along)});
    CHECK(leaned.part().measures.closed);
    // What a pull along a line sweeps is its length times the area seen along it: the sheet's times sin 60°.
    CHECK(std::abs(*leaned.part().measures.volume) == Approx(2 * 0.5 * std::sin(pi / 3)));
    // Faces beside the pulled ones stay where they are.
    const Json one =
        step("one", "choose",
             {{"set", "one"}, {"what", "faces"}, {"rule", "box"}, {"low", {0, -1, -1}}, {"high", {2, 1, 1}}});
    Json part = both;
    part["only"] = "one";
    const Tried half = tried({sheet, one, step("e", "extrude", part)});
    CHECK(half.part().measures.faces == 1 + 6);
    CHECK(half.part().measures.box->low.z == Approx(-0.2));
    // Edges have one way to go.
    const Tried edges = tried({sheet, step("e", "extrude", {{"what", "edges"}, {"distance", 0.1}, {"other_way", 5}})});
    CHECK(edges.part().measures.box->low.z == Approx(0).margin(1e-9));
}

TEST_CASE("extrude: pulled edges are a set that the next pull takes up", "[steps]") {
    const Json pulled = {{"what", "edges"}, {"along", "z"}, {"distance", 0.5}, {"front_set", "rim"}};
    Json again = pulled;
    again["only"] = "rim";
    const Tried tray = tried(
        {step("a", "grid", {{"width", 2}, {"depth", 1}, {"across", 1}, {"deep", 1}}), step("up", "extrude", pulled),
         step("on", "extrude", again),
         step("out", "extrude", {{"what", "edges"}, {"along", "normals"}, {"distance", -0.25}, {"only", "rim"}})});
    // A floor of 2 m², walls of 6 m round it, twice 0.5 m high, and a flange square to them: the faces look into the
    // tray, so outwards is against them.
    CHECK(tray.mesh("on").face_count() == 1 + 4 + 4);
    CHECK(set_size(tray.mesh("on"), Domain::edge, "rim") == 4);
    CHECK(tray.part().measures.faces == 13);
    CHECK(tray.part().measures.box->high.z == Approx(1));
    CHECK(tray.part().measures.box->size().x == Approx(2.5));
}

TEST_CASE("array: formulas ask for its copies and what stays free", "[steps][array]") {
    const Json post = step("post", "box", {{"size", {0.1, 0.1, 1}}});
    const auto asked = [&](const Json& settings) {
        const Tried t = tried({post, step("row", "array", settings),
                               step("t", "transform", {{"move", {"= row.remainder / 2", 0, "= row.copies"}}})});
        const Box box = *t.part().measures.box;
        return std::pair{box.low.x + 0.05, box.low.z};
    };
    // Nine steps of 0.3 m and 0.2 m over in 2.9 m: half of that moves the row to the middle of its length.
    const auto [left, copies] = asked({{"until", "length"}, {"length", 2.9}, {"offset", {0.3, 0, 0}}});
    CHECK(left == Approx(0.1));
    CHECK(copies == Approx(9));
    const auto [none, stretched] =
        asked({{"until", "length"}, {"length", 2.9}, {"offset", {0.3, 0, 0}}, {"stretch", true}});
    CHECK(none == Approx(0).margin(1e-6));
    CHECK(stretched == Approx(10));  // 2.9 / 0.3 is nearer to ten gaps
    CHECK(asked({{"count", 4}}).second == Approx(4));
    CHECK(asked({{"kind", "grid"}, {"counts", {3, 2, 5}}}).second == Approx(30));
    // Longer than the length to fill: the number says so by its sign.
    CHECK(asked({{"until", "length"}, {"length", 1}, {"offset", {1.5, 0, 0}}}).first == Approx(-0.25));
    // Counted in its own sizes the settings alone do not say it; that is told, and nothing is moved.
    const Tried own = tried({post, step("row", "array", {{"until", "length"}, {"measure", "own"}}),
                             step("t", "transform", {{"move", {0, 0, "= row.remainder"}}})});
    CHECK(own.part().measures.box->low.z == Approx(0).margin(1e-6));
    REQUIRE_FALSE(own.step("t").findings.empty());
}
