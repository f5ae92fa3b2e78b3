// SPDX-License-Identifier: GPL-3.0-or-later
// Every step through a recipe, its settings against closed formulas. Areas and volumes: Bronstein and Semendjajew,
// Handbook of Mathematics, elementary geometry.
#include <catch2/catch.hpp>
#include <numbers>

#include "core/files/recipe_file.h"
#include "core/kernels/flatten.h"
#include "core/recipe/edit.h"
#include "tests/support/shapes.h"

using namespace bricol;
using namespace bricol::test;

namespace {

Recipe recipe_with(std::initializer_list<Json> steps) {
    auto recipe =
        recipe_from_text(Json{{"bricol", 1}, {"parts", Json::array({{{"name", "p"}, {"steps", Json(steps)}}})}}.dump());
    INFO((recipe ? "" : recipe.problem().text()));
    REQUIRE(recipe);
    return *recipe;
}

Made made_of(std::initializer_list<Json> steps) { return Maker().make(recipe_with(steps)); }

const Measures& measures(const Made& made) {
    REQUIRE(made.parts[0]);
    CHECK(sound(made.parts[0]->shape->mesh));
    return made.parts[0]->measures;
}

double curve_length(const Made& made) {
    double sum = 0;
    for (const Curve& curve : made.parts[0]->shape->curves) sum += length_of(flatten(curve));
    return sum;
}

/// Area inside a closed plain curve of the front plane, by pulling it straight by one metre.
double curve_area(const Json& curve) {
    Json plane = curve;
    plane["plane"] = "top";
    const Made made = made_of({plane, step("pull", "lathe", {{"angle", 0}, {"rise", 1}, {"segments", 1}})});
    REQUIRE(measures(made).volume);
    return *measures(made).volume;
}

/// Area of a regular polygon with n corners on a circle of radius r.
double polygon_area(int n, double r) { return n / 2.0 * r * r * std::sin(2 * pi / n); }

bool has_code(const Made& made, const std::string& code) {
    for (const auto& s : made.steps[0])
        for (const Finding& f : s->findings)
            if (f.code == code) return true;
    return false;
}

}  // namespace

TEST_CASE("box: size, segments and origin", "[steps]") {
    const Made made =
        made_of({step("b", "box", {{"size", {1, 2, 3}}, {"along_x", 2}, {"along_y", 3}, {"along_z", 4}})});
    const Measures& m = measures(made);
    CHECK(*m.volume == Approx(6));
    CHECK(m.area == Approx(22));
    CHECK(m.faces == 2 * (2 * 3 + 3 * 4 + 2 * 4));
    CHECK(m.box->low.z == Approx(0).margin(1e-6));
    CHECK(measures(made_of({step("b", "box", {{"origin", "centre"}})})).box->low.z == Approx(-0.25));
}

TEST_CASE("grid: a sheet facing up", "[steps]") {
    const Made made = made_of({step("g", "grid", {{"width", 3}, {"depth", 2}, {"across", 5}, {"deep", 7}})});
    CHECK(measures(made).area == Approx(6));
    CHECK(measures(made).faces == 35);
    CHECK(measures(made).border_edges == 24);
    const Mesh& mesh = made.parts[0]->shape->mesh;
    const auto face = mesh.topology->face(0);
    const Vec3 n = glm::cross((*mesh.positions)[face[1]] - (*mesh.positions)[face[0]],
                              (*mesh.positions)[face[2]] - (*mesh.positions)[face[0]]);
    CHECK(n.z > 0);
}

TEST_CASE("cylinder: caps as asked", "[steps]") {
    const struct {
        const char* caps;
        std::size_t faces;
        bool closed;
    } kinds[] = {{"face", 24 * 2 + 2, true},
                 {"fan", 24 * 2 + 48, true},
                 {"rings", 24 * 2 + 24 * 3 * 2, true},
                 {"none", 48, false}};
    for (const auto& kind : kinds) {
        INFO(kind.caps);
        const Made made = made_of({step(
            "c", "cylinder",
            {{"radius", 0.3}, {"height", 0.8}, {"segments", 24}, {"levels", 2}, {"caps", kind.caps}, {"rings", 3}})});
        const Measures& m = measures(made);
        CHECK(m.faces == kind.faces);
        CHECK(m.closed == kind.closed);
        if (kind.closed) CHECK(*m.volume == Approx(polygon_area(24, 0.3) * 0.8).epsilon(1e-5));
        CHECK(m.box->size().z == Approx(0.8));
    }
}

TEST_CASE("sphere: rings and slices about a seat on the ground", "[steps]") {
    const Made made = made_of({step("s", "sphere", {{"radius", 0.4}, {"slices", 20}, {"rings", 10}})});
    CHECK(measures(made).faces == 200);
    CHECK(measures(made).vertices == 20 * 9 + 2);
    CHECK(measures(made).box->low.z == Approx(0).margin(1e-6));
    CHECK(measures(made).box->high.z == Approx(0.8));
    CHECK(measures(made).euler == 2);
}

TEST_CASE("torus: sizes, and a finding when it crosses itself", "[steps]") {
    const Made made =
        made_of({step("t", "torus", {{"radius", 0.5}, {"tube", 0.1}, {"ring_segments", 30}, {"tube_segments", 12}})});
    CHECK(measures(made).faces == 360);
    CHECK(measures(made).euler == 0);
    CHECK(measures(made).box->size().x == Approx(1.2).epsilon(1e-4));
    // A polygon turned as a polygon keeps Pappus up to the ring's own sin(x)/x.
    const double x = 2 * pi / 30;
    CHECK(*measures(made).volume == Approx(polygon_area(12, 0.1) * 2 * pi * 0.5 * std::sin(x) / x).epsilon(1e-4));
    CHECK(has_code(made_of({step("t", "torus", {{"radius", 0.1}, {"tube", 0.2}})}), "crossing"));
}

TEST_CASE("line: length and pieces", "[steps]") {
    const Made made = made_of({step("l", "line", {{"from", {1, 2, 3}}, {"to", {1, 6, 6}}, {"pieces", 4}})});
    CHECK(curve_length(made) == Approx(5));
    CHECK(made.parts[0]->shape->curves[0].knots.size() == 5);
    CHECK(has_code(made_of({step("l", "line", {{"to", {0, 0, 0}}})}), "no-length"));
}

TEST_CASE("circle and arc: lengths converge to the circle's", "[steps]") {
    CHECK(curve_length(made_of({step("c", "circle", {{"radius", 0.7}, {"segments", 512}})})) ==
          Approx(2 * pi * 0.7).epsilon(1e-3));
    CHECK(curve_area(step("c", "circle", {{"radius", 0.7}, {"segments", 512}})) == Approx(pi * 0.49).epsilon(1e-3));
    for (const double angle : {-300.0, -90.0, 10.0, 180.0, 359.0})
        CHECK(curve_length(
                  made_of({step("a", "arc", {{"radius", 2}, {"from", 33}, {"angle", angle}, {"segments", 400}})})) ==
              Approx(2 * std::abs(angle) * pi / 180).epsilon(1e-3));
    const Made quarter =
        made_of({step("a", "arc", {{"radius", 2}, {"from", 0}, {"angle", 90}, {"across", 1}, {"up", 3}})});
    const Curve& arc = quarter.parts[0]->shape->curves[0];
    CHECK(glm::distance(arc.knots.front().at, Vec3(3, 0, 3)) < 1e-5f);
    CHECK(glm::distance(arc.knots.back().at, Vec3(1, 0, 5)) < 1e-5f);
}

TEST_CASE("rectangle: the corner radius takes (4 - pi) r^2 away", "[steps]") {
    CHECK(curve_area(step("r", "rectangle", {{"width", 2}, {"height", 1}})) == Approx(2).epsilon(1e-6));
    for (const double r : {0.1, 0.3, 0.5})
        CHECK(curve_area(step("r", "rectangle", {{"width", 2}, {"height", 1}, {"corner", r}, {"pieces", 64}})) ==
              Approx(2 - (4 - pi) * r * r).epsilon(1e-3));
    CHECK(has_code(made_of({step("r", "rectangle", {{"corner", 0.4}})}), "held-rounding"));
}

TEST_CASE("polygon and star: areas", "[steps]") {
    for (const int n : {3, 6, 17})
        CHECK(curve_area(step("p", "polygon", {{"radius", 0.5}, {"sides", n}})) ==
              Approx(polygon_area(n, 0.5)).epsilon(1e-5));
    // A star is 2n triangles with sides R and r and the angle pi/n between them.
    CHECK(curve_area(step("p", "polygon", {{"radius", 0.5}, {"inner", 0.2}, {"sides", 5}})) ==
          Approx(10 * 0.5 * 0.5 * 0.2 * std::sin(pi / 5)).epsilon(1e-5));
}

TEST_CASE("drawn curve: planes, sampling and formulas in places", "[steps]") {
    const Json curves = Json::array({{{"knots", {{{"at", {0.1, 0.2}}}, {{"at", {0.4, "= 0.3 + 0.1"}}}}}}});
    const std::pair<const char*, Vec3> planes[] = {
        {"front", {0.4f, 0, 0.4f}}, {"side", {0, 0.4f, 0.4f}}, {"top", {0.4f, 0.4f, 0}}};
    for (const auto& [plane, end] : planes) {
        const Made made = made_of({step("d", "drawn_curve", {{"plane", plane}, {"curves", curves}})});
        CHECK(glm::distance(made.parts[0]->shape->curves[0].knots[1].at, end) < 1e-6f);
    }
    const Json depth = Json::array({{{"knots", {{{"at", {1, 2, 3}}}, {{"at", {4, 5, 6}}}}}}});
    CHECK(glm::distance(made_of({step("d", "drawn_curve", {{"curves", depth}})}).parts[0]->shape->curves[0].knots[0].at,
                        Vec3(1, 3, 2)) < 1e-6f);
}

TEST_CASE("resample: pieces by count, length and tolerance", "[steps]") {
    const Json circle = step("c", "circle", {{"radius", 1}, {"segments", 256}});
    const auto knots = [](const Made& made) { return made.parts[0]->shape->curves[0].knots.size(); };
    CHECK(knots(made_of({circle, step("r", "resample", {{"count", 20}})})) == 20);
    CHECK(knots(made_of({circle, step("r", "resample", {{"by", "length"}, {"longest", 0.5}})})) == 13);
    // A chord over the angle a leaves the circle by r (1 - cos(a/2)).
    const Made fine = made_of({circle, step("r", "resample", {{"by", "tolerance"}, {"tolerance", 0.01}})});
    const double largest = 2 * std::acos(1 - 0.0105);
    CHECK(knots(fine) >= 2 * pi / largest);
    CHECK(knots(fine) <= 4 * pi / largest);
    CHECK(curve_length(made_of({circle, step("r", "resample", {{"count", 8}, {"smoothed", true}})})) ==
          Approx(2 * pi).epsilon(0.03));
}

TEST_CASE("fillet: only corners over the angle, own radii kept", "[steps]") {
    Json curves = Json::array({{{"knots",
                                 {{{"at", {0, 0}}},
                                  {{"at", {1, 0}}},
                                  {{"at", {2, 0.05}}},
                                  {{"at", {2, 1}}},
                                  {{"at", {1, 1}}, {"fillet", 0.2}},
                                  {{"at", {1, 2}}}}}}});
    const Made made = made_of({step("d", "drawn_curve", {{"curves", curves}}), step("f", "fillet", {{"radius", 0.1}})});
    const auto& knots = made.parts[0]->shape->curves[0].knots;
    CHECK(knots[1].fillet == 0);
    CHECK(knots[3].fillet == Approx(0.1));
    CHECK(knots[4].fillet == Approx(0.2));
    const Made replaced = made_of(
        {step("d", "drawn_curve", {{"curves", curves}}), step("f", "fillet", {{"radius", 0.1}, {"replace", true}})});
    CHECK(replaced.parts[0]->shape->curves[0].knots[4].fillet == Approx(0.1));
    CHECK(has_code(made_of({step("d", "drawn_curve", {{"curves", curves}}), step("f", "fillet", {{"radius", 5}})}),
                   "held-rounding"));
}

TEST_CASE("lathe: sides on the axis", "[steps]") {
    // A rectangle 0.4 wide standing 1 off the axis.
    const Json section = step("r", "rectangle", {{"width", 0.4}, {"height", 0.2}, {"across", 1}});
    const auto radius = [&](const char* side) {
        return measures(made_of({section, step("t", "lathe", {{"side", side}, {"segments", 64}})})).box->high.x;
    };
    CHECK(radius("as_drawn") == Approx(1.2));
    CHECK(radius("inner") == Approx(0.4));
    CHECK(radius("outer") == Approx(0.4));
    const Made inner = made_of({section, step("t", "lathe", {{"side", "inner"}, {"segments", 200}})});
    CHECK(measures(inner).euler == 2);  // the hole closed
    CHECK(*measures(inner).volume == Approx(polygon_area(200, 0.4) * 0.2).epsilon(1e-5));
    const Made outer = made_of({section, step("t", "lathe", {{"side", "outer"}, {"segments", 200}})});
    CHECK(*measures(outer).volume == Approx(*measures(inner).volume).epsilon(1e-5));
}

TEST_CASE("lathe: about any axis through any centre the solid is the same", "[steps]") {
    const auto volume = [&](const char* axis, const char* plane, Json centre, double across, double up) {
        const Made made = made_of(
            {step("c", "circle", {{"radius", 0.1}, {"plane", plane}, {"across", across}, {"up", up}, {"segments", 32}}),
             step("t", "lathe", {{"axis", axis}, {"centre", centre}, {"segments", 48}})});
        CHECK(measures(made).closed);
        return *measures(made).volume;
    };
    const double about_z = volume("z", "front", {0, 0, 0}, 0.5, 0);
    CHECK(volume("x", "front", {0, 0, 0}, 0, 0.5) == Approx(about_z).epsilon(1e-5));
    CHECK(volume("y", "top", {0, 0, 0}, 0.5, 0) == Approx(about_z).epsilon(1e-5));
    CHECK(volume("z", "front", {2, 0, 7}, 2.5, 0) == Approx(about_z).epsilon(1e-5));
    CHECK(about_z == Approx(2 * pi * pi * 0.5 * 0.01).epsilon(0.02));
}

TEST_CASE("lathe: works from loose edges, several curves at once, and says what is wrong", "[steps]") {
    const Json two =
        Json::array({{{"knots", {{{"at", {0, 0}}}, {{"at", {0.3, 0}}}, {{"at", {0.3, 1}}}, {{"at", {0, 1}}}}}},
                     {{"knots", {{{"at", {0, 2}}}, {{"at", {0.2, 2}}}, {{"at", {0.2, 3}}}, {{"at", {0, 3}}}}}}});
    const Made made = made_of({step("d", "drawn_curve", {{"curves", two}}), step("t", "lathe")});
    CHECK(measures(made).pieces == 2);
    CHECK(measures(made).closed);
    CHECK(has_code(made_of({step("d", "drawn_curve", {{"curves", two}}), step("t", "lathe", {{"angle", 0}})}),
                   "no-travel"));
    CHECK(has_code(made_of({step("d", "drawn_curve", {{"curves", two}}), step("t", "lathe", {{"turns", 3}})}),
                   "over-turned"));
}

TEST_CASE("transform: order, pivots and mirroring", "[steps]") {
    const Json box = step("b", "box", {{"size", {1, 1, 1}}});
    const Made turned =
        made_of({box, step("t", "transform", {{"turn", {0, 0, 90}}, {"move", {5, 0, 0}}, {"size", {2, 1, 1}}})});
    CHECK(measures(turned).box->size().y == Approx(2).epsilon(1e-5));  // sized along x, then turned
    CHECK(measures(turned).box->centre().x == Approx(5).epsilon(1e-5));
    CHECK(measures(made_of({box, step("t", "transform", {{"whole", 3}, {"about", "base"}})})).box->low.z ==
          Approx(0).margin(1e-5));
    CHECK(measures(made_of({box, step("t", "transform", {{"whole", 3}, {"about", "centre"}})})).box->low.z ==
          Approx(-1).margin(1e-5));
    CHECK(measures(made_of({box, step("t", "transform", {{"whole", 3}, {"about", "point"}, {"pivot", {0, 0, 1}}})}))
              .box->low.z == Approx(-2).margin(1e-5));
    CHECK(*measures(made_of({box, step("t", "transform", {{"size", {-1, 1, 2}}})})).volume == Approx(2));
    CHECK(has_code(made_of({box, step("t", "transform", {{"size", {0, 1, 1}}})}), "no-size"));
}

TEST_CASE("transform: curves keep their roundings in proportion", "[steps]") {
    const Json section =
        step("r", "rectangle", {{"width", 1}, {"height", 1}, {"corner", 0.2}, {"pieces", 32}, {"plane", "top"}});
    const Made made = made_of({section, step("t", "transform", {{"whole", 2}}),
                               step("pull", "lathe", {{"angle", 0}, {"rise", 1}, {"segments", 1}})});
    CHECK(*measures(made).volume == Approx(4 * (1 - (4 - pi) * 0.04)).epsilon(1e-3));
}

TEST_CASE("seat: sides, targets, gap and centring", "[steps]") {
    const Json box = step("b", "box", {{"size", {1, 1, 2}}, {"origin", "centre"}});
    const auto low = [&](Json settings) { return measures(made_of({box, step("s", "seat", settings)})).box->low.z; };
    CHECK(low(Json::object()) == Approx(0).margin(1e-6));
    CHECK(low({{"gap", 0.25}}) == Approx(0.25));
    CHECK(low({{"side", "top"}}) == Approx(-2));
    CHECK(low({{"side", "middle"}}) == Approx(-1));
    CHECK(has_code(made_of({box, step("s", "seat", {{"target", "top"}})}), "nothing-to-sit-on"));
    const Made centred =
        made_of({box, step("m", "transform", {{"move", {3, 4, 0}}}), step("s", "seat", {{"centred", true}})});
    CHECK(measures(centred).box->centre().x == Approx(0).margin(1e-5));
    CHECK(measures(centred).box->centre().y == Approx(0).margin(1e-5));
}

TEST_CASE("mirror: every axis, both sides, cut or not", "[steps]") {
    for (const char* axis : {"x", "y", "z"})
        for (const char* keep : {"high", "low"}) {
            INFO(axis << " " << keep);
            const int a = axis[0] - 'x';
            Json move = {0, 0, 0};
            move[a] = 0.1;
            const Made made =
                made_of({step("b", "sphere", {{"radius", 0.5}, {"origin", "centre"}, {"slices", 24}, {"rings", 12}}),
                         step("t", "transform", {{"move", move}}),
                         step("m", "mirror", {{"axis", axis}, {"cut", true}, {"keep", keep}})});
            CHECK(measures(made).closed);
            CHECK(measures(made).turned_edges == 0);
            CHECK(measures(made).pieces == 1);
            CHECK(*measures(made).volume > 0);
            const double size = measures(made).box->size()[a];
            CHECK(size == Approx(keep == std::string("high") ? 1.2 : 0.8).epsilon(0.02));
        }
}

TEST_CASE("weld: counts, borders only, and faces that vanish", "[steps]") {
    const Json box = step("b", "box", {{"size", {1, 1, 1}}, {"along_x", 4}});
    CHECK(has_code(made_of({box, step("w", "weld")}), "unchanged"));
    const Made made = made_of({box, step("w", "weld", {{"distance", 0.26}})});
    CHECK(has_code(made, "welded"));
    CHECK(has_code(made, "collapsed"));
    CHECK(has_code(made_of({box, step("w", "weld", {{"distance", 0.26}, {"borders", true}})}), "unchanged"));
}

TEST_CASE("flip: all, or only what is inside out", "[steps]") {
    CHECK(*measures(made_of({step("b", "box"), step("f", "flip")})).volume < 0);
    CHECK(*measures(made_of({step("b", "box"), step("f", "flip", {{"which", "inside_out"}})})).volume > 0);
    CHECK(
        *measures(made_of({step("b", "box"), step("f", "flip"), step("g", "flip", {{"which", "inside_out"}})})).volume >
        0);
    CHECK(has_code(made_of({step("g", "grid"), step("f", "flip", {{"which", "inside_out"}})}), "open"));
}

TEST_CASE("merge and from part follow what they take", "[steps]") {
    Json json{{"bricol", 1},
              {"parts",
               {{{"name", "a"}, {"steps", {step("b", "box", {{"size", {1, 1, 1}}})}}},
                {{"name", "c"},
                 {"steps",
                  {step("take", "from_part", {{"part", "a"}}), step("s", "sphere"),
                   step("m", "merge", {{"in", {{"shape", "take"}, {"with", "s"}, {"and", "part:a"}}}})}}}}}};
    Recipe recipe = *recipe_from_text(json.dump());
    Maker maker;
    CHECK(maker.make(recipe).parts[1]->measures.faces == 6 + 512 + 6);
    recipe = *set_setting(recipe, "a", "b", "along_x", 3);
    CHECK(maker.make(recipe).parts[1]->measures.faces == 14 + 512 + 14);
}

TEST_CASE("normals: flat, smooth and by angle", "[steps]") {
    const auto domain = [&](const char* how, double angle) {
        const Made made = made_of({step("c", "cylinder", {{"caps", "face"}, {"segments", 32}}),
                                   step("n", "normals", {{"how", how}, {"angle", angle}})});
        return made.parts[0]->shape->mesh.attributes.find(Domain::vertex, attribute_name::normal) ? "vertex" : "corner";
    };
    CHECK(domain("flat", 40) == std::string("corner"));
    CHECK(domain("smooth", 40) == std::string("vertex"));
    CHECK(domain("angle", 40) == std::string("corner"));
    CHECK(domain("angle", 120) == std::string("vertex"));
}

TEST_CASE("subdivide: refuses what has no smooth surface, with a reason", "[steps]") {
    Json json{{"bricol", 1},
              {"parts",
               {{{"name", "p"},
                 {"steps",
                  {step("a", "grid", {{"across", 1}, {"deep", 1}}),
                   step("u", "transform", {{"turn", {90, 0, 0}}, {"move", {0, -0.5, 0.5}}, {"in", {{"shape", "a"}}}}),
                   step("v", "transform", {{"turn", {-90, 0, 0}}, {"move", {0, -0.5, -0.5}}, {"in", {{"shape", "a"}}}}),
                   step("m", "merge", {{"in", {{"shape", "a"}, {"with", "u"}, {"and", "v"}}}}), step("w", "weld"),
                   step("s", "subdivide")}}}}}};
    const Made made = Maker().make(*recipe_from_text(json.dump()));
    CHECK(made.parts[0]->measures.non_manifold_edges == 1);
    CHECK(has_code(made, "non-manifold"));
    CHECK(made.parts[0]->measures.faces == 3);  // the input passed through
    CHECK(has_code(
        made_of({step("g", "grid", {{"across", 1000}, {"deep", 1000}}), step("s", "subdivide", {{"levels", 8}})}),
        "too-many"));
}
