// SPDX-License-Identifier: GPL-3.0-or-later
// Outlines from SVG: arcs against the specification's formulas, units, holes, and drawings that mean no good.
#include <catch2/catch.hpp>
#include <chrono>
#include <filesystem>
#include <fstream>
#include <numbers>

#include "core/kernels/flatten.h"
#include "core/kernels/svg_outline.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

SvgOutline drawing(const std::string& body,
                   const std::string& head = "width='100mm' height='100mm' viewBox='0 0 100 100'") {
    auto outline = read_svg_outline("<svg xmlns='http://www.w3.org/2000/svg' " + head + ">" + body + "</svg>");
    INFO((outline ? "" : outline.problem().text()));
    REQUIRE(outline);
    return *outline;
}

/// Millimetres on a page 100 high, y down, as the drawing has them.
DVec2 on_page(const Vec3& p) { return {p.x * 1000.0, 100 - p.z * 1000.0}; }

std::vector<Knot> arc(DVec2 from, DVec2 radii, double turn, bool large, bool sweep, DVec2 to) {
    std::vector<Knot> knots(1);
    knots[0].at = Vec3(from.x, from.y, 0);
    add_svg_arc(knots, radii, turn, large, sweep, to);
    return knots;
}

}  // namespace

TEST_CASE("arcs follow the specification's equations", "[svg]") {
    // SVG 1.1, F.6: of the four arcs between two points on ellipses of given radii, the flags choose the sweep and
    // which is larger.
    for (const double turn : {0.0, 30.0, -75.0})
        for (const bool large : {false, true})
            for (const bool sweep : {false, true}) {
                const DVec2 from(10, 20), to(40, 35), radii(30, 18);
                const std::vector<Knot> knots = arc(from, radii, turn, large, sweep, to);
                Curve curve;
                curve.knots = knots;
                for (Knot& knot : curve.knots) knot.kind = KnotKind::free;
                curve.sampling.per_span = 16;
                // In the ellipse's own turned and sized plane the arc is a circle of radius 1: all its points are as
                // far from one middle, which F.6.5 gives; here it is found from three of them.
                const double phi = turn * pi / 180;
                std::vector<DVec2> unit;
                for (const Vec3& p : flatten(curve).points) {
                    const DVec2 v(p.x, p.y);
                    unit.emplace_back((std::cos(phi) * v.x + std::sin(phi) * v.y) / radii.x,
                                      (-std::sin(phi) * v.x + std::cos(phi) * v.y) / radii.y);
                }
                const DVec2 a = unit[0], b = unit[unit.size() / 2], c = unit.back();
                const double d = 2 * (a.x * (b.y - c.y) + b.x * (c.y - a.y) + c.x * (a.y - b.y));
                const DVec2 middle(
                    (glm::dot(a, a) * (b.y - c.y) + glm::dot(b, b) * (c.y - a.y) + glm::dot(c, c) * (a.y - b.y)) / d,
                    (glm::dot(a, a) * (c.x - b.x) + glm::dot(b, b) * (a.x - c.x) + glm::dot(c, c) * (b.x - a.x)) / d);
                double swept = 0;
                for (std::size_t i = 0; i < unit.size(); ++i) {
                    CHECK(glm::distance(unit[i], middle) == Approx(1).margin(1e-3));
                    if (i > 0) {
                        const DVec2 p = unit[i - 1] - middle, q = unit[i] - middle;
                        swept += std::atan2(p.x * q.y - p.y * q.x, glm::dot(p, q));
                    }
                }
                INFO("turn " << turn << " large " << large << " sweep " << sweep << " swept " << swept);
                CHECK((swept > 0) == sweep);
                CHECK((std::abs(swept) > pi) == large);
                CHECK(knots.back().at == Vec3(40, 35, 0));
            }
    // F.6.6: radii too small are enlarged until the arc reaches; F.6.2: a radius of 0 is a line.
    const auto half = arc({0, 0}, {1, 1}, 0, false, true, {10, 0});
    Curve curve;
    curve.knots = half;
    for (Knot& knot : curve.knots) knot.kind = KnotKind::free;
    for (const Vec3& p : flatten(curve).points)
        CHECK(glm::distance(DVec2(p.x, p.y), DVec2(5, 0)) == Approx(5).epsilon(1e-3));
    CHECK(arc({0, 0}, {0, 5}, 0, false, true, {10, 0}).size() == 2);
    CHECK(arc({3, 3}, {5, 5}, 0, true, true, {3, 3}).size() == 1);
}

TEST_CASE("path commands, absolute and relative, and their short forms", "[svg]") {
    const SvgOutline square = drawing("<path d='M10 10h20v20h-20z m40,0 10,0 0,10-10,0Z'/>");
    REQUIRE(square.curves.size() == 2);
    CHECK(square.curves[0].closed);
    CHECK(square.curves[0].knots.size() == 4);
    CHECK(on_page(square.curves[1].knots[0].at).x == Approx(50));  // relative to the start of the path before
    CHECK(on_page(square.curves[1].knots[2].at).y == Approx(20));
    // S and T mirror the control point before; a quadratic raised to a cubic passes its own middle.
    const SvgOutline bends =
        drawing("<path d='M0 50 C 10 30 20 30 30 50 S 50 70 60 50'/><path d='M0 0 Q 10 20 20 0 T 40 0'/>");
    CHECK(glm::distance(on_page(bends.curves[0].knots[1].at + bends.curves[0].knots[1].out), DVec2(40, 70)) < 1e-4);
    Curve quadratic = bends.curves[1];
    quadratic.sampling.per_span = 2;
    CHECK(glm::distance(on_page(flatten(quadratic).points[1]), DVec2(10, 10)) < 1e-4);
    CHECK(glm::distance(on_page(flatten(quadratic).points[3]), DVec2(30, -10)) < 1e-4);
    // Flags stand without a space, numbers share points and signs.
    const SvgOutline tight = drawing("<path d='M10,50a20,20 0 0120-20.5.5-.5'/>");
    CHECK(tight.curves.size() == 1);
    // What makes no sense ends the path; what came before stays.
    const SvgOutline broken = drawing("<path d='M0 0 L 10 0 L 10 10 L abc'/>");
    CHECK(broken.curves.at(0).knots.size() == 3);
    REQUIRE(broken.notes.size() == 1);
}

TEST_CASE("real units, viewBox, transforms and shapes", "[svg]") {
    const auto width = [](const std::string& head, const std::string& length) {
        const SvgOutline outline = drawing("<line x1='0' y1='0' x2='" + length + "' y2='0'/>", head);
        return static_cast<double>(outline.curves.at(0).knots[1].at.x - outline.curves.at(0).knots[0].at.x);
    };
    // CSS 2.1: 1in = 96px = 2.54cm = 72pt = 6pc.
    CHECK(width("", "96") == Approx(0.0254));
    CHECK(width("", "1in") == Approx(0.0254));
    CHECK(width("", "2.5cm") == Approx(0.025));
    CHECK(width("", "25mm") == Approx(0.025));
    CHECK(width("", "36pt") == Approx(0.0127));
    CHECK(width("", "3pc") == Approx(0.0127));
    CHECK(width("width='50mm' height='50mm' viewBox='0 0 200 200'", "100") == Approx(0.025));
    const auto notes = drawing("<line x2='3parsec'/>", "").notes;
    CHECK(std::ranges::any_of(notes, [](const std::string& n) { return n.find("parsec") != std::string::npos; }));
    const SvgOutline turned =
        drawing("<g transform='translate(50,50) rotate(90)'><rect x='-10' y='-5' width='20' height='10'/></g>");
    DVec2 low(1e9), high(-1e9);
    for (const Knot& k : turned.curves.at(0).knots)
        low = glm::min(low, on_page(k.at)), high = glm::max(high, on_page(k.at));
    CHECK(glm::distance(low, DVec2(45, 40)) < 1e-4);
    CHECK(glm::distance(high, DVec2(55, 60)) < 1e-4);
    const SvgOutline shapes = drawing(
        "<circle cx='50' cy='50' r='20'/><ellipse cx='50' cy='50' rx='10' ry='5'/><rect x='0' y='0' width='30' "
        "height='20' rx='4'/><polygon points='0,0 10,0 5,8'/><polyline points='0,0 10,0 5,8'/>");
    REQUIRE(shapes.curves.size() == 5);
    Curve circle = shapes.curves[0];
    circle.sampling.per_span = 32;
    CHECK(length_of(flatten(circle)) == Approx(2 * pi * 0.02).epsilon(1e-3));
    CHECK(shapes.curves[2].knots.size() == 8);
    CHECK(shapes.curves[3].closed);
    CHECK_FALSE(shapes.curves[4].closed);
    const SvgOutline used = drawing(
        "<defs><path id='a' d='M0 0h10'/></defs><use href='#a' x='5' y='5'/><use href='other.svg#a'/><text>no</text>");
    REQUIRE(used.curves.size() == 1);
    CHECK(on_page(used.curves[0].knots[0].at).x == Approx(5));
    CHECK(used.notes.size() == 2);
}

TEST_CASE("drawings that mean no good cost a message and nothing else", "[svg][bad]") {
    const auto problem = [](const std::string& text) {
        const auto outline = read_svg_outline(text);
        REQUIRE_FALSE(outline);
        return outline.problem().text();
    };
    CHECK(problem("<!DOCTYPE svg [<!ENTITY a 'aaaa'><!ENTITY b '&a;&a;'>]><svg>&b;</svg>").find("entities") !=
          std::string::npos);
    CHECK(problem("<svg><path d='M0 0'").find("XML") != std::string::npos);
    CHECK(problem("<html/>").find("svg") != std::string::npos);
    CHECK_FALSE(problem("").empty());
    std::string many = "<svg><path d='M0 0";
    for (int i = 0; i < 1000000; ++i) many += " 1 1 2 0";
    const auto began = std::chrono::steady_clock::now();
    CHECK(problem(many + "'/></svg>").find("200000") != std::string::npos);
    CHECK(std::chrono::steady_clock::now() - began < std::chrono::seconds(5));  // a hang, not a speed
    // A circle of uses, groups without end, numbers too large, sizes of nothing.
    CHECK(drawing("<g id='a'><use href='#a'/></g><use href='#a'/>").curves.empty());
    std::string deep;
    for (int i = 0; i < 3000; ++i) deep += "<g>";
    CHECK(drawing(deep + "<path d='M0 0h1'/>" +
                  [] {
                      std::string s;
                      for (int i = 0; i < 3000; ++i) s += "</g>";
                      return s;
                  }())
              .curves.empty());
    CHECK(drawing("<path d='M1e999 0 L5 5'/>").curves.empty());
    CHECK(drawing("<rect width='-5' height='5'/><circle r='0'/>").curves.empty());
}

TEST_CASE("a drawing beside the recipe becomes curves, and is read again when it changes", "[svg]") {
    const auto folder = std::filesystem::temp_directory_path() / "bricol svg test";
    std::filesystem::create_directories(folder);
    const auto write = [&](const char* size) {
        std::ofstream(folder / "plate.svg")
            << "<svg width='100mm' height='100mm' viewBox='0 0 100 100'><path d='M10 10h" << size << "v20h-" << size
            << "z M15 15 v10 h10 v-10z'/></svg>";
    };
    write("40");
    MakeOptions options;
    options.environment.folder = folder.string();
    options.environment.read_file = file_reader();
    const Recipe recipe =
        recipe_of(Json::array({step("logo", "svg_outline", {{"file", "plate.svg"}}), step("face", "fill")}));
    Maker maker;
    const auto area = [&] {
        const Made made = maker.make(recipe, options);
        CHECK_FALSE(made.has_errors());
        return made.part(recipe, "p")->measures.area;
    };
    CHECK(area() == Approx(0.04 * 0.02 - 0.0001).epsilon(1e-5));  // the inner square is a hole
    write("50");
    std::filesystem::last_write_time(folder / "plate.svg",
                                     std::filesystem::file_time_type::clock::now() + std::chrono::seconds(2));
    CHECK(area() == Approx(0.05 * 0.02 - 0.0001).epsilon(1e-5));
    std::filesystem::remove_all(folder);
    const Made gone = maker.make(recipe, options);
    REQUIRE(gone.step(recipe, "p", "logo")->findings.size() == 1);
    CHECK(gone.step(recipe, "p", "logo")->findings[0].code == "no-file");
}
