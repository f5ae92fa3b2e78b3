// SPDX-License-Identifier: GPL-3.0-or-later
// The five pieces of the sheet: rock, fender, rack, helmet and shingle, across their dials and seeds.
#include <catch2/catch.hpp>

#include "core/files/kits.h"
#include "core/inspect/trace.h"
#include "core/kernels/boolean.h"
#include "core/kernels/choose.h"
#include "core/kernels/real_geometry.h"
#include "core/kernels/surface_finder.h"
#include "tests/support/build.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

MakeOptions beside() {
    MakeOptions options;
    options.environment.folder = demo_folder;
    options.environment.find_kit = kit_reader();
    return options;
}

Recipe turned(Recipe recipe, std::initializer_list<std::pair<const char*, double>> dials) {
    for (const auto& [name, value] : dials) {
        auto edited = turn_dial(recipe, name, value);
        REQUIRE(edited);
        recipe = *edited;
    }
    return recipe;
}

/// The recipe with a part that ends at a step: what stands behind it is not made.
Recipe up_to(Recipe recipe, const std::string& part, const std::string& step) {
    for (auto& one : recipe.parts) {
        if (one->name != part) continue;
        auto shorter = std::make_shared<Part>(*one);
        shorter->steps.resize(step_index(*one, step) + 1);
        one = std::move(shorter);
    }
    return recipe;
}

Vec3 size_of(const Mesh& mesh) {
    Vec3 low(1e9f), high(-1e9f);
    for (const Vec3& p : *mesh.positions) low = glm::min(low, p), high = glm::max(high, p);
    return high - low;
}

bool same_bytes(const Shape& a, const Shape& b) {
    return *a.mesh.positions == *b.mesh.positions && a.mesh.topology->content_hash() == b.mesh.topology->content_hash();
}

}  // namespace

TEST_CASE("the limpet rock is closed for fifty seeds", "[demo][rock][wide]") {
    const int stride = test::sanitized() ? 40 : 4;
    const Recipe rock = demo_recipe("rock");
    Maker maker(std::size_t(256) << 20);
    for (int seed = 0; seed < 200; seed += stride) {
        const Recipe one = turned(rock, {{"grain", seed}});
        const Made made = maker.make(one, beside());
        const PartOutcome& part = *made.part(one, "rock");
        INFO("seed " << seed);
        CHECK_FALSE(made.has_errors());
        CHECK(part.measures.closed);
        CHECK(part.measures.pieces == 1);
        CHECK(part.measures.volume.value_or(0) > 0.02);
    }
}

TEST_CASE("the rock's dials do what they say, and a late step makes nothing before it again",
          "[demo][rock][make][wide]") {
    const Recipe rock = demo_recipe("rock");
    Maker maker;
    const auto volume = [&](const Recipe& recipe) {
        return *maker.make(recipe, beside()).part(recipe, "rock")->measures.volume;
    };
    const double plain = volume(turned(rock, {{"pits", 1}})), pitted = volume(rock),
                 deep = volume(turned(rock, {{"pit_size", 0.2}}));
    CHECK(plain > pitted);
    CHECK(pitted > deep);
    const double large = volume(turned(rock, {{"length", 1.2}}));  // all lengths doubled: eight times the volume
    CHECK(large / pitted == Approx(8).epsilon(0.02));
    // Makes are counted, not time: one step changed, one step and what follows it made.
    const Made first = maker.make(rock, beside());
    const auto late = set_setting(rock, "rock", "fine", "octaves", 5);
    REQUIRE(late);
    const Made second = maker.make(*late, beside());
    CHECK(second.made == 3);  // the fine roughening, the material and the turn behind it
    CHECK(second.kept + second.made == first.kept + first.made);
    for (const char* id : {"rough", "spots", "cut", "even", "soften"})
        CHECK(second.step(*late, "rock", id)->shape == first.step(rock, "rock", id)->shape);
}

TEST_CASE("the fender is stained where the water stood; typed and wired it has the same bytes", "[demo][fender]") {
    const Recipe typed = demo_recipe("fender"), wired = demo_recipe("fender-wired");
    Maker maker;
    for (const double tide : {0.12, 0.25, 0.4}) {
        const Recipe a = turned(typed, {{"tide", tide}}), b = turned(wired, {{"tide", tide}});
        const Made made_a = maker.make(a, beside()), made_b = maker.make(b, beside());
        CHECK_FALSE(made_a.has_errors());
        CHECK_FALSE(made_b.has_errors());
        CHECK(same_bytes(*made_a.part(a, "fender")->shape, *made_b.part(b, "fender")->shape));
        const Mesh& mesh = made_a.part(a, "fender")->shape->mesh;
        CHECK(made_a.part(a, "fender")->measures.closed);
        // Dark below the tide mark, light above it.
        const auto& colour = column<Vec4>(mesh, Domain::vertex, attribute_name::colour);
        double below = 0, above = 0;
        int n_below = 0, n_above = 0;
        for (std::size_t i = 0; i < colour.size(); ++i) {
            const double z = static_cast<double>((*mesh.positions)[i].z);
            if (z < tide - 0.1) below += static_cast<double>(colour[i].x), ++n_below;
            if (z > tide + 0.15) above += static_cast<double>(colour[i].x), ++n_above;
        }
        REQUIRE(n_above > 100);
        if (n_below > 100) CHECK(below / n_below < 0.35 * above / n_above);
        // The wet part has shrunk: exactly by the weight times the squeeze along the normal, at the step that says so.
        const Mesh &before = made_a.step(a, "fender", "blur")->shape->mesh,
                   &after = made_a.step(a, "fender", "shrink")->shape->mesh;
        const auto& weight = column<float>(before, Domain::vertex, "weight");
        for (std::size_t i = 0; i < weight.size(); i += 7)
            CHECK(static_cast<double>(glm::distance((*before.positions)[i], (*after.positions)[i])) ==
                  Approx(static_cast<double>(weight[i]) * a.dial("squeeze")->value).margin(1e-6));
    }
}

TEST_CASE("the rack stands as its numbers say, and three of it line the quay", "[demo][rack]") {
    const Recipe rack = demo_recipe("rack");
    Maker maker;
    for (const int tiers : {1, 3, 6})
        for (const double height : {0.3, 0.7}) {
            const Recipe one = turned(rack, {{"tiers", tiers}, {"post_height", height}, {"bays", 4}});
            const Made made = maker.make(one, beside());
            CHECK_FALSE(made.has_errors());
            const PartOutcome& part = *made.part(one, "rack");
            const double tray = one.dial("tray")->value, lip = one.dial("lip")->value;
            CHECK(part.measures.closed);
            const Vec3 size = size_of(part.shape->mesh);
            CHECK(static_cast<double>(size.z) == Approx(tiers * (height + tray)).margin(1e-5));
            CHECK(static_cast<double>(size.x) == Approx(one.dial("width")->value + 2 * lip).margin(1e-5));
            CHECK(part.measures.pieces == static_cast<std::size_t>(tiers * (5 * 2 + 1)));
            // Posts and trays: counted by volume, the tray with its lip all round.
            const double w = one.dial("width")->value + 2 * lip, d = one.dial("depth")->value + 2 * lip,
                         pole = one.dial("pole_width")->value;
            CHECK(*part.measures.volume == Approx(tiers * (10 * pole * pole * height + w * d * tray)).epsilon(1e-4));
        }
    const Recipe quay = demo_recipe("quay-racks");
    const Made made = maker.make(quay, beside());
    CHECK_FALSE(made.has_errors());
    CHECK(made.part(quay, "racks")->measures.pieces == 2 * (5 * 2 + 1) + 4 * (3 * 2 + 1) + 1 * (2 * 2 + 1));
    const Made taller = maker.make(turned(quay, {{"tallest", 7}}), beside());
    CHECK(taller.parts[0]->measures.pieces == made.parts[0]->measures.pieces + 3 * 7);
}

TEST_CASE("the helmet's ports follow when its early shape is nudged", "[demo][helmet][wide]") {
    const Recipe helmet = demo_recipe("helmet");
    Maker maker;
    const Made made = maker.make(helmet, beside());
    CHECK_FALSE(made.has_errors());
    const PartOutcome& part = *made.part(helmet, "helmet");
    CHECK(part.measures.closed);
    // Three ports, mirrored with a welded seam: the front one is one piece, and left and right are alike.
    const Mesh& glass = made.step(helmet, "helmet", "glass")->shape->mesh;
    CHECK(measure(glass).pieces == 3);
    CHECK(count_of(*set_members(glass, Domain::face, "glass")) == glass.face_count());
    float left = 0, right = 0;
    for (const Vec3& p : *glass.positions) left = std::min(left, p.x), right = std::max(right, p.x);
    CHECK(left == Approx(-right).margin(1e-5));
    const auto off_form = [&](const Made& m, const Recipe& r) {
        const SurfaceFinder form(m.step(r, "helmet", "true_form")->shape->mesh);
        double most = 0;
        for (const Vec3& p : *m.step(r, "helmet", "on_form")->shape->mesh.positions)
            most = std::max(most, form.nearest(DVec3(p)).distance);
        return most;
    };
    CHECK(off_form(made, helmet) < 1e-6);
    // Flanges go outward and inward by linked numbers of opposite sign.
    CHECK(std::get<double>(made.step(helmet, "helmet", "flange_in")->values.find("distance")->second) ==
          -std::get<double>(made.step(helmet, "helmet", "flange_out")->values.find("distance")->second));
    // Fewer corners are bevelled above a larger angle.
    const auto faces = [&](double angle) {
        return maker.make(turned(helmet, {{"corner_angle", angle}}), beside()).parts[0]->measures.faces;
    };
    CHECK(faces(30) > faces(100));
    // The crown of the early shape pulled up by hand: still closed, glass still on the new form, frames with it.
    const Mesh& early = made.step(helmet, "helmet", "shaped")->shape->mesh;
    Index front = 0;
    for (Index v = 0; v < early.vertex_count(); ++v)
        if ((*early.positions)[v].y < (*early.positions)[front].y ||
            ((*early.positions)[v].y == (*early.positions)[front].y &&
             std::abs((*early.positions)[v].x) < std::abs((*early.positions)[front].x)))
            front = v;
    const Place place = pinned(early, Domain::vertex, front);
    const auto nudged =
        set_setting(helmet, "helmet", "by_hand", "places",
                    Json::array({{{"vertex", {place.at.x, place.at.y, place.at.z}}, {"move", {0, -0.02, 0}}}}));
    REQUIRE(nudged);
    const Made after = maker.make(*nudged, beside());
    CHECK_FALSE(after.has_errors());
    CHECK(after.parts[0]->measures.closed);
    CHECK(off_form(after, *nudged) < 1e-6);
    float before_front = 0, after_front = 0;
    for (const Vec3& p : *made.step(helmet, "helmet", "on_form")->shape->mesh.positions)
        before_front = std::min(before_front, p.y);
    for (const Vec3& p : *after.step(*nudged, "helmet", "on_form")->shape->mesh.positions)
        after_front = std::min(after_front, p.y);
    CHECK(after_front < before_front - 0.003f);
}

TEST_CASE("no two pebbles of the heap overlap more than the dial allows", "[demo][shingle]") {
    const Recipe shingle = up_to(demo_recipe("shingle"), "heap", "lay");
    Maker maker;
    const std::vector<int> grains = test::sanitized() ? std::vector{4} : std::vector{1, 4, 9};
    for (const double overlap : {0.05, 0.25, 0.5})
        for (const int grain : grains) {
            const Recipe one = turned(shingle, {{"overlap", overlap}, {"grain", grain}});
            const Made made = maker.make(one, beside());
            CHECK_FALSE(made.has_errors());
            const Shape& laid = *made.step(one, "heap", "lay")->shape;
            CHECK(laid.instances.size() == 5);  // a choice of five
            std::vector<DVec3> centres;
            std::vector<double> radii;
            for (const Instances& group : laid.instances) {
                const Box box = *box_of(*group.shape);
                for (const glm::mat4& place : group.places) {
                    centres.push_back(DVec3(glm::dmat4(place) * glm::dvec4(box.centre(), 1)));
                    radii.push_back(std::max({box.size().x, box.size().y, box.size().z}) / 2 *
                                    static_cast<double>(glm::length(Vec3(place[0]))));
                }
            }
            CHECK(centres.size() > 60);
            double worst = -1e9;
            for (std::size_t i = 0; i < centres.size(); ++i)
                for (std::size_t k = 0; k < i; ++k)
                    worst = std::max(worst, (radii[i] + radii[k] - glm::distance(centres[i], centres[k])) /
                                                (2 * std::min(radii[i], radii[k])));
            CHECK(worst <= overlap + 1e-6);
            CHECK(worst > overlap - 0.3);  // and the dial is what holds them apart
        }
}

TEST_CASE("the loose stones of the heap come down, stay, and lie on the sand or on others",
          "[demo][shingle][released]") {
    const Recipe shingle = demo_recipe("shingle");
    Maker maker;
    for (const int grain : {4, 7}) {
        const Recipe one = turned(shingle, {{"grain", grain}});
        const Made made = maker.make(one, beside());
        CHECK_FALSE(made.has_errors());
        const auto& before = made.step(one, "heap", "held_up")->shape->instances;
        const auto& after = made.step(one, "heap", "lie")->shape->instances;
        REQUIRE(before.size() == after.size());
        // What stands: the sand, and the stones that were laid; each loose stone is near one of them or of its own
        // kind.
        const SurfaceFinder below(real_geometry(made.step(one, "heap", "lower")->shape)->mesh);
        std::size_t stones = 0, low = 0;
        for (std::size_t g = 0; g < after.size(); ++g) {
            REQUIRE(after[g].count() == before[g].count());  // none rolled away
            for (std::size_t i = 0; i < after[g].count(); ++i) {
                CHECK(after[g].places[i][3].z < before[g].places[i][3].z - 0.01f);
                Shape stone;
                stone.instances.push_back(Instances(after[g].shape, {after[g].places[i]}));
                float nearest = 1e9f;
                const ShapePtr real = real_geometry(std::make_shared<const Shape>(stone));
                for (const Vec3& p : *real->mesh.positions)
                    nearest = std::min(nearest, static_cast<float>(below.nearest(p).distance));
                ++stones, low += nearest < 0.004f;
            }
        }
        CHECK(stones > 25);
        CHECK(low > stones * 0.8);  // the others lie on loose stones
    }
}

TEST_CASE("a spot on the rock is traced to the steps that made it and the numbers that move it", "[trace][wide]") {
    const Recipe rock = demo_recipe("rock");
    Maker maker;
    const Made made = maker.make(rock, beside());
    // A spot in a pit: a point of the cut mesh that lies on one of the balls and not on the rough rock.
    const Mesh &cut = made.step(rock, "rock", "cut")->shape->mesh, &result = made.part(rock, "rock")->shape->mesh;
    const SurfaceFinder rough(made.step(rock, "rock", "rough")->shape->mesh), finished(result);
    DVec3 pit(0), skin(0);
    double deepest = 0, away = 1e9;
    for (const Vec3& p : *cut.positions) {
        const double d = rough.nearest(DVec3(p)).distance;
        if (d > deepest) deepest = d, pit = DVec3(p);
    }
    for (const Vec3& p :
         *result.positions)  // on the skin, far from every pit: as near the rough rock as it gets, below
        if (p.z < -0.12f)
            if (const double d = rough.nearest(DVec3(p)).distance; d < away) away = d, skin = DVec3(p);
    REQUIRE(deepest > 0.01);
    const auto ids = [](const Trace& trace) {
        std::vector<std::string> list;
        for (const TracedStep& s : trace.steps) list.push_back(s.step);
        return list;
    };
    const auto has = [](const std::vector<std::string>& list, const char* id) {
        return std::ranges::find(list, id) != list.end();
    };
    const auto in_pit = ids(trace_spot(rock, made, "rock", finished.nearest(pit).at)),
               on_skin = ids(trace_spot(rock, made, "rock", skin));
    for (const char* id : {"hollow", "balls", "fine"}) CHECK(has(in_pit, id));
    CHECK(has(on_skin, "rough"));
    CHECK(has(on_skin, "ball"));
    CHECK_FALSE(has(on_skin, "hollow"));
    // In the order of making.
    CHECK(std::ranges::find(in_pit, "hollow") < std::ranges::find(in_pit, "balls"));
    CHECK(std::ranges::find(in_pit, "balls") < std::ranges::find(in_pit, "fine"));

    // Numbers: a transform far down moves a spot by just what it is turned by; a dial that does nothing there is not
    // listed.
    const Recipe simple = recipe_of(
        Json::array({step("b", "box", {{"size", {1, 1, "= tall"}}}), step("t", "transform", {{"move", {0, 0, 0.5}}})}),
        Json::array({{{"name", "tall"}, {"value", 2}, {"min", 1}, {"max", 4}},
                     {{"name", "idle"}, {"value", 1}, {"min", 0}, {"max", 9}}}));
    const Made box = maker.make(simple, beside());
    Trace trace = trace_spot(simple, box, "p", {0.1, 0.1, 2.5});
    CHECK(ids(trace) == std::vector<std::string>{"b", "t"});
    find_moving_numbers(trace, simple, "p", {0.1, 0.1, 2.5}, maker, beside());
    const auto number = [&](const std::string& name) {
        return std::ranges::find(trace.numbers, name, &TracedNumber::name);
    };
    REQUIRE(number("tall") != trace.numbers.end());
    CHECK(number("tall")->moves == Approx(std::abs(number("tall")->change)).epsilon(1e-3));
    REQUIRE(number("t.move.z") != trace.numbers.end());
    CHECK(number("t.move.z")->moves == Approx(std::abs(number("t.move.z")->change)).epsilon(1e-3));
    CHECK(number("idle") == trace.numbers.end());
}
