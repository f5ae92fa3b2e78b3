// SPDX-License-Identifier: GPL-3.0-or-later
// Sweep, loft and fill against closed formulas, and what they notice.
#include <catch2/catch.hpp>
#include <numbers>

#include "core/kernels/loft.h"
#include "core/kernels/sweep.h"
#include "tests/support/cgal_check.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

/// Normals lie where the faces do.
double worst_normal(const Mesh& mesh) {
    const auto* corner = mesh.attributes.values<Vec3>(Domain::corner, attribute_name::normal);
    const auto* vertex = mesh.attributes.values<Vec3>(Domain::vertex, attribute_name::normal);
    double worst = 1;
    for (std::size_t f = 0; f < mesh.face_count(); ++f) {
        const auto face = mesh.topology->face(f);
        DVec3 flat(0);
        for (std::size_t k = 0; k < face.size(); ++k)
            flat +=
                glm::cross(DVec3((*mesh.positions)[face[k]]), DVec3((*mesh.positions)[face[(k + 1) % face.size()]]));
        if (glm::length(flat) < 1e-14) continue;
        flat = glm::normalize(flat);
        for (std::size_t k = 0; k < face.size(); ++k)
            worst = std::min(worst, glm::dot(flat, DVec3(corner ? (*corner)[mesh.topology->face_offsets[f] + k]
                                                                : (*vertex)[face[k]])));
    }
    return worst;
}

}  // namespace

TEST_CASE("a sweep along an arc follows Pappus and Guldin", "[sweep]") {
    // Volume: the section's area times the way of its middle; area: its edge times that way (for sections in planes
    // through the axis).
    double last = 0;
    for (const int pieces : {16, 32, 64}) {
        const Tried made =
            tried({step("path", "arc", {{"radius", 1}, {"angle", 120}, {"segments", pieces}, {"plane", "top"}}),
                   step("pipe", "sweep", {{"radius", 0.2}, {"sides", 128}, {"caps", "flat"}})});
        const Mesh& mesh = made.mesh("pipe");
        REQUIRE(sound(mesh));
        const Measures m = measure(mesh);
        REQUIRE(m.closed);
        CHECK(m.turned_edges == 0);
        const double section = 128 * 0.5 * 0.04 * std::sin(2 * pi / 128), way = 2 * pi / 3,
                     edge = 128 * 2 * 0.2 * std::sin(pi / 128);
        const double error = section * way - *m.volume;
        INFO(pieces << " pieces: volume " << *m.volume << " of " << section * way);
        if (last > 0) CHECK(last / error == Approx(4).epsilon(0.15));
        last = error;
        if (pieces == 64) {
            CHECK(*m.volume == Approx(section * way).epsilon(1e-3));
            CHECK(m.area == Approx(edge * way + 2 * section).epsilon(1e-3));
        }
        CHECK(worst_normal(mesh) > 0.97);
    }
}

TEST_CASE("mitred corners keep the section's width", "[sweep]") {
    // A square bar round a right angle: two prisms that meet in the mitre plane. Volume of an L: width^2 times the
    // length of the middle line.
    const Tried made = tried({drawn("path", R"([{"knots":[{"at":[0,0]},{"at":[1,0]},{"at":[1,1]}]}])"),
                              step("bar", "sweep", {{"kind", "rectangle"}, {"width", 0.2}, {"height", 0.2}})});
    const Measures m = measure(made.mesh("bar"));
    REQUIRE(m.closed);
    CHECK(*m.volume == Approx(0.04 * 2).epsilon(1e-6));
    CHECK(m.box->high.x == Approx(1.1).epsilon(1e-6));
    CHECK(m.box->low.z == Approx(-0.1).epsilon(1e-6));
    // Without mitres the bar is thinner than it should be.
    const Tried thin =
        tried({drawn("path", R"([{"knots":[{"at":[0,0]},{"at":[1,0]},{"at":[1,1]}]}])"),
               step("bar", "sweep", {{"kind", "rectangle"}, {"width", 0.2}, {"height", 0.2}, {"mitres", false}})});
    CHECK(*measure(thin.mesh("bar")).volume < 0.078);
    // A square frame is closed and hollow: volume of four mitred bars.
    const Tried frame = tried({step("path", "rectangle", {{"width", 2}, {"height", 1}}),
                               step("bar", "sweep", {{"kind", "rectangle"}, {"width", 0.1}, {"height", 0.1}})});
    const Measures f = measure(frame.mesh("bar"));
    CHECK(f.closed);
    CHECK(f.euler == 0);
    CHECK(*f.volume == Approx(0.01 * 6).epsilon(1e-5));
}

TEST_CASE("caps close what they should, and round ones are half balls", "[sweep]") {
    const auto volume = [](const char* caps) {
        const Tried made =
            tried({step("path", "line", {{"to", {1, 0, 0}}}),
                   step("rod", "sweep", {{"radius", 0.1}, {"sides", 96}, {"caps", caps}, {"cap_rings", 24}})});
        const Measures m = measure(made.mesh("rod"));
        CHECK(sound(made.mesh("rod")));
        CHECK(m.closed == (std::string(caps) != "none"));
        CHECK(worst_normal(made.mesh("rod")) > 0.9);
        return m.volume.value_or(0);
    };
    CHECK(volume("flat") == Approx(pi * 0.01).epsilon(2e-3));
    CHECK(volume("round") == Approx(pi * 0.01 + 4.0 / 3 * pi * 0.001).epsilon(4e-3));
    CHECK(volume("none") == 0);
}

TEST_CASE("width follows the ramp and the knots, and a tip of no width is a point", "[sweep]") {
    // A straight cone: volume a third of the cylinder's.
    const Tried cone =
        tried({step("path", "line", {{"to", {0, 0, 3}}}), step("even", "resample", {{"count", 8}}),
               step("spike", "sweep",
                    {{"radius", 0.5}, {"sides", 64}, {"ramped", true}, {"ramp", {{"knots", {{0, 1}, {1, 0}}}}}})});
    const Measures m = measure(cone.mesh("spike"));
    REQUIRE(m.closed);
    CHECK(m.euler == 2);
    CHECK(*m.volume == Approx(64 * 0.5 * 0.25 * std::sin(2 * pi / 64) * 3 / 3).epsilon(1e-4));
    // What closes the foot is still known by its set though the rings at the tip went; nothing closes the tip.
    const Tried named = tried({step("path", "line", {{"to", {0, 0, 3}}}), step("even", "resample", {{"count", 8}}),
                               step("spike", "sweep",
                                    {{"radius", 0.5},
                                     {"sides", 64},
                                     {"ramped", true},
                                     {"ramp", {{"knots", {{0, 1}, {1, 0}}}}},
                                     {"start_set", "foot"},
                                     {"end_set", "tip"}})});
    const Mesh& spike = named.mesh("spike");
    const auto foot = set_members(spike, Domain::face, "foot"), tip = set_members(spike, Domain::face, "tip");
    REQUIRE((foot && tip));
    CHECK(count_of(*tip) == 0);
    REQUIRE(count_of(*foot) == 1);
    const auto cap = spike.topology->face(std::ranges::find(*foot, 1) - foot->begin());
    CHECK(cap.size() == 64);
    for (const Index v : cap) CHECK((*spike.positions)[v].z == 0);
    // Radius and roll of knots, straight between them: a frustum.
    Curve curve;
    curve.knots.resize(2);
    curve.knots[1].at = Vec3(0, 0, 2);
    curve.knots[1].radius = 0.5f;
    const Path path = make_path(flatten(curve), {});
    const Mesh frustum = sweep(path, std::vector{round_section(0.4, 64)}, {}).mesh;
    CHECK(*measure(frustum).volume ==
          Approx(64 * 0.5 * std::sin(2 * pi / 64) * 2.0 / 3 * (0.16 + 0.08 + 0.04)).epsilon(1e-5));
}

TEST_CASE("several loops at once, holes, and open sections", "[sweep]") {
    const char* bundle =
        R"([{"closed":true,"knots":[{"at":[-0.2,-0.1]},{"at":[-0.05,-0.1]},{"at":[-0.05,0.1]},{"at":[-0.2,0.1]}]},{"closed":true,"knots":[{"at":[0.05,-0.1]},{"at":[0.2,-0.1]},{"at":[0.2,0.1]},{"at":[0.05,0.1]}]}])";
    const Tried two =
        tried({drawn("section", bundle), step("path", "line", {{"to", {0, 1, 0}}, {"in", {{"shape", ""}}}}),
               step("loom", "sweep", {{"kind", "curves"}, {"in", {{"section", "section"}}}})});
    const Measures m = measure(two.mesh("loom"));
    CHECK(m.closed);
    CHECK(m.pieces == 2);
    CHECK(*m.volume == Approx(2 * 0.15 * 0.2).epsilon(1e-6));
    // Looking along +y the section stands as drawn in the front view: x stays x and z stays z.
    CHECK(m.box->low.x == Approx(-0.2).epsilon(1e-6));
    CHECK(m.box->high.z == Approx(0.1).epsilon(1e-6));
    const char* tube =
        R"([{"closed":true,"knots":[{"at":[-0.2,-0.2]},{"at":[0.2,-0.2]},{"at":[0.2,0.2]},{"at":[-0.2,0.2]}]},{"closed":true,"knots":[{"at":[-0.1,-0.1]},{"at":[0.1,-0.1]},{"at":[0.1,0.1]},{"at":[-0.1,0.1]}]}])";
    const Tried hollow =
        tried({drawn("section", tube), step("path", "line", {{"to", {0, 1, 0}}, {"in", {{"shape", ""}}}}),
               step("duct", "sweep", {{"kind", "curves"}, {"in", {{"section", "section"}}}})});
    const Measures h = measure(hollow.mesh("duct"));
    CHECK(sound(hollow.mesh("duct")));
    CHECK(h.closed);
    CHECK(h.euler == 0);
    CHECK(h.turned_edges == 0);
    CHECK(*h.volume == Approx(0.16 - 0.04).epsilon(1e-6));
    const test::CgalOpinion opinion = cgal_opinion(hollow.mesh("duct"));
    CHECK(opinion.polygon_mesh);
    CHECK_FALSE(opinion.crosses_itself);
    CHECK(opinion.outward);
    const Tried sheet = tried({drawn("section", R"([{"knots":[{"at":[-1,0]},{"at":[0,0.2]},{"at":[1,0]}]}])"),
                               step("path", "line", {{"to", {0, 1, 0}}, {"in", {{"shape", ""}}}}),
                               step("tray", "sweep", {{"kind", "curves"}, {"in", {{"section", "section"}}}})});
    CHECK(sheet.finding("tray", "open-section"));
    CHECK(measure(sheet.mesh("tray")).area == Approx(2 * std::hypot(1, 0.2)).epsilon(1e-6));
}

TEST_CASE("twist turns the section by as much, and UVs run 0 to 1 or in metres", "[sweep]") {
    const Tried made =
        tried({step("path", "line", {{"to", {0, 2, 0}}}), step("even", "resample", {{"count", 90}}),
               step("bar", "sweep",
                    {{"kind", "rectangle"}, {"width", 0.2}, {"height", 0.1}, {"twist", 90}, {"uvs", "real"}})});
    const Measures m = measure(made.mesh("bar"));
    CHECK(m.closed);
    // The end stands a quarter turn on: as high as the start is wide.
    double high_end = 0, wide_end = 0;
    for (const Vec3& p : *made.mesh("bar").positions)
        if (p.y > 2 - 1e-5f)
            high_end = std::max(high_end, static_cast<double>(p.z)),
            wide_end = std::max(wide_end, static_cast<double>(p.x));
    CHECK(high_end == Approx(0.1).epsilon(1e-5));
    CHECK(wide_end == Approx(0.05).epsilon(1e-5));
    float most_v = 0;
    const auto& uv = column<Vec2>(made.mesh("bar"), Domain::corner, attribute_name::uv);
    for (std::size_t c = 0; c < 90 * 4 * 4; ++c) most_v = std::max(most_v, uv[c].y);
    CHECK(most_v == Approx(2));
}

TEST_CASE("a sweep tells tight bends, tilted ends, needless twist and upright paths", "[sweep][findings]") {
    const Tried tight = tried({step("path", "arc", {{"radius", 0.1}, {"angle", 180}, {"segments", 32}}),
                               step("pipe", "sweep", {{"radius", 0.15}})});
    const Finding* bend = tight.finding("pipe", "tight-bend");
    REQUIRE(bend);
    CHECK(bend->text.find("0.15") != std::string::npos);
    REQUIRE(bend->places.size() == 1);
    CHECK(glm::length(DVec3(bend->places[0])) == Approx(0.1).epsilon(0.02));
    CHECK_FALSE(tried({step("path", "arc", {{"radius", 0.2}, {"angle", 180}, {"segments", 32}}),
                       step("pipe", "sweep", {{"radius", 0.15}})})
                    .finding("pipe", "tight-bend"));
    const Tried tilted = tried({step("path", "line", {{"to", {1, 0, 0.1}}}), step("pipe", "sweep")});
    CHECK(tilted.finding("pipe", "end-tilted"));
    const Tried twisted = tried({step("path", "line", {{"to", {1, 0, 0}}}), step("pipe", "sweep", {{"twist", 90}})});
    REQUIRE(twisted.finding("pipe", "needless-twist"));
    CHECK_FALSE(mended(twisted, "pipe", "needless-twist").finding("pipe", "needless-twist"));
    const Tried mast = tried({step("path", "line", {{"to", {0, 0, 1}}}), step("pipe", "sweep", {{"frames", "up"}})});
    REQUIRE(mast.finding("pipe", "upright-path"));
    CHECK_FALSE(mended(mast, "pipe", "upright-path").finding("pipe", "upright-path"));
    // Nothing to go along, nothing to draw: the step says so and the rest is made.
    const Tried lone = tried({drawn("path", R"([{"knots":[{"at":[0,0]}]}])"), step("pipe", "sweep")});
    CHECK(lone.finding("pipe", "empty-path"));
    const Tried none = tried({step("path", "line"), step("pipe", "sweep", {{"kind", "curves"}})});
    CHECK(none.finding("pipe", "no-section"));
    const Tried flat = tried({drawn("section", R"([{"closed":true,"knots":[{"at":[0,0]},{"at":[1,0]},{"at":[2,0]}]}])"),
                              step("path", "line", {{"in", {{"shape", ""}}}}),
                              step("pipe", "sweep", {{"kind", "curves"}, {"in", {{"section", "section"}}}})});
    CHECK(flat.finding("pipe", "no-area"));
    CHECK(tried({step("path", "circle", {{"segments", 2048}}), step("pipe", "sweep", {{"sides", 1024}})})
              .finding("pipe", "too-many") == nullptr);
    const Tried huge =
        tried({step("path", "helix", {{"turns", 300}, {"segments", 128}}), step("pipe", "sweep", {{"sides", 2048}})});
    CHECK(huge.finding("pipe", "too-many"));
    CHECK(huge.step("pipe").shape->mesh.face_count() == 0);
}

TEST_CASE("lofts between circles are frustums, whichever way the circles run", "[loft]") {
    for (const bool back : {false, true}) {
        std::vector<Json> steps = {
            step("low", "circle", {{"radius", 0.5}, {"segments", 64}, {"plane", "top"}}),
            step("high", "circle", {{"radius", 0.2}, {"segments", 64}, {"plane", "top"}, {"in", {{"shape", ""}}}}),
            step("lift", "transform", {{"move", {0, 0, 0.6}}, {"turn", {0, 0, 40}}})};
        if (back) steps.push_back(step("turn", "reverse"));
        steps.push_back(step("both", "merge", {{"in", {{"shape", "low"}, {"with", back ? "turn" : "lift"}}}}));
        steps.push_back(step("skin", "loft"));
        const Tried made = tried(recipe_of(Json(steps)));
        const Measures m = measure(made.mesh("skin"));
        REQUIRE(sound(made.mesh("skin")));
        REQUIRE(m.closed);
        CHECK(m.turned_edges == 0);
        const double k = 64 * 0.5 * std::sin(2 * pi / 64);
        // Bronstein and Semendjajew, truncated pyramid: h/3 (A + sqrt(AB) + B), for polygons turned to lie best beside
        // one another.
        CHECK(*m.volume == Approx(k * 0.6 / 3 * (0.25 + 0.1 + 0.04)).epsilon(2e-3));
        CHECK_FALSE(made.finding("skin", "seam-twists"));
        CHECK(static_cast<bool>(made.finding("skin", "outline-turned")) == back);
    }
}

TEST_CASE("lofts match by corners and by length, go smoothly, and close", "[loft]") {
    const Tried corners =
        tried({step("low", "rectangle", {{"width", 1}, {"height", 1}, {"plane", "top"}}),
               step("high", "rectangle", {{"width", 2}, {"height", 0.5}, {"plane", "top"}, {"in", {{"shape", ""}}}}),
               step("lift", "transform", {{"move", {0, 0, 1}}}),
               step("both", "merge", {{"in", {{"shape", "low"}, {"with", "lift"}}}}),
               step("skin", "loft", {{"match", "corners"}, {"columns", 16}})});
    const Measures m = measure(corners.mesh("skin"));
    CHECK(m.closed);
    CHECK(corners.mesh("skin").face_count() == 18);
    // Prismatoid: h/6 (A + 4 M + B) (Bronstein and Semendjajew) with the middle section 1.5 by 0.75.
    CHECK(*m.volume == Approx(1.0 / 6 * (1 + 4 * 1.125 + 1)).epsilon(1e-5));
    const Tried unlike = tried({step("low", "rectangle", {{"plane", "top"}}),
                                step("high", "polygon", {{"sides", 5}, {"in", {{"shape", ""}}}}),
                                step("lift", "transform", {{"move", {0, 0, 1}}}),
                                step("both", "merge", {{"in", {{"shape", "low"}, {"with", "lift"}}}}),
                                step("skin", "loft", {{"match", "corners"}})});
    CHECK(unlike.finding("skin", "corners-differ"));
    CHECK(measure(unlike.mesh("skin")).closed);
    // A smooth loft through circles on a sphere comes nearer to it than a straight one.
    std::vector<Polyline> outlines;
    for (const double z : {-0.9, -0.5, 0.0, 0.5, 0.9}) {
        Polyline ring;
        ring.closed = true;
        for (int i = 0; i < 96; ++i)
            ring.points.push_back(Vec3(std::sqrt(1 - z * z) * std::cos(2 * pi * i / 96),
                                       std::sqrt(1 - z * z) * std::sin(2 * pi * i / 96), z));
        outlines.push_back(ring);
    }
    const auto off_sphere = [&](bool smooth) {
        LoftOptions options;
        options.smooth = smooth;
        options.rows = 8;
        options.cap_start = options.cap_end = false;
        const LoftResult made = loft(outlines, options);
        double worst = 0;
        for (const Vec3& p : *made.mesh.positions) worst = std::max(worst, std::abs(glm::length(DVec3(p)) - 1));
        return worst;
    };
    CHECK(off_sphere(true) < 0.4 * off_sphere(false));
    // Around and back: a ring of square sections.
    std::vector<Polyline> sections;
    for (int i = 0; i < 24; ++i) {
        Polyline square;
        square.closed = true;
        const double a = 2 * pi * i / 24;
        for (const auto& [r, z] : {std::pair{0.9, -0.1}, {1.1, -0.1}, {1.1, 0.1}, {0.9, 0.1}})
            square.points.push_back(Vec3(r * std::cos(a), r * std::sin(a), z));
        sections.push_back(square);
    }
    LoftOptions round;
    round.closed = true;
    const LoftResult ring = loft(sections, round);
    const Measures r = measure(ring.mesh);
    CHECK(r.closed);
    CHECK(r.euler == 0);
    CHECK(*r.volume == Approx(0.04 * 24 * std::sin(2 * pi / 24)).epsilon(1e-2));
    CHECK(loft(std::vector{sections[0]}, round).refused.find("two") != std::string::npos);
    Polyline open = sections[0];
    open.closed = false;
    CHECK_FALSE(loft(std::vector{sections[0], open}, round).refused.empty());
}

TEST_CASE("loft seams that twist are told", "[loft][findings]") {
    const Tried turned =
        tried({step("low", "rectangle", {{"plane", "top"}, {"width", 1}, {"height", 0.4}}),
               step("high", "rectangle", {{"plane", "top"}, {"width", 1}, {"height", 0.4}, {"in", {{"shape", ""}}}}),
               step("lift", "transform", {{"move", {0, 0, 1}}, {"turn", {0, 0, 180}}}),
               step("both", "merge", {{"in", {{"shape", "low"}, {"with", "lift"}}}}),
               step("skin", "loft", {{"align", false}})});
    REQUIRE(turned.finding("skin", "seam-twists"));
    const Tried straight = mended(turned, "skin", "seam-twists");
    CHECK_FALSE(straight.finding("skin", "seam-twists"));
    CHECK(*measure(straight.mesh("skin")).volume == Approx(0.4).epsilon(1e-5));
}

TEST_CASE("fills have the area of their outline, holes taken out", "[fill]") {
    const auto area = [](const char* style) {
        const Tried made = tried(
            {step("out", "circle", {{"radius", 1}, {"segments", 64}, {"plane", "top"}}),
             step("in", "rectangle", {{"width", 0.5}, {"height", 0.4}, {"plane", "top"}, {"in", {{"shape", ""}}}}),
             step("both", "merge", {{"in", {{"shape", "out"}, {"with", "in"}}}}),
             step("face", "fill", {{"style", style}, {"faces", "up"}})});
        REQUIRE(sound(made.mesh("face")));
        for (const Vec3& n : column<Vec3>(made.mesh("face"), Domain::vertex, attribute_name::normal))
            CHECK(n.z > 0.99f);
        return measure(made.mesh("face")).area;
    };
    const double wanted = 64 * 0.5 * std::sin(2 * pi / 64) - 0.2;
    CHECK(area("face") == Approx(wanted).epsilon(1e-3));
    CHECK(area("triangles") == Approx(wanted).epsilon(1e-3));
    CHECK(area("grid") == Approx(wanted).epsilon(1e-3));
    // A grid over a rectangle is a plain grid.
    const Tried grid = tried({step("out", "rectangle", {{"width", 2}, {"height", 1}, {"plane", "top"}}),
                              step("even", "resample", {{"by", "length"}, {"longest", 0.25}}),
                              step("face", "fill", {{"style", "grid"}, {"faces", "up"}})});
    CHECK(grid.mesh("face").face_count() == 32);
    CHECK(measure(grid.mesh("face")).area == Approx(2).epsilon(1e-6));
    const Tried open = tried({step("out", "line"), step("face", "fill")});
    CHECK(open.finding("face", "nothing-to-fill"));
}
