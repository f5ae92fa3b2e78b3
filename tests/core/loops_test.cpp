// SPDX-License-Identifier: GPL-3.0-or-later
// Recipes made for every element of a shape, and again and again on their own result.
#include <catch2/catch.hpp>
#include <fmt/format.h>

#include "core/kernels/pieces.h"
#include "core/kernels/real_geometry.h"
#include "core/kernels/take_apart.h"
#include "core/kernels/transform.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

/// A recipe that begins with its given shape.
Json inner(std::initializer_list<Json> steps, const Json& dials = Json::array()) {
    Json all = Json::array({{{"id", "it"}, {"step", "given_shape"}}});
    for (const Json& one : steps) all.push_back(one);
    return {{"bricol", 1}, {"dials", dials}, {"parts", Json::array({{{"name", "one"}, {"steps", all}}})}};
}

Json row_of_boards(int count) {
    return step("row", "array", {{"kind", "straight"}, {"count", count}, {"offset", {0, 0.3, 0}}, {"result", "real"}});
}
Json board() { return step("board", "box", {{"size", {2, 0.2, 0.05}}}); }

/// Every loose piece of a shape with its copies written out, by where it stands along y.
std::vector<MeshPiece> pieces_along_y(const ShapePtr& shape) {
    auto pieces = pieces_of(real_geometry(shape)->mesh);
    std::ranges::sort(pieces, {}, [](const MeshPiece& p) { return p.box.centre().y; });
    return pieces;
}

std::vector<DVec3> points_of(const ShapePtr& shape) {
    const ShapePtr real = real_geometry(shape);
    std::vector<DVec3> out(real->mesh.positions->begin(), real->mesh.positions->end());
    for (const Curve& curve : real->curves)
        for (const Knot& knot : curve.knots) out.emplace_back(knot.at);
    return out;
}

/// Every point of one has one of the other within a two-hundredth of a millimetre.
bool all_near(const std::vector<DVec3>& these, std::vector<DVec3> those) {
    constexpr double within = 5e-6;
    std::ranges::sort(those, {}, &DVec3::x);
    return std::ranges::all_of(these, [&](const DVec3& p) {
        const auto from = std::ranges::lower_bound(those, p.x - within, {}, &DVec3::x),
                   to = std::ranges::upper_bound(those, p.x + within, {}, &DVec3::x);
        return std::any_of(from, to, [&](const DVec3& q) { return glm::distance(p, q) < within; });
    });
}

}  // namespace

TEST_CASE("planks are each a little shorter, by their number among all", "[loops]") {
    const Tried made = tried(
        {board(), row_of_boards(5),
         step("planks", "each",
              {{"kit", inner({step("shorter", "transform", {{"size", {"= 1 - index * 0.1", 1, "= 1 + share"}}})})}})});
    REQUIRE(made.clean("planks"));
    const auto pieces = pieces_along_y(made.step("planks").shape);
    REQUIRE(pieces.size() == 5);
    for (std::size_t i = 0; i < 5; ++i) {
        INFO(i);
        CHECK(pieces[i].box.size().x == Approx(2 * (1 - 0.1 * static_cast<double>(i))).epsilon(1e-6));
        CHECK(pieces[i].box.size().z == Approx(0.05 * (1 + static_cast<double>(i) / 4)).epsilon(1e-6));
        CHECK(pieces[i].box.centre().y == Approx(0.3 * static_cast<double>(i)).margin(1e-6));  // stands where it stood
        CHECK(pieces[i].box.centre().x == Approx(0).margin(1e-6));
    }
    CHECK(made.step("planks").shape->instances.empty());  // all different
}

TEST_CASE("a thousand pieces with alike settings stand as copies of one shape, made once", "[loops]") {
    const Tried made = tried(
        {step("peg", "box", {{"size", {0.1, 0.1, 0.2}}}),
         step("row", "array", {{"kind", "straight"}, {"count", 1000}, {"offset", {0.25, 0, 0}}, {"result", "real"}}),
         step("soft", "each", {{"kit", inner({step("soft_in", "bevel", {{"width", 0.01}})})}})});
    REQUIRE(made.clean("soft"));
    const Shape& shape = *made.step("soft").shape;
    REQUIRE(shape.instances.size() == 1);
    CHECK(shape.instances[0].count() == 1000);
    CHECK(shape.mesh.empty());
    const auto& ids = *shape.instances[0].attributes.values<std::int32_t>(Domain::instance, attribute_name::id);
    CHECK(ids.front() == 0);
    CHECK(ids.back() == 999);
    CHECK(DVec3(shape.instances[0].places[999][3]).x == Approx(0.25 * 999).epsilon(1e-6));
    const Tried one =
        tried({step("peg", "box", {{"size", {0.1, 0.1, 0.2}}}), step("soft", "bevel", {{"width", 0.01}})});
    CHECK(made.part().measures.area == Approx(1000 * one.part().measures.area).epsilon(1e-5));
    CHECK(made.part().measures.volume.value() == Approx(1000 * one.part().measures.volume.value()).epsilon(1e-5));
}

TEST_CASE("a recipe that passes its element on leaves every kind of element where it stood", "[loops][wide]") {
    const Json box = step("a", "rounded_box", {{"size", {1, 0.6, 0.4}}});
    const Json row =
        step("row", "array", {{"kind", "radial"}, {"count", 5}, {"result", "real"}, {"centre", {2, 1, 0}}});
    const Json copies = step("row", "array", {{"kind", "radial"}, {"count", 5}, {"centre", {2, 1, 0}}});
    const Json curve = step("a", "helix", {{"radius", 0.4}, {"turns", 2}});
    struct Kind {
        const char* by;
        std::vector<Json> steps;
    };
    for (const char* place : {"own", "in_place"})
        for (const Kind& kind : std::vector<Kind>{{"piece", {box, row}},
                                                  {"face", {box, row}},
                                                  {"point", {box, row}},
                                                  {"copy", {box, copies}},
                                                  {"curve", {curve}},
                                                  {"point", {curve}}}) {
            INFO(kind.by << ", " << place << ", " << kind.steps.size() << " steps before");
            Json steps = Json::array();
            for (const Json& one : kind.steps) steps.push_back(one);
            const std::string last = kind.steps.back()["id"];
            steps.push_back(step("each", "each", {{"kit", inner({})}, {"by", kind.by}, {"place", place}}));
            const Tried made = tried(recipe_of(steps));
            REQUIRE(made.clean("each"));
            const auto before = points_of(made.step(last).shape), after = points_of(made.step("each").shape);
            CHECK(all_near(before, after));
            CHECK(all_near(after, before));
            if (std::string(kind.by) == "point" || std::string(kind.by) == "curve") continue;
            const Measures was = measured(*real_geometry(made.step(last).shape)),
                           is = measured(*real_geometry(made.step("each").shape));
            CHECK(is.area == Approx(was.area).epsilon(1e-5));
            CHECK(is.faces == was.faces);
        }
}

TEST_CASE("a bracket stands at every third post and the other posts stay", "[loops]") {
    const Tried made = tried(
        {step("post", "box", {{"size", {0.1, 0.1, 1}}}),
         step("row", "array", {{"kind", "straight"}, {"count", 10}, {"offset", {0, 1, 0}}}),
         step("bracketed", "each",
              {{"by", "copy"},
               {"every", 3},
               {"first", 1},
               {"kit", inner({step("arm", "box", {{"size", {0.5, 0.05, 0.05}}}),
                              step("up", "transform", {{"move", {0.3, 0, "= it.made.size.z - 0.1"}}}),
                              Json{{"id", "both"}, {"step", "merge"}, {"in", {{"shape", "it"}, {"with", "up"}}}}})}})});
    REQUIRE(made.clean("bracketed"));
    const auto pieces = pieces_along_y(made.step("bracketed").shape);
    REQUIRE(pieces.size() == 13);
    std::vector<long> arms, posts;
    for (const MeshPiece& piece : pieces)
        (piece.box.size().x > 0.4 ? arms : posts).push_back(std::lround(piece.box.centre().y));
    CHECK(arms == std::vector<long>{1, 4, 7});
    CHECK(posts.size() == 10);
    for (const MeshPiece& piece : pieces)
        if (piece.box.size().x > 0.4) CHECK(piece.box.low.z == Approx(0.9).epsilon(1e-6));
    // Three alike as copies of one, seven left as copies of the other.
    CHECK(made.step("bracketed").shape->instances.size() == 2);
}

TEST_CASE("formulas inside know the element's place, number and attributes", "[loops]") {
    const Tried made = tried(
        {step("ground", "grid", {{"width", 3}, {"depth", 1}, {"across", 3}, {"deep", 1}}),
         step("number", "formula",
              {{"on", "faces"}, {"rows", Json::array({{{"target", "tall"}, {"formula", "0.5 + index * 0.25"}}})}}),
         step("blocks", "each",
              {{"by", "face"},
               {"keep", false},
               {"kit", inner({step("block", "box", {{"size", {"= 0.1 + count * 0.1", 0.2, "= tall"}}}),
                              step("lift", "transform", {{"move", {0, 0, "= each.at.x * 0.1"}}})})}})});
    REQUIRE(made.clean("number"));
    REQUIRE(made.clean("blocks"));
    auto pieces = pieces_of(real_geometry(made.step("blocks").shape)->mesh);
    std::ranges::sort(pieces, {}, [](const MeshPiece& p) { return p.box.centre().x; });
    REQUIRE(pieces.size() == 3);
    for (std::size_t i = 0; i < 3; ++i) {
        const double x = static_cast<double>(i) - 1;  // middles of the cells
        INFO(i);
        CHECK(pieces[i].box.centre().x == Approx(x).margin(1e-6));
        CHECK(pieces[i].box.size().z == Approx(0.5 + 0.25 * static_cast<double>(i)).epsilon(1e-6));
        CHECK(pieces[i].box.low.z == Approx(0.1 * x).margin(1e-6));
        CHECK(std::max(pieces[i].box.size().x, pieces[i].box.size().y) == Approx(0.4).epsilon(1e-6));
    }
}

TEST_CASE("copies keep their own values through a loop", "[loops]") {
    const Tried made =
        tried({step("post", "box"), step("row", "array", {{"kind", "straight"}, {"count", 6}, {"offset", {0, 2, 0}}}),
               step("f", "formula",
                    {{"on", "instances"}, {"rows", Json::array({{{"target", "wear"}, {"formula", "index * 0.1"}}})}}),
               step("e", "each",
                    {{"by", "copy"}, {"every", 2}, {"kit", inner({step("soft_in", "bevel", {{"width", 0.02}})})}})});
    REQUIRE(made.clean("e"));
    const Shape& shape = *made.step("e").shape;
    REQUIRE(shape.instances.size() == 2);  // three left as they were, three bevelled
    for (const Instances& group : shape.instances) {
        const auto* wear = group.attributes.values<float>(Domain::instance, "wear");
        REQUIRE(wear);
        REQUIRE(wear->size() == 3);
        for (std::size_t i = 0; i < 3; ++i) CHECK((*wear)[i] == Approx(group.places[i][3].y / 2 * 0.1f).margin(1e-6));
    }
}

TEST_CASE("a dial of the recipe is turned to the element's number unless it is set", "[loops]") {
    const Json dials = Json::array({{{"name", "index"}, {"value", 2}, {"min", 0}, {"max", 3}, {"whole", true}}});
    const Json kit = inner({step("tall", "transform", {{"size", {1, 1, "= 1 + index"}}})}, dials);
    const Tried turned_by_it = tried({board(), row_of_boards(4), step("e", "each", {{"kit", kit}})});
    REQUIRE(turned_by_it.clean("e"));
    const auto pieces = pieces_along_y(turned_by_it.step("e").shape);
    REQUIRE(pieces.size() == 4);
    for (std::size_t i = 0; i < 4; ++i)
        CHECK(pieces[i].box.size().z == Approx(0.05 * (1 + static_cast<double>(i))).epsilon(1e-5));
    const Tried set = tried({board(), row_of_boards(4), step("e", "each", {{"kit", kit}, {"dials", {{"index", 1}}}})});
    REQUIRE(set.step("e").shape->instances.size() == 1);  // the same number everywhere: copies
    CHECK(set.part().measures.box->size().z == Approx(0.1).epsilon(1e-5));
    // Out of what the dial allows is told, once for all of them.
    const Tried beyond = tried({board(), row_of_boards(7), step("e", "each", {{"kit", kit}})});
    std::size_t told = 0;
    for (const Finding& f : beyond.step("e").findings) told += f.code == "out-of-range-dial";
    CHECK(told == 3);
}

TEST_CASE("nested frames shrink by rounds, kept or not", "[loops]") {
    const auto frames = [](const char* give, int rounds) {
        return tried({step("crate", "box", {{"size", {1, 1, 1}}}),
                      step("nest", "again",
                           {{"rounds", rounds},
                            {"give", give},
                            {"kit", inner({step("half", "transform", {{"size", {0.5, 0.5, 0.5}}})})}})});
    };
    // 1/8 + 1/64 + …: a geometric series.
    CHECK(frames("last", 4).part().measures.volume.value() == Approx(std::pow(1.0 / 8, 4)).epsilon(1e-5));
    CHECK(frames("rounds", 4).part().measures.volume.value() == Approx((1 - std::pow(1.0 / 8, 4)) / 7).epsilon(1e-5));
    CHECK(frames("all", 4).part().measures.volume.value() == Approx(1 + (1 - std::pow(1.0 / 8, 4)) / 7).epsilon(1e-5));
    CHECK(frames("last", 0).part().measures.volume.value() == Approx(1));
}

TEST_CASE("branches double in every round and know which round it is", "[loops]") {
    const Tried made = tried(
        {step("twig", "box", {{"size", {0.1, 0.1, 1}}}),
         step("grown", "again",
              {{"rounds", 5},
               {"kit",
                inner({step("two", "array",
                            {{"kind", "straight"}, {"count", 2}, {"offset", {"= 2 ^ nth", 0, 0}}, {"result", "real"}}),
                       step("higher", "transform", {{"move", {0, 0, "= again.nth / rounds"}}})})}})});
    REQUIRE(made.clean("grown"));
    CHECK(pieces_of(made.mesh("grown")).size() == 32);
    CHECK(made.part().measures.box->size().x == Approx(2 + 4 + 8 + 16 + 32 + 0.1).epsilon(1e-6));
    CHECK(box_of(*made.step("grown").shape)->low.z == Approx((1 + 2 + 3 + 4 + 5) / 5.0).epsilon(1e-6));
}

TEST_CASE("what is wrong in a loop is told once, with where", "[loops]") {
    SECTION("an error inside") {
        const Tried made =
            tried({board(), row_of_boards(4),
                   step("e", "each", {{"kit", inner({step("t", "transform", {{"size", {"= nonsense", 1, 1}}})})}})});
        const Finding* finding = made.finding("e", "inside");
        REQUIRE(finding);
        CHECK(finding->severity == Severity::error);
        CHECK_THAT(finding->text, Catch::Contains("Inside, at one.t:") && Catch::Contains("nonsense") &&
                                      Catch::Contains("(At 4 of 4 pieces, first at 0.)"));
        CHECK(std::ranges::count(made.step("e").findings, "inside", &Finding::code) == 1);
    }
    SECTION("no recipe") {
        const Tried made = tried({board(), step("e", "each")});
        REQUIRE(made.finding("e", "no-kit"));
        CHECK_THAT(made.finding("e", "no-kit")->text, Catch::Contains("No recipe has been chosen"));
        CHECK(made.mesh("e").face_count() == 6);  // nothing is lost
    }
    SECTION("nothing of the kind") {
        const Tried made = tried({board(), step("e", "each", {{"by", "copy"}, {"kit", inner({})}})});
        REQUIRE(made.finding("e", "nothing-to-repeat"));
        CHECK(made.finding("e", "nothing-to-repeat")->text == "There are no copies here to go through.");
        CHECK(made.mesh("e").face_count() == 6);
    }
    SECTION("none taken") {
        const Tried made = tried({board(), step("e", "each", {{"first", 3}, {"kit", inner({})}})});
        REQUIRE(made.finding("e", "nothing-to-repeat"));
        CHECK_THAT(made.finding("e", "nothing-to-repeat")->text, Catch::Contains("None of the 1 pieces"));
    }
    SECTION("a set that is not there") {
        const Tried made = tried({board(), step("e", "each", {{"only", "lid"}, {"kit", inner({})}})});
        CHECK_FALSE(made.step("e").findings.empty());
        CHECK(made.step("e").failed);
    }
    SECTION("rounds that come to nothing") {
        const Tried made =
            tried({board(), step("g", "again",
                                 {{"rounds", 6},
                                  {"kit", inner({step("every", "choose", {{"rule", "all"}, {"set", "every"}}),
                                                 step("gone", "delete", {{"only", "every"}})})}})});
        REQUIRE(made.finding("g", "empty"));
        CHECK_THAT(made.finding("g", "empty")->text, Catch::Contains("in round 1"));
    }
    SECTION("rounds that grow beyond what can be held") {
        const Tried made = tried(
            {board(),
             step("g", "again",
                  {{"rounds", 40},
                   {"kit",
                    inner({step("two", "array",
                                {{"kind", "straight"}, {"count", 2}, {"offset", {1, 0, 0}}, {"result", "real"}})})}})});
        const bool told = std::ranges::any_of(made.step("g").findings, [](const Finding& f) {
            return f.severity == Severity::error && f.text.find("faces") != std::string::npos;
        });
        CHECK(told);
    }
    SECTION("a recipe inside itself") {
        Json kit = inner({});
        for (int depth = 0; depth < 20; ++depth) kit = inner({step("e", "each", {{"kit", kit}})});
        const auto recipe = recipe_from_text(
            Json{{"bricol", 1},
                 {"parts",
                  Json::array({{{"name", "p"}, {"steps", Json::array({board(), step("e", "each", {{"kit", kit}})})}}})}}
                .dump());
        if (recipe)
            CHECK(tried(*recipe).step("e").failed);
        else
            CHECK_THAT(recipe.problem().text(), Catch::Contains("deep"));
    }
}

TEST_CASE("steps are packed into a loop that turns their dial of its name", "[loops][kits]") {
    const Recipe plain =
        recipe_of(Json::array({board(), row_of_boards(4),
                               step("shorter", "transform", {{"size", {"= 1 - index * part_off", 1, 1}}}),
                               step("up", "transform", {{"move", {0, 0, "= index + part_off"}}})}),
                  Json::array({{{"name", "index"}, {"value", 1}, {"min", 0}, {"max", 9}},
                               {{"name", "part_off"}, {"value", 0.1}, {"min", 0}, {"max", 0.2}}}));
    std::string id;
    const auto with_loop = packed(plain, "p", {"shorter"}, "", &id, "each");
    INFO((with_loop ? "" : with_loop.problem().text()));
    REQUIRE(with_loop);
    CHECK(id == "each");
    const Step& loop = *find_step(*with_loop->part("p"), id);
    CHECK(loop.type == "each");
    CHECK(loop.settings["dials"] == Json{{"part_off", "= part_off"}});  // the other one is the loop's own
    const Tried made = tried(*with_loop);
    REQUIRE(made.clean(id));
    const auto pieces = pieces_along_y(made.step(id).shape);
    REQUIRE(pieces.size() == 4);
    for (std::size_t i = 0; i < 4; ++i)
        CHECK(pieces[i].box.size().x == Approx(2 - 0.2 * static_cast<double>(i)).epsilon(1e-5));
    // Steps that make something of their own are made for what stands before them.
    const Recipe begins =
        recipe_of(Json::array({board(), row_of_boards(3), step("knob", "sphere", {{"radius", 0.1}})}));
    const auto knobs = packed(begins, "p", {"knob"}, "Knobs", &id, "each");
    REQUIRE(knobs);
    const Tried on_each = tried(*knobs);
    REQUIRE(on_each.clean("knobs"));
    CHECK(pieces_along_y(on_each.step("knobs").shape).size() == 3);
    CHECK_FALSE(packed(begins, "p", {"knob"}, "", &id, "sphere"));
}

TEST_CASE("elements are alike when they are the same shape somewhere else", "[loops]") {
    const Tried made = tried({board(), row_of_boards(30), step("turned", "transform", {{"turn", {0, 0, 33}}})});
    TakenApart apart = taken_apart(*made.step("turned").shape, {});
    REQUIRE(apart.elements.size() == 30);
    for (const std::size_t first : alike(apart.elements)) CHECK(first == 0);
    CHECK(apart.rest.mesh.empty());
    // One that is a thousandth larger is another one.
    Shape larger = *apart.elements[7].shape;
    larger = transformed(larger, placement(DVec3(0), DVec3(0), DVec3(1.001), DVec3(0)));
    apart.elements[7].shape = std::make_shared<const Shape>(std::move(larger));
    const auto like = alike(apart.elements);
    CHECK(like[7] == 7);
    CHECK(like[8] == 0);
    // So is one whose values differ.
    Shape marked = *apart.elements[9].shape;
    marked.mesh.attributes.set(Domain::face, "wear", Array<float>(6, 0.5f));
    apart.elements[9].shape = std::make_shared<const Shape>(std::move(marked));
    CHECK(alike(apart.elements)[9] == 9);
}

TEST_CASE("each keeps to the copies and the curves of a set, and knows what a curve's knots carry", "[loops]") {
    // Of five copies every second becomes twice as high.
    const Json odd = step("odd", "choose", {{"set", "odd"}, {"what", "instances"}, {"rule", "nth"}, {"n", 2}});
    Json row = row_of_boards(5);
    row["result"] = "instances";
    const Json taller = inner({step("taller", "transform", {{"size", {1, 1, 2}}})});
    const Tried copies =
        tried({board(), row, odd, step("e", "each", {{"by", "copy"}, {"only", "odd"}, {"kit", taller}})});
    REQUIRE(copies.clean("e"));
    const auto pieces = pieces_along_y(copies.step("e").shape);
    REQUIRE(pieces.size() == 5);
    for (std::size_t i = 0; i < 5; ++i) CHECK(pieces[i].box.size().z == Approx(i % 2 == 0 ? 0.1 : 0.05).epsilon(1e-6));
    // Of two lines the one with a knot in the set is moved by the mean of what its knots carry.
    Json second = step("b", "line", {{"from", {0, 1, 0}}, {"to", {4, 1, 0}}});
    second["in"] = {{"shape", ""}};
    Json both = step("both", "merge");
    both["in"] = {{"shape", "a"}, {"with", "b"}};
    const auto rows = [](const char* target, const char* text) {
        return Json::array({{{"target", target}, {"formula", text}}});
    };
    const Tried curves =
        tried({step("a", "line", {{"from", {0, 0, 0}}, {"to", {2, 0, 0}}}), second, both,
               step("heat", "formula", {{"on", "knots"}, {"rows", rows("heat", "x")}}),
               step("far", "choose",
                    {{"set", "far"}, {"what", "knots"}, {"rule", "formula"}, {"rows", rows("chosen", "x > 3")}}),
               step("e", "each",
                    {{"by", "curve"},
                     {"only", "far"},
                     {"kit", inner({step("up", "transform", {{"move", {0, 0, "= each.heat"}}})})}})});
    REQUIRE(curves.clean("e"));
    const auto& lines = curves.step("e").shape->curves;
    REQUIRE(lines.size() == 2);
    for (const Curve& line : lines)
        for (const Knot& knot : line.knots) CHECK(knot.at.z == Approx(knot.at.y > 0.5f ? 2 : 0).margin(1e-6));
    CHECK(tried({board(), row, step("e", "each", {{"by", "copy"}, {"only", "nobody"}, {"kit", taller}})})
              .finding("e", "unknown-set"));
}
