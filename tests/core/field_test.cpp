// SPDX-License-Identifier: GPL-3.0-or-later
// Formulas over whole attributes: against muParser, against plain loops, and what they say when something is wrong.
#include <catch2/catch.hpp>
#include <muParser.h>
#include <tbb/global_control.h>

#include "core/formula/blocks.h"
#include "core/formula/elements.h"
#include "core/formula/formula.h"
#include "tests/support/second_reader.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

/// A formula of x and y over a list of values.
std::vector<double> over(const std::string& text, const std::vector<double>& x, const std::vector<double>& y) {
    const auto program = FieldProgram::compile(text, {});
    INFO(text << ": " << (program ? "" : program.problem().text()));
    REQUIRE(program);
    std::vector<FieldReader> readers;
    for (const std::string& name : program->names()) {
        const std::vector<double>& from = name == "x" ? x : y;
        readers.push_back([&from](std::size_t begin, std::span<double> out) {
            std::copy_n(from.begin() + static_cast<std::ptrdiff_t>(begin), out.size(), out.begin());
        });
    }
    std::vector<double> out(x.size());
    work_out(*program, readers, {}, out);
    return out;
}

}  // namespace

TEST_CASE("every function gives what a second reader gives, alone and over whole attributes",
          "[formula][outside][wide]") {
    // The second reader is muParser with the functions' meanings written out once more.
    std::vector<double> x, y;
    std::mt19937 random(11);
    std::uniform_real_distribution<double> range(-3, 3);
    for (int i = 0; i < 700; ++i) x.push_back(range(random)), y.push_back(range(random));
    std::size_t looked_at = 0;
    for (const FunctionInfo& info : all_functions()) {
        const std::string name(info.name), function = info.call();
        if (name == "random") continue;                  // belongs to the element, not to a number
        if (info.op >= FieldOp::least_of_all) continue;  // belong to all elements; tried by themselves
        std::string inside = function.substr(function.find('(') + 1);
        const auto values =
            1 + std::count(inside.begin(), inside.end(), ',') - (inside.find("…") != std::string::npos ? 1 : 0);
        static const char* const arguments[] = {"x", "y", "x + y", "2.5", "x * y"};
        std::string text = name + "(";
        for (long k = 0; k < values; ++k) text += std::string(k ? ", " : "") + arguments[k];
        text += ")";
        const std::vector<double> field = over(text, x, y);
        for (std::size_t i = 0; i < x.size(); ++i) {
            const auto one =
                evaluate(text, [&](const std::string& n) -> Result<double> { return n == "x" ? x[i] : y[i]; });
            const double second = second_reading(text, {{"x", x[i]}, {"y", y[i]}});
            INFO(text << " at x " << x[i] << " y " << y[i]);
            REQUIRE(static_cast<bool>(one) == std::isfinite(second));
            if (!one) {
                CHECK_FALSE(std::isfinite(field[i]));
            } else {
                CHECK(*one == Approx(second).margin(1e-12));
                CHECK(field[i] == *one);
            }
            ++looked_at;
        }
    }
    CHECK(looked_at > 700 * 20);
}

TEST_CASE("signs bind as in muParser", "[formula][outside]") {
    for (const char* text : {"-x^2",
                             "2^3^2",
                             "x - y - 1",
                             "x / y / 2",
                             "1 + 2 * x ^ 2",
                             "-x * -y",
                             "x < y && y < 2",
                             "x < y || 1 > 2",
                             "x > 0 ? y : -y",
                             "x > 0 ? y > 0 ? 1 : 2 : 3",
                             "2 * -x",
                             "2 ^ -1",
                             "(x + y) * 2",
                             "x == x",
                             "x != y",
                             "1 - -x",
                             "+x",
                             "x <= y",
                             "x >= y",
                             "3 > 2 > 1"}) {
        const std::vector<double> x = {1.5, -2, 0.25}, y = {-0.5, 3, 0.25};
        const std::vector<double> field = over(text, x, y);
        for (std::size_t i = 0; i < x.size(); ++i) {
            mu::Parser parser;
            double a = x[i], b = y[i];
            parser.DefineVar("x", &a);
            parser.DefineVar("y", &b);
            parser.DefineInfixOprt("+", [](double v) { return v; });
            parser.SetExpr(text);
            INFO(text << " at " << a << ", " << b);
            CHECK(field[i] == Approx(parser.Eval()));
        }
    }
}

TEST_CASE("least, most, mean and total look over all elements, one in another too", "[formula]") {
    std::vector<double> x, y;
    for (int i = 0; i < 1001; ++i) x.push_back(i - 300), y.push_back(i % 7);
    const auto all = [&](const std::string& text) {
        const std::vector<double> out = over(text, x, y);
        for (const double value : out) REQUIRE(value == out.front());
        return out.front();
    };
    CHECK(all("least(x)") == -300);
    CHECK(all("most(x)") == 700);
    CHECK(all("mean(x)") == Approx(200));
    CHECK(all("total(x)") == Approx(200.0 * 1001));
    CHECK(all("most(x) - least(x)") == 1000);
    // The variance of 1001 numbers one apart: (n² - 1) / 12.
    CHECK(all("mean((x - mean(x)) ^ 2)") == Approx((1001.0 * 1001 - 1) / 12));
    const std::vector<double> share = over("(x - least(x)) / (most(x) - least(x)) + y - y", x, y);
    for (std::size_t i = 0; i < x.size(); ++i) CHECK(share[i] == Approx(static_cast<double>(i) / 1000));
    CHECK(*evaluate("mean(2 * 3)", [](const std::string&) -> Result<double> { return 0.0; }) == 6);
    // On a shape: a weight stretched over 0 to 1, whatever it was; the same on one thread.
    const auto make = [] {
        return tried(
            {step("g", "grid", {{"across", 60}, {"deep", 40}}),
             step("f", "formula",
                  {{"rows",
                    Json::array({{{"target", "weight"}, {"formula", "x * x + y"}},
                                 {{"target", "weight"},
                                  {"formula", "(weight - least(weight)) / (most(weight) - least(weight))"}}})}})});
    };
    const Tried made = make();
    REQUIRE(made.clean("f"));
    const auto& weight = *made.mesh("f").attributes.values<float>(Domain::vertex, "weight");
    CHECK(*std::ranges::min_element(weight) == 0);
    CHECK(*std::ranges::max_element(weight) == 1);
    tbb::global_control one(tbb::global_control::max_allowed_parallelism, 1);
    CHECK(*make().mesh("f").attributes.values<float>(Domain::vertex, "weight") == weight);
}

TEST_CASE("what cannot be read is told with its column", "[formula]") {
    for (const auto& [text, words] :
         std::vector<std::pair<std::string, std::string>>{{"x +", "stops too early"},
                                                          {"(x", "never closed"},
                                                          {"x y", "sign is missing"},
                                                          {"min()", "another number of values"},
                                                          {"mix(x, 1)", "another number of values"},
                                                          {"* x", "nothing to work on"},
                                                          {"sin x", "brackets"},
                                                          {"x ? 1", "“:” is missing"},
                                                          {"3 parsec", "not a unit"},
                                                          {"", "empty"}}) {
        const auto program = FieldProgram::compile(text, {});
        INFO(text);
        REQUIRE_FALSE(program);
        CHECK(program.problem().text().find(words) != std::string::npos);
    }
}

TEST_CASE("a wave over a grid is the wave, on any number of threads", "[formula]") {
    const auto make = [] {
        return tried(
            {step("g", "grid", {{"across", 100}, {"deep", 60}}),
             step("f", "formula",
                  {{"rows", Json::array({{{"target", "z"}, {"formula", "y + 0.1 * sin(8 * x * 57.29578)"}}})}})});
    };
    const Tried wave = make();
    REQUIRE(wave.clean("f"));
    for (const Vec3& p : *wave.mesh("f").positions)
        CHECK(static_cast<double>(p.z) ==
              Approx(static_cast<double>(p.y) +
                     0.1 * std::sin(8 * static_cast<double>(p.x) * 57.29578 * std::numbers::pi / 180))
                  .margin(1e-6));
    tbb::global_control one(tbb::global_control::max_allowed_parallelism, 1);
    CHECK(*make().mesh("f").positions == *wave.mesh("f").positions);
}

TEST_CASE("rows see places as they came in and attributes as the rows before left them", "[formula]") {
    // A quarter turn by two rows: the second must not see what the first did to x.
    const Tried turned = tried({step("b", "box", {{"size", {2, 1, 1}}}),
                                step("f", "formula",
                                     {{"rows", Json::array({{{"target", "x"}, {"formula", "-y"}},
                                                            {{"target", "y"}, {"formula", "x"}},
                                                            {{"target", "w"}, {"formula", "2"}},
                                                            {{"target", "w"}, {"formula", "w * 3"}},
                                                            {{"target", "_k"}, {"formula", "w + 1"}},
                                                            {{"target", "kept"}, {"formula", "_k"}}})}})});
    REQUIRE(turned.clean("f"));
    const auto &before = *turned.mesh("b").positions, &after = *turned.mesh("f").positions;
    for (std::size_t i = 0; i < before.size(); ++i) {
        CHECK(after[i].x == -before[i].y);
        CHECK(after[i].y == before[i].x);
    }
    CHECK(column<float>(turned.mesh("f"), Domain::vertex, "w")[0] == 6);
    CHECK(column<float>(turned.mesh("f"), Domain::vertex, "kept")[0] == 7);
    CHECK(turned.mesh("f").attributes.find(Domain::vertex, "_k") == nullptr);
}

TEST_CASE("formulas on edges, faces, corners and instances read what is there", "[formula]") {
    const Tried box = tried(
        {step("b", "box", {{"size", {2, 3, 4}}}),
         step("e", "formula", {{"on", "edges"}, {"rows", Json::array({{{"target", "long"}, {"formula", "length"}}})}}),
         step("f", "formula",
              {{"on", "faces"},
               {"rows", Json::array({{{"target", "wide"}, {"formula", "area"}},
                                     {{"target", "up"}, {"formula", "nz > 0.5"}}})}}),
         step("c", "formula",
              {{"on", "corners"}, {"rows", Json::array({{{"target", "u"}, {"formula", "u * 2 + 1"}}})}}),
         step("a", "array", {{"kind", "straight"}, {"count", 4}, {"offset", {3, 0, 0}}}),
         step("i", "formula",
              {{"on", "instances"}, {"rows", Json::array({{{"target", "z"}, {"formula", "index * 0.5"}}})}})});
    for (const char* id : {"e", "f", "c", "i"}) REQUIRE(box.clean(id));
    double edges = 0, faces = 0;
    for (const float v : column<float>(box.mesh("e"), Domain::edge, "long")) edges += static_cast<double>(v);
    for (const float v : column<float>(box.mesh("f"), Domain::face, "wide")) faces += static_cast<double>(v);
    CHECK(edges == Approx(4 * (2 + 3 + 4)));
    CHECK(faces == Approx(2 * (6 + 8 + 12)));
    int up = 0;
    for (const float v : column<float>(box.mesh("f"), Domain::face, "up")) up += v > 0.5f;
    CHECK(up == 1);
    const auto &uv = column<Vec2>(box.mesh("f"), Domain::corner, attribute_name::uv),
               &moved = column<Vec2>(box.mesh("c"), Domain::corner, attribute_name::uv);
    for (std::size_t i = 0; i < uv.size(); ++i) CHECK(moved[i].x == Approx(uv[i].x * 2 + 1));
    const auto& places = box.step("i").shape->instances.at(0).places;
    REQUIRE(places.size() == 4);
    for (std::size_t i = 0; i < 4; ++i) CHECK(places[i][3].z == Approx(0.5 * static_cast<double>(i)));
}

TEST_CASE("random values belong to the element, not to its number in the list", "[formula][scatter]") {
    const auto scattered = [](int count) {
        return tried({step("b", "geodesic_sphere", {{"frequency", 6}}),
                      step("s", "scatter", {{"count", count}, {"seed", 5}}),
                      step("f", "formula", {{"rows", Json::array({{{"target", "r"}, {"formula", "random(3)"}}})}})});
    };
    const Tried few = scattered(40), many = scattered(400);
    const auto &a = column<float>(few.mesh("f"), Domain::vertex, "r"),
               &b = column<float>(many.mesh("f"), Domain::vertex, "r");
    for (std::size_t i = 0; i < a.size(); ++i) CHECK(a[i] == b[i]);
    // The same on a plain mesh: a grid's points keep theirs when others are taken away, and when the whole grid is
    // resized.
    const auto grid = [](double width, bool cut) {
        std::vector<Json> steps = {
            step("g", "grid", {{"width", width}, {"depth", width}, {"across", 10}, {"deep", 10}})};
        if (cut)
            steps.push_back(step("c", "choose",
                                 {{"set", "gone"},
                                  {"rule", "box"},
                                  {"low", {-0.21 * width, -0.21 * width, -1}},
                                  {"high", {0.21 * width, 0.21 * width, 1}}})),
                steps.push_back(step("d", "delete", {{"only", "gone"}}));
        steps.push_back(step("f", "formula", {{"rows", Json::array({{{"target", "r"}, {"formula", "random(1)"}}})}}));
        return tried(recipe_of(Json(steps)));
    };
    const Tried whole = grid(1, false), holed = grid(1, true), large = grid(3, false);
    std::map<std::pair<float, float>, float> known;
    const auto& values = column<float>(whole.mesh("f"), Domain::vertex, "r");
    std::set<float> different(values.begin(), values.end());
    CHECK(different.size() == values.size());
    for (std::size_t i = 0; i < values.size(); ++i)
        known[{(*whole.mesh("f").positions)[i].x, (*whole.mesh("f").positions)[i].y}] = values[i];
    REQUIRE(holed.mesh("f").vertex_count() < whole.mesh("f").vertex_count());
    for (std::size_t i = 0; i < holed.mesh("f").vertex_count(); ++i) {
        const Vec3 p = (*holed.mesh("f").positions)[i];
        CHECK(column<float>(holed.mesh("f"), Domain::vertex, "r")[i] == known.at({p.x, p.y}));
    }
    CHECK(column<float>(large.mesh("f"), Domain::vertex, "r") == values);
}

TEST_CASE("what goes wrong in a row is told at the step, and the other rows still work", "[formula][findings]") {
    const Tried odd = tried({step("b", "box"), step("w", "attribute", {{"attribute", "weight"}, {"value", 0.5}}),
                             step("f", "formula",
                                  {{"rows", Json::array({{{"target", "x"}, {"formula", "x + wieght"}},
                                                         {{"target", "z"}, {"formula", "1 / (x - x)"}},
                                                         {{"target", "index"}, {"formula", "1"}},
                                                         {{"target", "y"}, {"formula", "y * 2"}}})}})});
    const Finding* unknown = odd.finding("f", "unknown-name");
    REQUIRE(unknown);
    CHECK(unknown->text.find("Did you mean “weight”?") != std::string::npos);
    const Finding* infinite = odd.finding("f", "bad-value");
    REQUIRE(infinite);
    CHECK(infinite->text.find("vertex 0 (8 in all)") != std::string::npos);
    CHECK_FALSE(infinite->places.empty());
    REQUIRE(odd.finding("f", "bad-target"));
    // Errors of one row let the step's result through only when nothing failed: the input stands.
    const Tried right = mended(odd, "f", "unknown-name");
    CHECK_FALSE(right.finding("f", "unknown-name"));
    const Tried zero = tried(
        {step("b", "box"), step("f", "formula", {{"rows", Json::array({{{"target", "z"}, {"formula", "sqrt(x)"}}})}})});
    for (std::size_t i = 0; i < 8; ++i) {  // half of them have no root and keep their place
        const Vec3 p = (*zero.mesh("b").positions)[i], q = (*zero.mesh("f").positions)[i];
        CHECK(q.z == (p.x < 0 ? p.z : std::sqrt(p.x)));
    }
    const Tried domain =
        tried({step("b", "box"), step("w", "attribute", {{"attribute", "wear"}, {"on", "faces"}}),
               step("f", "formula", {{"rows", Json::array({{{"target", "z"}, {"formula", "wear"}}})}})});
    const Finding* wrong = domain.finding("f", "wrong-domain");
    REQUIRE(wrong);
    CHECK(wrong->text.find("“wear” stands on every face, not on vertices") != std::string::npos);
}

TEST_CASE("dials and other steps' numbers stand for themselves, attributes before dials", "[formula]") {
    Recipe recipe = recipe_of(
        Json::array({step("b", "box", {{"size", {1, 1, 2}}}),
                     step("w", "attribute", {{"attribute", "lift"}, {"value", 7}}),
                     step("f", "formula",
                          {{"rows", Json::array({{{"target", "z"}, {"formula", "z + rise + b.size.z + frame"}},
                                                 {{"target", "q"}, {"formula", "lift"}}})}})}),
        Json::array({{{"name", "rise"}, {"value", 3}, {"min", 0}, {"max", 10}},
                     {{"name", "lift"}, {"value", 1}, {"min", 0}, {"max", 10}}}));
    MakeOptions options;
    options.environment.surroundings.frame = 10;
    const Tried made = tried(recipe, options);
    REQUIRE(made.clean("f"));
    for (std::size_t i = 0; i < 8; ++i)
        CHECK((*made.mesh("f").positions)[i].z == Approx((*made.mesh("b").positions)[i].z + 3 + 2 + 10));
    CHECK(column<float>(made.mesh("f"), Domain::vertex, "q")[0] == 7);
    // Renaming a step follows into rows.
    const auto renamed = rename_step_id(recipe, "p", "b", "crate");
    REQUIRE(renamed);
    CHECK(find_step(*renamed->part("p"), "f")->settings["rows"][0]["formula"] == "z + rise + crate.size.z + frame");
}

TEST_CASE("wired blocks give the same bytes as the typed formula", "[formula][mixer]") {
    const Json base =
        Json::array({step("t", "torus"), step("w", "attribute", {{"attribute", "weight"}, {"by", "axis"}})});
    Json typed = base, wired = base;
    typed.push_back(step("f", "formula",
                         {{"rows", Json::array({{{"target", "x"}, {"formula", "x - nx * weight * 0.03"}},
                                                {{"target", "y"}, {"formula", "y - ny * weight * 0.03"}},
                                                {{"target", "z"}, {"formula", "z - nz * weight * 0.03"}}})}}));
    wired.push_back(
        step("f", "mixer",
             {{"blocks", Json::array({{{"id", "p"}, {"block", "read"}, {"what", "position"}},
                                      {{"id", "n"}, {"block", "read"}, {"what", "normal"}},
                                      {{"id", "w"}, {"block", "read"}, {"what", "weight"}},
                                      {{"id", "a"}, {"block", "multiply"}, {"a", "n"}, {"b", "w"}},
                                      {{"id", "b"}, {"block", "multiply"}, {"a", "a"}, {"b", 0.03}},
                                      {{"id", "c"}, {"block", "subtract"}, {"a", "p"}, {"b", "b"}},
                                      {{"id", "out"}, {"block", "write"}, {"what", "position"}, {"value", "c"}}})}}));
    const Tried a = tried(recipe_of(typed)), b = tried(recipe_of(wired));
    REQUIRE(a.clean("f"));
    REQUIRE(b.clean("f"));
    CHECK(*a.mesh("f").positions == *b.mesh("f").positions);
    CHECK_FALSE(*a.mesh("f").positions == *a.mesh("w").positions);
}

TEST_CASE("every block does what it says", "[formula][mixer]") {
    // Each block fed with fixed numbers against arithmetic done here; vectors against glm.
    const auto out = [](const std::string& kind, const Json& inputs) {
        Json block{{"id", "k"}, {"block", kind}};
        for (const auto& [key, value] : inputs.items()) block[key] = value;
        const Tried made = tried(recipe_of(Json::array(
            {step("b", "box"),
             step("m", "mixer",
                  {{"blocks", Json::array({{{"id", "v1"}, {"block", "vector"}, {"x", 1}, {"y", 2}, {"z", 3}},
                                           {{"id", "v2"}, {"block", "vector"}, {"x", -2}, {"y", 0.5}, {"z", 4}},
                                           block,
                                           {{"id", "o"}, {"block", "write"}, {"what", "r"}, {"value", "k"}}})}})})));
        REQUIRE(made.clean("m"));
        const auto* one = made.mesh("m").attributes.values<float>(Domain::vertex, "r");
        if (one) return DVec3((*one)[0]);
        return DVec3(column<Vec3>(made.mesh("m"), Domain::vertex, "r")[0]);
    };
    const Json two{{"a", 7}, {"b", 2}};
    for (const auto& [kind, expected] : std::vector<std::pair<std::string, double>>{{"add", 9},
                                                                                    {"subtract", 5},
                                                                                    {"multiply", 14},
                                                                                    {"divide", 3.5},
                                                                                    {"power", 49},
                                                                                    {"least", 2},
                                                                                    {"most", 7},
                                                                                    {"remainder", 1},
                                                                                    {"compare", 0}}) {
        INFO(kind);
        CHECK(out(kind, two).x == Approx(expected));
    }
    CHECK(out("absolute", {{"a", -4}}).x == 4);
    CHECK(out("root", {{"a", 9}}).x == 3);
    CHECK(out("whole", {{"a", 2.6}}).x == 3);
    CHECK(out("sine", {{"a", 30}}).x == Approx(0.5));
    CHECK(out("cosine", {{"a", 60}}).x == Approx(0.5));
    CHECK(out("between", {{"a", 5}, {"low", 0}, {"high", 2}}).x == 2);
    CHECK(out("blend", {{"a", 2}, {"b", 6}, {"share", 0.25}}).x == 3);
    CHECK(out("ease", {{"a", 0.5}, {"low", 0}, {"high", 1}}).x == 0.5);
    CHECK(out("pick", {{"test", 1}, {"a", 5}, {"b", 6}}).x == 5);
    const DVec3 a(1, 2, 3), b(-2, 0.5, 4);
    CHECK(glm::distance(out("add", {{"a", "v1"}, {"b", "v2"}}), a + b) < 1e-6);
    CHECK(glm::distance(out("multiply", {{"a", "v1"}, {"b", 3}}), a * 3.0) < 1e-6);
    CHECK(glm::distance(out("cross", {{"a", "v1"}, {"b", "v2"}}), glm::cross(a, b)) < 1e-6);
    CHECK(out("dot", {{"a", "v1"}, {"b", "v2"}}).x == Approx(glm::dot(a, b)));
    CHECK(out("length", {{"a", "v1"}}).x == Approx(glm::length(a)));
    CHECK(out("add", {{"a", "v1.z"}, {"b", 1}}).x == 4);
    for (const BlockInfo& info : all_blocks()) CHECK(info.help.size() > 4);
}

TEST_CASE("wrong wiring in a mixer is told in words", "[formula][mixer][findings]") {
    const auto said = [](const Json& blocks) {
        const Tried made = tried(recipe_of(Json::array({step("b", "box"), step("m", "mixer", {{"blocks", blocks}})})));
        const Finding* finding = made.finding("m", "bad-blocks");
        REQUIRE(finding);
        CHECK(*made.mesh("m").positions == *made.mesh("b").positions);  // nothing is lost
        return finding->text;
    };
    CHECK(said(Json::array({{{"id", "a"}, {"block", "add"}, {"a", "b"}},
                            {{"id", "b"}, {"block", "add"}, {"a", "a"}},
                            {{"id", "o"}, {"block", "write"}, {"what", "z"}, {"value", "a"}}}))
              .find("a → b → a") != std::string::npos);
    CHECK(said(Json::array({{{"id", "sum"}, {"block", "add"}},
                            {{"id", "o"}, {"block", "write"}, {"what", "z"}, {"value", "sun"}}}))
              .find("Did you mean “sum”?") != std::string::npos);
    CHECK(said(Json::array({{{"id", "a"}, {"block", "grind"}},
                            {{"id", "o"}, {"block", "write"}, {"what", "z"}, {"value", "a"}}}))
              .find("no block “grind”") != std::string::npos);
    CHECK(said(Json::array({{{"id", "a"}, {"block", "add"}}})).find("Nothing is written") != std::string::npos);
}
