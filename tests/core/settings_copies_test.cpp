// SPDX-License-Identifier: GPL-3.0-or-later
// The settings of the steps that place, scatter, lead along and project, one by one: places, directions and distances
// that follow from plane geometry.
#include <catch2/catch.hpp>
#include <numbers>

#include "core/kernels/transform.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

const Json line = step("line", "line", {{"from", {0, 0, 0}}, {"to", {0, 3, 0}}, {"in", {{"shape", ""}}}});
const Json peg = step("peg", "box", {{"size", {0.3, 0.1, 0.2}}, {"in", {{"shape", ""}}}});

Tried in_a_row(const Json& more, const Json& path = line) {
    Json settings = {{"in", {{"shape", path["id"]}, {"copy", "peg"}}}};
    settings.update(more);
    return tried({path, peg, step("row", "along_curve", settings)});
}
Instances copies_of(const Tried& made, const std::string& id) {
    REQUIRE(made.clean(id));
    REQUIRE(made.step(id).shape->instances.size() == 1);
    return made.step(id).shape->instances[0];
}
std::vector<glm::mat4> places_in(const Tried& made, const std::string& id) {
    const Instances copies = copies_of(made, id);
    return {copies.places.begin(), copies.places.end()};
}
/// Where a copy's own axis looks, with its length.
DVec3 axis_of(const glm::mat4& place, int axis) { return DVec3(place[axis]); }
}  // namespace

TEST_CASE("along_curve: own axis, look, start, end, scale and the path kept", "[steps][copies]") {
    const Instances row = copies_of(in_a_row({{"count", 4}}), "row");
    REQUIRE(row.count() == 4);
    for (std::size_t i = 0; i < 4; ++i) {
        CHECK(near(DVec3(row.places[i][3]), {0, static_cast<double>(i), 0}));
        CHECK(near(axis_of(row.places[i], 0), {0, 1, 0}));  // x lies along the path
    }
    CHECK(near(axis_of(copies_of(in_a_row({{"count", 2}, {"axis", "z"}}), "row").places[0], 2), {0, 1, 0}));
    CHECK(near(axis_of(copies_of(in_a_row({{"count", 2}, {"look", "same"}}), "row").places[1], 0), {1, 0, 0}));
    const Json rising = step("line", "line", {{"from", {0, 0, 0}}, {"to", {3, 0, 3}}, {"in", {{"shape", ""}}}});
    CHECK(near(axis_of(copies_of(in_a_row({{"count", 2}}, rising), "row").places[0], 0),
               DVec3(1, 0, 1) / std::sqrt(2.0)));
    CHECK(near(axis_of(copies_of(in_a_row({{"count", 2}, {"look", "level"}}, rising), "row").places[0], 0), {1, 0, 0}));
    const Instances inner = copies_of(in_a_row({{"count", 3}, {"start", 0.5}, {"end", 1}}), "row");
    CHECK(near(DVec3(inner.places[0][3]), {0, 0.5, 0}));
    CHECK(near(DVec3(inner.places[1][3]), {0, 1.25, 0}));
    CHECK(near(DVec3(inner.places[2][3]), {0, 2, 0}));
    CHECK(near(axis_of(copies_of(in_a_row({{"count", 2}, {"scale", 2.5}}), "row").places[0], 0), {0, 2.5, 0}));
    CHECK(in_a_row({{"keep_path", true}}).step("row").shape->curves.size() == 1);
    CHECK(in_a_row(Json::object()).step("row").shape->curves.empty());
    CHECK(in_a_row({{"count", 50}, {"most", 20}}).finding("row", "too-many"));
}

TEST_CASE("along_curve: spacing, gap, fit, stretch, stiff, up and the knots' radius", "[steps][copies]") {
    CHECK(copies_of(in_a_row({{"by", "spacing"}, {"spacing", 0.7}}), "row").count() == 5);  // at 0, 0.7, ... 2.8
    // One touching the next: 0.3 m each on 3 m; a gap leaves room for fewer, a negative one for more.
    CHECK(copies_of(in_a_row({{"by", "touching"}}), "row").count() == 10);
    CHECK(copies_of(in_a_row({{"by", "touching"}, {"gap", 0.1}}), "row").count() == 7);
    CHECK(copies_of(in_a_row({{"by", "touching"}, {"gap", -0.1}}), "row").count() >= 14);
    // Stretched to its place a copy is as long as the place is, and as wide as before.
    const Instances stretched =
        copies_of(in_a_row({{"by", "fit"}, {"stiff", true}, {"stretch", true}, {"gap", 0.07}}), "row");
    // With the gaps between them taken off, eight of 0.3 m and seven gaps of 0.07 m share three metres.
    REQUIRE(stretched.count() == 8);
    for (const glm::mat4& place : stretched.places) {
        CHECK(glm::length(axis_of(place, 1)) == Approx(1));
        CHECK(glm::length(axis_of(place, 0)) * 0.3 == Approx((3 - 7 * 0.07) / 8).epsilon(1e-5));
    }
    // Stiff copies have both ends on the path: on a circle they are chords.
    const Json ring =
        step("line", "circle", {{"radius", 1}, {"segments", 64}, {"plane", "top"}, {"in", {{"shape", ""}}}});
    const Instances chords = copies_of(in_a_row({{"by", "fit"}, {"stiff", true}}, ring), "row");
    REQUIRE(chords.count() > 10);
    for (const glm::mat4& place : chords.places)
        for (const double end : {-0.15, 0.15}) {
            const DVec3 at = DVec3(place * Vec4(static_cast<float>(end), 0, 0, 1));
            CHECK(glm::length(at) == Approx(1).epsilon(2e-3));
        }
    // As upright as it may be, whatever is called up.
    const Instances upright = copies_of(in_a_row({{"count", 3}, {"frames", "up"}, {"up", {1, 0, 0}}}), "row");
    CHECK(near(axis_of(upright.places[1], 2), {1, 0, 0}));
    const Json knots = Json::parse(R"([{"knots":[{"at":[0,0]},{"at":[3,0],"radius":2}]}])");
    const Json drawn = step("line", "drawn_curve", {{"plane", "top"}, {"curves", knots}, {"in", {{"shape", ""}}}});
    const Instances sized = copies_of(in_a_row({{"count", 3}, {"by_radius", true}}, drawn), "row");
    CHECK(glm::length(axis_of(sized.places[0], 1)) == Approx(1));
    CHECK(glm::length(axis_of(sized.places[1], 1)) == Approx(1.5));
    CHECK(glm::length(axis_of(sized.places[2], 1)) == Approx(2));
}

TEST_CASE("array: a length is filled in own sizes as in metres", "[steps][copies]") {
    const auto row = [](const Json& more) {
        Json settings = {{"until", "length"}, {"length", 3}};
        settings.update(more);
        const Tried made = tried({peg, step("row", "array", settings)});
        CHECK_FALSE(made.finding("row", "remainder"));  // ten of 0.3 m leave nothing over
        return copies_of(made, "row").count();
    };
    CHECK(row({{"offset", {0.3, 0, 0}}}) == 10);
    CHECK(row({{"measure", "own"}, {"own", {1, 0, 0}}}) == 10);
    CHECK(row({{"measure", "own"}, {"own", {0.5, 0, 0}}}) == 20);
}

TEST_CASE("place_copies: what they stand on, look, axis, size, turn, choice and set", "[steps][copies]") {
    const Json ball = step("ball", "sphere", {{"radius", 2}, {"origin", "centre"}, {"in", {{"shape", ""}}}});
    const Json top =
        step("top", "choose",
             {{"set", "top"}, {"what", "vertices"}, {"rule", "box"}, {"low", {-3, -3, 1}}, {"high", {3, 3, 3}}});
    const auto placed = [&](const Json& more, Json copy = peg) {
        Json settings = {{"in", {{"shape", "top"}, {"copy", "peg"}}}};
        settings.update(more);
        return tried({ball, top, copy, step("put", "place_copies", settings)});
    };
    const Tried plain = placed(Json::object());
    const Instances on = copies_of(plain, "put");
    CHECK(on.count() == plain.mesh("ball").vertex_count());
    for (const glm::mat4& place : on.places)  // z looks out of the ball, at most as far off as facets lean
        CHECK(glm::dot(axis_of(place, 2), DVec3(place[3]) / 2.0) > 0.99);
    for (const glm::mat4& place : places_in(placed({{"axis", "x"}}), "put"))
        CHECK(glm::dot(axis_of(place, 0), DVec3(place[3]) / 2.0) > 0.99);
    for (const glm::mat4& place : places_in(placed({{"look", "same"}, {"spin", 90}}), "put"))
        CHECK(near(axis_of(place, 0), {0, 1, 0}));
    const Instances faces = copies_of(placed({{"on", "faces"}}), "put");
    CHECK(faces.count() == plain.mesh("ball").face_count());
    const Instances some = copies_of(placed({{"only", "top"}, {"scale", 3}}), "put");
    CHECK(some.count() < on.count());
    for (const glm::mat4& place : some.places) {
        CHECK(place[3].z >= 1 - 1e-5f);
        CHECK(glm::length(axis_of(place, 0)) == Approx(3));
    }
    CHECK(placed({{"keep_points", true}}).mesh("put").vertex_count() == plain.mesh("ball").vertex_count());
    CHECK(plain.mesh("put").vertex_count() == 0);
    // Copies count as balls as wide as their longest side, 0.3 m: none may sink into another.
    const Instances apart = copies_of(placed({{"apart", true}, {"overlap", 0}}), "put");
    CHECK(apart.count() < on.count());
    const double reach = 0.15;
    for (std::size_t i = 0; i < apart.count(); ++i)
        for (std::size_t j = 0; j < i; ++j)
            CHECK(glm::distance(DVec3(apart.places[i] * Vec4(0, 0, 0.1f, 1)),
                                DVec3(apart.places[j] * Vec4(0, 0, 0.1f, 1))) > 2 * reach - 1e-4);
    CHECK(copies_of(placed({{"apart", true}, {"overlap", 0.5}}), "put").count() > apart.count());
}

TEST_CASE("place_copies: attributes of the points say how each stands", "[steps][copies]") {
    const Json sheet = step("a", "grid", {{"width", 3}, {"depth", 3}, {"across", 3}, {"deep", 3}});
    const Json rows = Json::array({{{"target", "big"}, {"formula", "1 + x + 1.5"}},
                                   {{"target", "spun"}, {"formula", "30"}},
                                   {{"target", "which"}, {"formula", "y > 0 ? 1 : 0"}},
                                   {{"target", "_gone"}, {"formula", "0"}}});
    const Tried made = tried({sheet, step("f", "formula", {{"on", "vertices"}, {"rows", rows}}), peg,
                              step("rod", "cylinder", {{"radius", 0.1}, {"in", {{"shape", ""}}}}),
                              step("put", "place_copies",
                                   {{"size", "big"},
                                    {"turn", "spun"},
                                    {"variant", "which"},
                                    {"in", {{"shape", "f"}, {"copy", "peg"}, {"second", "rod"}}}})});
    REQUIRE(made.clean("put"));
    const auto& groups = made.step("put").shape->instances;
    REQUIRE(groups.size() == 2);
    CHECK(groups[0].count() == 8);
    CHECK(groups[1].count() == 8);
    for (std::size_t g = 0; g < 2; ++g)
        for (const glm::mat4& place : groups[g].places) {
            CHECK((place[3].y > 0) == (g == 1));
            const double size = 1 + place[3].x + 1.5;
            CHECK(glm::length(axis_of(place, 0)) == Approx(size));
            // Turned by 30° about upright, as two copies with a turn between them would be.
            const DVec3 x = glm::normalize(axis_of(place, 0));
            const double angle = std::atan2(x.y, x.x) * 180 / pi;
            CHECK(std::abs(std::remainder(angle - 30, 90)) < 1e-3);
        }
}

TEST_CASE("scatter: density, even spacing, limit, look, lean, weight and set", "[steps][copies]") {
    const Json sheet = step("a", "grid", {{"width", 4}, {"depth", 2}, {"across", 40}, {"deep", 20}});
    const Json right =
        step("right", "choose",
             {{"set", "right"}, {"what", "faces"}, {"rule", "box"}, {"low", {0, -2, -1}}, {"high", {3, 2, 1}}});
    const auto points = [&](const Json& settings) {
        const Tried made = tried({sheet, right, step("s", "scatter", settings)});
        REQUIRE(made.clean("s"));
        return made.mesh("s");
    };
    CHECK(points({{"spread", "density"}, {"density", 25}}).vertex_count() == 200);  // on eight square metres
    const Mesh even = points({{"spread", "even"}, {"spacing", 0.2}, {"count", 50}, {"limit", true}});
    CHECK(even.vertex_count() == 50);
    const Mesh full = points({{"spread", "even"}, {"spacing", 0.2}, {"count", 50}});
    CHECK(full.vertex_count() > 100);
    // Discs of half the spacing lie apart: no packing of circles is denser than pi / sqrt 12 (Thue, 1910).
    const double wide = (4 + 0.2) * (2 + 0.2);
    CHECK(static_cast<double>(full.vertex_count()) < wide / (pi * 0.01) * pi / std::sqrt(12.0));
    for (std::size_t i = 0; i < full.vertex_count(); ++i)
        for (std::size_t j = 0; j < i; ++j)
            CHECK(glm::distance((*full.positions)[i], (*full.positions)[j]) >= 0.2f - 1e-5f);
    const auto places = [&](const Json& settings) { return *points(settings).positions; };
    CHECK(places({{"only", "right"}}).size() == 100);
    CHECK(places({{"weight", "right"}}).size() > 50);
    for (const Vec3& p : places({{"only", "right"}})) CHECK(p.x >= 0);
    for (const Vec3& p : places({{"weight", "right"}})) CHECK(p.x >= -0.11f);  // a set's slope is a face wide
    const auto facings = [&](const Json& settings) {
        return column<Vec3>(points(settings), Domain::vertex, attribute_name::facing);
    };
    for (const Vec3& way : facings({{"look", "normal"}})) CHECK(near(DVec3(way), {0, 0, 1}));
    double low = 1;
    for (const Vec3& way : facings({{"look", "up"}, {"lean", 40}, {"count", 2000}})) {
        CHECK(glm::length(way) == Approx(1));
        CHECK(way.z >= std::cos(40 * pi / 180) - 1e-4);
        low = std::min(low, static_cast<double>(way.z));
    }
    CHECK(low < std::cos(35 * pi / 180));  // some lean nearly as far as they may
    DVec3 mean(0);
    for (const Vec3& way : facings({{"look", "any"}, {"count", 4000}})) mean += DVec3(way) / 4000.0;
    CHECK(glm::length(mean) <
          0.06);  // no way is preferred: 1 / sqrt(4000) is what chance leaves, nearly four times that
}

TEST_CASE("follow_curve: low end, roll, twist, the knots' radius and set", "[steps][follow]") {
    const Json bar = step("bar", "box", {{"size", {2, 0.2, 0.1}}, {"along_x", 20}, {"in", {{"shape", ""}}}});
    const Json ends = step(
        "ends", "choose",
        {{"set", "low_half"}, {"what", "vertices"}, {"rule", "box"}, {"low", {-2, -1, -1}}, {"high", {0.01, 1, 1}}});
    const auto followed = [&](const Json& more, const Json& path = line) {
        Json settings = {{"in", {{"shape", "ends"}, {"path", path["id"]}}}};
        settings.update(more);
        const Tried made = tried({path, bar, ends, step("d", "follow_curve", settings)});
        REQUIRE(made.clean("d"));
        return *box_of(*made.step("d").shape);
    };
    CHECK(followed(Json::object()).low.y == Approx(0).margin(1e-5));
    CHECK(followed(Json::object()).high.y == Approx(2));
    CHECK(followed({{"from_low", false}, {"start", 1}}).low.y == Approx(0).margin(1e-5));  // its origin is its middle
    CHECK(followed({{"start", 0.5}}).high.y == Approx(2.5));
    const Box level = followed({{"frames", "up"}}), rolled = followed({{"frames", "up"}, {"roll", 90}});
    CHECK(level.size().x == Approx(0.2));
    CHECK(rolled.size().z == Approx(0.2));
    CHECK(rolled.size().x == Approx(0.1));
    // A full turn over the whole path, straight as it is: two of three metres turn by 240°, so the diagonal comes round
    // to the side.
    const Box twisted = followed({{"twist", 360}});
    CHECK(twisted.size().x == Approx(2 * std::hypot(0.1, 0.1)).epsilon(0.02));
    const Json knots = Json::parse(R"([{"knots":[{"at":[0,0]},{"at":[0,2],"radius":3}]}])");
    const Json drawn = step("line", "drawn_curve", {{"plane", "top"}, {"curves", knots}, {"in", {{"shape", ""}}}});
    CHECK(followed({{"own_radius", true}}, drawn).size().x == Approx(0.6));
    CHECK(followed(Json::object(), drawn).size().x == Approx(0.2));
    CHECK(followed({{"only", "low_half"}}).high.x == Approx(1));  // the other half stays along x
    // Round a closed path only whole turns meet themselves; the rest is left out, and told.
    const Json ring =
        step("line", "circle", {{"radius", 1}, {"segments", 64}, {"plane", "top"}, {"in", {{"shape", ""}}}});
    const auto round = [&](double twist) {
        const Tried made =
            tried({ring, bar, ends,
                   step("d", "follow_curve",
                        {{"twist", twist}, {"stretch", true}, {"in", {{"shape", "ends"}, {"path", "line"}}}})});
        REQUIRE(made.clean("d"));
        CHECK((made.finding("d", "closing-twist") != nullptr) == (std::fmod(twist, 360) != 0));
        return Array<Vec3>(*made.mesh("d").positions);
    };
    CHECK(round(90) == round(0));
    CHECK(round(450) == round(360));
    CHECK(round(360) != round(0));
}

TEST_CASE("project_onto: ways, reach, amount, lift, weight and set", "[steps][project]") {
    const Json ball =
        step("ball", "sphere",
             {{"radius", 1}, {"slices", 128}, {"rings", 64}, {"origin", "centre"}, {"in", {{"shape", ""}}}});
    const Json sheet =
        step("a", "grid", {{"width", 1}, {"depth", 1}, {"across", 8}, {"deep", 8}, {"in", {{"shape", ""}}}});
    const Json up = step("up", "transform", {{"move", {0, 0, 3}}});
    const Json right =
        step("right", "choose",
             {{"set", "right"}, {"what", "vertices"}, {"rule", "box"}, {"low", {0.01, -2, 0}}, {"high", {3, 2, 4}}});
    const auto led = [&](const Json& more) {
        Json settings = {{"in", {{"shape", "right"}, {"onto", "ball"}}}};
        settings.update(more);
        const Tried made = tried({ball, sheet, up, right, step("d", "project_onto", settings)});
        REQUIRE(made.clean("d"));
        return *made.mesh("d").positions;
    };
    for (const Vec3& p : led({{"by", "direction"}, {"direction", {0, 0, -7}}})) {
        CHECK(glm::length(p) == Approx(1).epsilon(2e-3));
        CHECK(p.z > 0);
    }
    for (const Vec3& p : led({{"by", "centre"}})) CHECK(glm::length(p) == Approx(1).epsilon(2e-3));
    for (const Vec3& p : led({{"by", "nearest"}, {"lift", 0.5}})) CHECK(glm::length(p) == Approx(1.5).epsilon(3e-3));
    // Upwards there is nothing; looking both ways finds the ball below.
    for (const Vec3& p : led({{"by", "direction"}, {"direction", {0, 0, 1}}, {"both_ways", false}})) CHECK(p.z == 3);
    for (const Vec3& p : led({{"by", "direction"}, {"direction", {0, 0, 1}}})) CHECK(p.z < 1.01f);
    for (const Vec3& p : led({{"by", "direction"}, {"reach", 1.5}})) CHECK(p.z == 3);  // two metres off at least
    for (const Vec3& p : led({{"by", "direction"}, {"amount", 0.5}}))
        CHECK(p.z == Approx((3 + std::sqrt(1 - p.x * p.x - p.y * p.y)) / 2).epsilon(2e-3));
    for (const char* key : {"only", "weight"})
        for (const Vec3& p : led({{"by", "direction"}, {key, "right"}})) CHECK((p.z == 3) == (p.x < 0.01f));
    // Rays that leave an axis squarely keep the height.
    const Tried ring = tried(
        {step("ball", "cylinder", {{"radius", 2}, {"height", 4}, {"segments", 128}, {"in", {{"shape", ""}}}}),
         step("a", "circle", {{"radius", 0.5}, {"plane", "top"}, {"in", {{"shape", ""}}}}),
         step("up", "transform", {{"move", {0.3, 0, 1}}}),
         step("d", "project_onto",
              {{"by", "axis"}, {"axis", "z"}, {"centre", {0.3, 0, 0}}, {"in", {{"shape", "up"}, {"onto", "ball"}}}})});
    REQUIRE(ring.clean("d"));
    for (const Knot& knot : ring.step("d").shape->curves[0].knots) {
        CHECK(knot.at.z == Approx(1));
        CHECK(std::hypot(knot.at.x, knot.at.y) == Approx(2).epsilon(2e-3));
    }
}
