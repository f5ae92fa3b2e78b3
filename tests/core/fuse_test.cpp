// SPDX-License-Identifier: GPL-3.0-or-later
// Shapes fused through a field: against closed volumes as the cells shrink, and OpenVDB called bare.
#include <numbers>
#include <tbb/global_control.h>

#include "core/kernels/boolean.h"
#include "core/kernels/fuse.h"
#include "core/kernels/primitives.h"
#include "core/kernels/solids.h"
#include "core/kernels/transform.h"
#include "tests/support/build.h"
#include "tests/support/tried.h"
#include "tests/support/whole.h"

namespace bricol::test {

namespace {

Json ball_at(const std::string& id, double radius, const Json& place) {
    return step(id, "sphere",
                {{"radius", radius}, {"slices", 128}, {"rings", 64}, {"origin", "centre"}, {"at", place}});
}

/// Two parts, the second moved along x, fused.
Tried two_balls(double apart, Json settings) {
    settings["in"] = {{"shape", "a"}, {"with", "m"}};
    return tried({step("a", "sphere", {{"radius", 1}, {"slices", 128}, {"rings", 64}, {"origin", "centre"}}),
                  step("b", "sphere", {{"radius", 1}, {"slices", 128}, {"rings", 64}, {"origin", "centre"}}),
                  step("m", "transform", {{"move", {apart, 0, 0}}, {"in", {{"shape", "b"}}}}),
                  step("f", "fuse", std::move(settings))});
}

bool whole_and_closed(const Mesh& mesh) {
    const Ties& ties = mesh.topology->ties();
    return ties.border_edges == 0 && ties.non_manifold_edges == 0 && ties.turned_edges == 0;
}

}  // namespace

TEST_CASE("fuse: two balls joined, cut and shared near their closed volumes, with the square of the cell",
          "[fuse][outside][wide]") {
    // A lens of two unit balls d apart: pi (4 + d) (2 - d)^2 / 12.
    const double d = 1, lens = pi * (4 + d) * (2 - d) * (2 - d) / 12, ball = 4 * pi / 3;
    for (const auto& [kind, exact] : {std::pair{"join", 2 * ball - lens}, {"cut", ball - lens}, {"common", lens}}) {
        INFO(kind);
        double before = 0;
        for (const double cell : {0.1, 0.05, 0.025}) {
            const Tried t = two_balls(d, {{"kind", kind}, {"cell", cell}});
            REQUIRE(t.clean("f"));
            CHECK(whole_and_closed(t.mesh("f")));
            CHECK(*t.part().measures.volume == Approx(exact).epsilon(0.002 + 4 * cell * cell));
            // Against the same balls cut exactly, as their faces are flat too.
            const std::array<Mesh, 1> other{t.mesh("m")};
            const auto cut = boolean_of(t.mesh("a"), other,
                                        kind == std::string_view("join")  ? BooleanKind::unite
                                        : kind == std::string_view("cut") ? BooleanKind::subtract
                                                                          : BooleanKind::intersect);
            const double error = std::abs(*t.part().measures.volume / signed_volume(cut.mesh) - 1);
            if (before > 0) CHECK(error < 0.45 * before);
            before = error;
        }
    }
}

TEST_CASE("fuse: a capsule of overlapping pieces is one skin of the closed volume", "[fuse][outside]") {
    const Tried t = tried({step("c", "cylinder", {{"radius", 0.5}, {"height", 2}, {"segments", 128}}),
                           ball_at("s", 0.5, {0, 0, 0}), step("b", "transform", {{"move", {0, 0, 0}}}),
                           step("u", "sphere", {{"radius", 0.5}, {"slices", 128}, {"rings", 64}, {"origin", "centre"}}),
                           step("n", "transform", {{"move", {0, 0, 2}}, {"in", {{"shape", "u"}}}}),
                           step("f", "fuse", {{"cell", 0.04}, {"in", {{"shape", "c"}, {"with", "b"}, {"and", "n"}}}})});
    REQUIRE(t.clean("f"));
    const double exact = pi * 0.25 * 2 + 4 * pi / 3 * 0.125;
    CHECK(*t.part().measures.volume == Approx(exact).epsilon(0.005));
    CHECK(t.part().measures.pieces == 1);
    CHECK(t.part().measures.euler == 2);
}

TEST_CASE("fuse: ridges are put back, and a hollow stays hollow", "[fuse]") {
    const Json box = step("b", "box", {{"size", {1, 1, 1}}}), turn = step("t", "transform", {{"turn", {10, 20, 30}}});
    const Tried sharp = tried({box, turn, step("f", "fuse", {{"cell", 0.04}, {"sharp", true}})});
    CHECK(*sharp.part().measures.volume == Approx(1).epsilon(5e-4));  // 0.997 without
    CHECK(sharp.part().measures.area == Approx(6).epsilon(1e-3));
    const Tried round = tried({box, turn, step("f", "fuse", {{"cell", 0.04}})});
    CHECK(*round.part().measures.volume < 0.997);
    const Tried shell = tried({step("b", "sphere", {{"radius", 1}, {"slices", 64}, {"rings", 32}}),
                               step("t", "thicken", {{"thickness", 0.3}, {"direction", "inward"}}),
                               step("f", "fuse", {{"cell", 0.05}})});
    CHECK(shell.part().measures.pieces == 2);
    CHECK(shell.step("f").shape->mesh.face_count() > 0);
    const double wall = 4 * pi / 3 * (1 - 0.343);
    CHECK(*shell.part().measures.volume == Approx(wall).epsilon(0.02));
}

TEST_CASE("fuse: the offset lies as far out as it says, smoothing rounds without moving flats", "[fuse]") {
    const Json ball = step("b", "sphere", {{"radius", 1}, {"slices", 128}, {"rings", 64}, {"origin", "centre"}});
    for (const double offset : {0.2, -0.2}) {
        const Tried t = tried({ball, step("f", "fuse", {{"cell", 0.05}, {"offset", offset}})});
        CHECK(*t.part().measures.volume == Approx(4 * pi / 3 * std::pow(1 + offset, 3)).epsilon(0.01));
    }
    const Json box = step("b", "box", {{"size", {1, 1, 1}}});
    const auto made = [&](const char* kind) {
        return tried({box, step("f", "fuse", {{"cell", 0.05}, {"smoothing", kind}, {"rounds", 3}})});
    };
    const double plain = *made("none").part().measures.volume, soft = *made("soft").part().measures.volume,
                 even = *made("even").part().measures.volume, ridges = *made("edges").part().measures.volume;
    CHECK(soft < plain);
    CHECK(even < plain);
    CHECK(ridges > soft);
    CHECK(made("soft").part().measures.box->size().z == Approx(1).epsilon(0.02));
}

TEST_CASE("fuse: moving one piece fields that piece only", "[fuse][make]") {
    forget_fields();
    const auto fused_at = [](double x) {
        const std::array<Mesh, 2> two{
            make_box(DVec3(1), {1, 1, 1}),
            transformed(shape_of(make_box(DVec3(1), {1, 1, 1})), placement({x, 0, 0}, DVec3(0), DVec3(1), DVec3(0)))
                .mesh};
        FuseOptions options;
        options.cell = 0.05;
        return fused(two, options).mesh;
    };
    const std::size_t before = pieces_fielded();
    const Mesh first = fused_at(0.5);
    CHECK(pieces_fielded() == before + 2);
    fused_at(0.6);
    CHECK(pieces_fielded() == before + 3);
    const Mesh again = fused_at(0.5);
    CHECK(pieces_fielded() == before + 3);
    CHECK(Whole::of(shape_of(again)) == Whole::of(shape_of(first)));
    // Two boxes of 1 m in cells of 5 cm: blocks of 8 cells along some 12 m² of surface, each 2 KB and a frame.
    CHECK(kept_field_bytes() > 12 / (0.4 * 0.4) * 2048);
    CHECK(kept_field_bytes() < 20u << 20);
    forget_fields();
    CHECK(kept_field_bytes() == 0);
}

TEST_CASE("fuse: the same bytes on 1, 2 and 4 threads", "[fuse][deterministic][wide]") {
    std::vector<std::uint64_t> numbers;
    for (const std::size_t threads : {1, 2, 4}) {
        const tbb::global_control limit(tbb::global_control::max_allowed_parallelism, threads);
        forget_fields();
        numbers.push_back(Whole::of(*two_balls(0.7, {{"cell", 0.03}, {"smoothing", "soft"}}).step("f").shape));
    }
    CHECK(numbers[0] == numbers[1]);
    CHECK(numbers[0] == numbers[2]);
}

TEST_CASE("fuse: materials and values come from the nearest shape", "[fuse]") {
    const Tried t = tried({step("a", "box", {{"size", {1, 1, 1}}}), step("r", "material", {{"kit", "rope"}}),
                           step("b", "box", {{"size", {1, 1, 1}}}),
                           step("m", "transform", {{"move", {2, 0, 0}}, {"in", {{"shape", "b"}}}}),
                           step("g", "material", {{"kit", "brass"}, {"in", {{"shape", "m"}}}}),
                           step("f", "fuse", {{"cell", 0.1}, {"in", {{"shape", "r"}, {"with", "g"}}}})});
    REQUIRE(t.clean("f"));
    const Mesh& mesh = t.mesh("f");
    const auto& number = column<std::int32_t>(mesh, Domain::face, attribute_name::material);
    const std::int32_t first = column<std::int32_t>(t.mesh("r"), Domain::face, attribute_name::material)[0],
                       second = column<std::int32_t>(t.mesh("g"), Domain::face, attribute_name::material)[0];
    REQUIRE(first != second);
    for (Index f = 0; f < mesh.face_count(); ++f)
        CHECK(number[f] == ((*mesh.positions)[mesh.topology->face(f)[0]].x < 1 ? first : second));
    CHECK(find_material(mesh.materials.get(), second));
}

TEST_CASE("fuse: what cannot be fused is told, with a cell that can", "[fuse][findings]") {
    CHECK(tried({step("g", "grid"), step("f", "fuse", {{"cell", 0.1}})}).finding("f", "open"));
    const Json box = step("b", "box", {{"size", {1, 1, 1}}});
    const auto cells = [&](double cell) { return tried({box, step("f", "fuse", {{"cell", cell}})}); };
    const Tried fine = cells(1e-6);
    REQUIRE(fine.finding("f", "too-fine"));
    const std::string text = fine.finding("f", "too-fine")->text;
    const std::size_t at = text.find("Use cells of ");
    REQUIRE(at != std::string::npos);
    INFO(text);
    CHECK(text.find("mm", at) != std::string::npos);
    // A plate thinner than the cells, and the cell that its finding asks for.
    const Json plate = step("b", "box", {{"size", {1, 1, 0.02}}});
    const Tried coarse = tried({plate, step("f", "fuse", {{"cell", 0.05}})});
    REQUIRE(coarse.finding("f", "too-coarse"));
    CHECK(coarse.finding("f", "too-coarse")->text.find("13 mm") != std::string::npos);
    CHECK_FALSE(tried({plate, step("f", "fuse", {{"cell", 0.013}})}).finding("f", "too-coarse"));
    // A foil that no cells hold: thickened as it says, it is held.
    const auto sheet = [](double thick) {
        return tried({step("b", "box", {{"size", {1, 1, thick}}}), step("f", "fuse", {{"cell", 0.02}})});
    };
    const Tried foil = sheet(0.001);
    REQUIRE(foil.finding("f", "too-coarse"));
    CHECK(foil.finding("f", "too-coarse")->text.find("make it 32 mm thick") != std::string::npos);
    CHECK_FALSE(sheet(0.032).finding("f", "too-coarse"));
    // Where pieces overlap by a hair there is no wall of a hair: they are one. A thin one among them is told all the
    // same.
    const auto row = [](double thick) {
        return tried({step("b", "box", {{"size", {1, 1, thick}}}),
                      step("two", "array", {{"count", 2}, {"offset", {0.995, 0.4, 0}}, {"result", "real"}}),
                      step("f", "fuse", {{"cell", 0.02}})});
    };
    CHECK_FALSE(row(1).finding("f", "too-coarse"));
    REQUIRE(row(0.01).finding("f", "too-coarse"));
    CHECK(row(0.01).finding("f", "too-coarse")->text.starts_with("A wall is 10 mm thick"));
    CHECK(tried({box, step("f", "fuse", {{"kind", "cut"}, {"cell", 0.1}})}).finding("f", "one-shape"));
    CHECK(two_balls(5, {{"kind", "common"}, {"cell", 0.1}}).finding("f", "nothing-left"));
    CHECK(cells(0).finding("f", "cells"));
}

}  // namespace bricol::test
