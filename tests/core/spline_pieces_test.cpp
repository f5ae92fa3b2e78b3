// SPDX-License-Identifier: GPL-3.0-or-later
// The seven pieces of the splines: net floats, pier, windsock, lantern, ice box, loom and creel.
#include <catch2/catch.hpp>
#include <numbers>

#include "core/kernels/path.h"
#include "core/kernels/real_geometry.h"
#include "core/kernels/surface_finder.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

struct Piece {
    Recipe recipe;
    Made made;

    const PartOutcome& part(const std::string& name) const {
        const PartOutcome* found = made.part(recipe, name);
        REQUIRE(found);
        return *found;
    }
    const Shape& step(const std::string& part, const std::string& id) const {
        const StepOutcome* found = made.step(recipe, part, id);
        REQUIRE(found);
        return *found->shape;
    }
    bool says(const std::string& part, const std::string& id, const std::string& code) const {
        return std::ranges::any_of(made.step(recipe, part, id)->findings,
                                   [&](const Finding& f) { return f.code == code; });
    }
};

Piece made(Recipe recipe, std::initializer_list<std::pair<const char*, double>> dials = {}) {
    for (const auto& [name, value] : dials) {
        auto edited = turn_dial(recipe, name, value);
        REQUIRE(edited);
        recipe = *edited;
    }
    MakeOptions options;
    options.environment.folder = demo_folder;
    options.environment.find_kit = kit_reader();
    options.environment.read_file = file_reader();
    options.thorough = true;
    Piece piece{recipe, Maker(std::size_t(256) << 20).make(recipe, options)};
    for (std::size_t p = 0; p < recipe.parts.size(); ++p)
        for (const auto& step : piece.made.steps[p])
            for (const Finding& f : step->findings)
                if (f.severity == Severity::error) UNSCOPED_INFO(recipe.parts[p]->name << ": " << f.text);
    CHECK_FALSE(piece.made.has_errors());
    return piece;
}

}  // namespace

TEST_CASE("floats hang along their rope, touching, each rolled on from the last", "[demo][netline][released]") {
    const Recipe line = demo_recipe("netline");
    std::size_t straight = 0;
    for (const double sag : {0.0, 0.55, 1.0}) {
        const Piece one = made(line, {{"sag", sag}, {"slack", 0}});
        const auto& group = one.part("floats").shape->instances.at(0);
        if (sag == 0)
            straight = group.count();
        else
            CHECK(group.count() > straight);  // a longer rope takes more floats
        const Path rope = make_path(one.step("rope_path", "rope").curves.at(0), {}, 64);
        const DVec3 half(0.085, 0, 0);
        double worst_gap = 0, worst_off = 0;
        for (std::size_t i = 0; i < group.count(); ++i) {
            const auto end = [&](std::size_t k, double side) {
                return DVec3(glm::dmat4(group.places[k]) * glm::dvec4(half * side, 1));
            };
            if (i > 0) worst_gap = std::max(worst_gap, glm::distance(end(i, -1), end(i - 1, 1)));
            double nearest = 1e9;
            for (int k = 0; k <= 2000; ++k)
                nearest = std::min(nearest, glm::distance(rope.at(rope.whole * k / 2000).at, end(i, 1)));
            worst_off = std::max(worst_off, nearest);
        }
        INFO("sag " << sag << ": gap " << worst_gap << ", off the rope " << worst_off);
        CHECK(worst_gap < 1e-5);
        CHECK(worst_off < 0.002);  // the rope is looked at every two millimetres
        // Rolls: the copy's own z against the first one's upright, about the way it lies.
        for (std::size_t i = 0; i < std::min<std::size_t>(group.count(), 6); ++i) {
            const DVec3 ahead = glm::normalize(DVec3(group.places[i] * Vec4(1, 0, 0, 0))),
                        z(group.places[i] * Vec4(0, 0, 1, 0));
            const DVec3 up = glm::normalize(DVec3(0, 0, 1) - ahead * ahead.z), right = glm::cross(ahead, up);
            const double roll = glm::degrees(std::atan2(-glm::dot(z, -right), glm::dot(z, up)));
            CHECK(std::abs(std::remainder(roll - 90.0 * static_cast<double>(i), 360)) == Approx(0).margin(1e-3));
        }
    }
    const Piece third = made(line, {{"roll", 30}});
    CHECK(third.part("floats").shape->instances.at(0).count() ==
          made(line).part("floats").shape->instances.at(0).count());
}

TEST_CASE("spare floats lie in a heap by the line's post", "[demo][netline][wide]") {
    const Recipe line = demo_recipe("netline");
    for (const double length : {0.08, 0.17, 0.4}) {
        const Piece one = made(line, {{"float_length", length}});
        const auto& group = one.part("spare").shape->instances.at(0);
        CHECK(group.count() == 12);
        const Box block = *box_of(*group.shape);
        double high = 0, low = 0;
        for (const glm::mat4& place : group.places) {
            double own = 1e9;
            for (int corner = 0; corner < 8; ++corner) {
                const DVec3 at(glm::dmat4(place) * glm::dvec4(corner & 1 ? block.high.x : block.low.x,
                                                              corner & 2 ? block.high.y : block.low.y,
                                                              corner & 4 ? block.high.z : block.low.z, 1));
                own = std::min(own, at.z);
                CHECK(std::hypot(at.x + 1.5 - 0.62, at.y + 0.42) < 0.25 + 2 * length);  // near where they were dropped
            }
            CHECK(own > -0.024);  // corners are rounded by so much: none sinks into the ground
            low = std::min(low, own), high = std::max(high, own);
        }
        CHECK(low < 0.002);
        if (length == 0.17) CHECK(high > 0.02);  // a heap: some lie on others
    }
}

TEST_CASE("the pier is level across, closed, and goes in straight lengths or smoothly", "[demo][pier][released]") {
    const Recipe pier = demo_recipe("pier");
    std::size_t bends[2] = {0, 0};
    for (const double lengths : {0.0, 6.0}) {
        const Piece one = made(pier, {{"plan_lengths", lengths}, {"height_lengths", lengths * 2}});
        const Mesh &before = one.step("pier", "straight").mesh, &after = one.part("pier").shape->mesh;
        REQUIRE(before.vertex_count() == after.vertex_count());
        std::map<std::pair<float, float>, std::pair<float, float>> level;
        for (std::size_t i = 0; i < before.vertex_count(); ++i) {
            const Vec3 &p = (*before.positions)[i], &q = (*after.positions)[i];
            auto [it, fresh] = level.try_emplace({p.x, p.z}, std::pair{q.z, q.z});
            it->second = {std::min(it->second.first, q.z), std::max(it->second.second, q.z)};
        }
        double worst = 0;
        for (const auto& [key, range] : level) worst = std::max(worst, static_cast<double>(range.second - range.first));
        CHECK(level.size() < before.vertex_count());
        CHECK(worst < 1e-6);
        CHECK(one.part("deck").measures.closed);  // the faces between the bays went
        CHECK(one.part("deck").measures.pieces == 1);
        CHECK(one.part("band").measures.closed);
        CHECK_FALSE(one.says("pier", "laid", "longer-than-path"));
        // Piles go from the sand up into the deck, a pair and a beam under each bay.
        const PartOutcome& piles = one.part("piles");
        CHECK(piles.measures.closed);
        CHECK(piles.measures.pieces == 12);
        CHECK(box_of(*piles.shape)->low.z == Approx(0).margin(1e-6));
        const SurfaceFinder walkway(after);
        for (const Vec3& p : *piles.shape->mesh.positions)
            if (p.z > 1e-4f) CHECK(walkway.nearest(DVec3(p)).distance < 0.35);
        // Where the deck's edge bends, seen from above: everywhere, or at the breaks only.
        std::vector<Vec3> edge;
        for (std::size_t i = 0; i < before.vertex_count(); ++i)
            if (std::abs((*before.positions)[i].y - 1.3f) < 1e-4f && std::abs((*before.positions)[i].z) < 1e-4f)
                edge.push_back(Vec3((*before.positions)[i].x, (*after.positions)[i].x, (*after.positions)[i].y));
        std::ranges::sort(edge, {}, [](const Vec3& v) { return v.x; });
        REQUIRE(edge.size() > 30);
        for (std::size_t i = 1; i + 1 < edge.size(); ++i) {
            const DVec2 in(edge[i].y - edge[i - 1].y, edge[i].z - edge[i - 1].z),
                to(edge[i + 1].y - edge[i].y, edge[i + 1].z - edge[i].z);
            const double turn = std::abs(std::atan2(in.x * to.y - in.y * to.x, glm::dot(in, to)));
            bends[lengths > 0] += turn > 1e-3;
        }
    }
    CHECK(bends[0] > 30);
    CHECK(bends[1] < bends[0] / 2);
}

TEST_CASE("the windsock's end rings are level, its cloth open, and every gust another", "[demo][windsock]") {
    const Recipe sock = demo_recipe("windsock");
    std::set<std::pair<float, float>> middles;
    for (const double gust : {1.0, 2.0, 3.0, 77.0}) {
        const Piece one = made(sock, {{"gust", gust}});
        const Mesh& mesh = one.step("sock", "cloth").mesh;
        CHECK(measure(mesh).border_edges == 48);  // two rings of 24
        float low[2] = {1e9f, 1e9f}, high[2] = {-1e9f, -1e9f}, from = 1e9f, to = -1e9f;
        const auto& along = column<float>(mesh, Domain::vertex, "along");
        for (std::size_t i = 0; i < mesh.vertex_count(); ++i) {
            const Vec3& p = (*mesh.positions)[i];
            for (const int end : {0, 1})
                if (along[i] == static_cast<float>(end))
                    low[end] = std::min(low[end], p.x), high[end] = std::max(high[end], p.x);
            from = std::min(from, along[i]), to = std::max(to, along[i]);
        }
        for (const int end : {0, 1}) CHECK(high[end] - low[end] < 1e-6f);
        CHECK(from == 0);
        CHECK(to == 1);
        for (const Vec2& uv : column<Vec2>(mesh, Domain::corner, attribute_name::uv))
            CHECK((uv.x >= 0 && uv.x <= 1 && uv.y >= 0 && uv.y <= 1));
        CHECK_FALSE(one.says("sock", "cloth", "end-tilted"));
        const auto box = *box_of(*one.part("sock").shape);
        CHECK(middles.insert({static_cast<float>(box.size().y), static_cast<float>(box.size().z)}).second);
        // Five bands: orange, white, orange, white, orange.
        const auto& colour = column<Vec4>(one.part("sock").shape->mesh, Domain::vertex, attribute_name::colour);
        for (std::size_t i = 0; i < colour.size(); ++i) {
            const float at = along[i] * 5, from_rim = std::abs(at - std::round(at));
            if (from_rim > 0.1f) CHECK((colour[i].z > 0.5f) == (static_cast<int>(at) % 2 == 1));
        }
    }
    for (const double mast : {2.0, 2.6, 6.0}) {
        INFO(mast);
        const Piece one = made(sock, {{"mast", mast}, {"mouth", 0.9}, {"flutter", 0.6}});
        // The mouth is sewn round the hoop, the collar goes round the mast, and nothing touches the ground but the
        // mast.
        const Mesh& cloth = one.part("sock").shape->mesh;
        const auto& along = column<float>(cloth, Domain::vertex, "along");
        const SurfaceFinder hoop(one.part("hoop").shape->mesh);
        for (std::size_t i = 0; i < along.size(); ++i)
            if (along[i] == 0) CHECK(hoop.nearest(DVec3((*cloth.positions)[i])).distance < 0.012);
        CHECK(box_of(*one.part("sock").shape)->low.z > 0.1);
        CHECK(box_of(*one.part("mast").shape)->low.z == Approx(0).margin(1e-6));
        CHECK(box_of(*one.part("hoop").shape)->low.x < -0.05);
        CHECK(box_of(*one.part("hoop").shape)->high.z < mast);
    }
}

TEST_CASE("the lantern's glass has an even wall and clean poles", "[demo][lantern]") {
    const Recipe lantern = demo_recipe("lantern");
    for (const double wall : {0.002, 0.004}) {
        const Piece one = made(lantern, {{"wall", wall}});
        const PartOutcome& glass = one.part("glass");
        CHECK(glass.measures.closed);
        CHECK(glass.measures.pieces == 1);
        CHECK(glass.measures.euler == 2);
        CHECK_FALSE(one.says("glass", "turn", "near-axis"));
        // From the middle of every face of the outside, the inside is one wall away along the normal.
        const SurfaceFinder finder(glass.shape->mesh);
        const Mesh& outside = one.step("glass", "turn").mesh;
        double least = 1e9, most = 0;
        for (Index f = 0; f < outside.face_count(); f += 7) {
            DVec3 middle(0), normal(0);
            const auto face = outside.topology->face(f);
            for (std::size_t k = 0; k < face.size(); ++k) {
                middle += DVec3((*outside.positions)[face[k]]) / static_cast<double>(face.size());
                normal += glm::cross(DVec3((*outside.positions)[face[k]]),
                                     DVec3((*outside.positions)[face[(k + 1) % face.size()]]));
            }
            normal = glm::normalize(normal);
            const SurfaceHit hit = finder.along(middle - normal * (wall * 0.05), -normal);
            REQUIRE(hit);
            const double thick = glm::distance(hit.at, middle);
            least = std::min(least, thick), most = std::max(most, thick);
        }
        INFO("wall " << wall << ": " << least << " to " << most);
        CHECK(least > wall * 0.93);
        CHECK(most < wall * 1.15);
        CHECK(one.part("cap").measures.closed);
        CHECK(one.part("handle").measures.closed);
        CHECK(materials_of(*glass.shape).at(0).transmission > 0.9f);
    }
    CHECK(lantern.unit == "cm");
}

TEST_CASE("the ice box: one closed curve of four sides, a wall, a bottom and a lid", "[demo][icebox]") {
    const Recipe box = demo_recipe("icebox");
    for (const double corner : {0.02, 0.09, 0.2}) {
        const Piece one = made(box, {{"corner", corner}});
        const auto& ring = one.step("outline", "ring").curves;
        REQUIRE(ring.size() == 1);
        CHECK(ring[0].closed);
        const double side = 0.6, round = make_path(ring[0], {}, 64).whole;
        CHECK(round == Approx(4 * side - 8 * corner + 2 * std::numbers::pi * corner).epsilon(1e-3));
        CHECK(one.part("box").measures.closed);
        CHECK(one.part("box").measures.euler == 2);
        CHECK(one.part("lid").measures.closed);
        CHECK(*one.part("box").measures.volume > 0);
    }
    const Piece lifted = made(box, {{"open", 0.3}});
    CHECK(box_of(*lifted.part("lid").shape)->low.z == Approx(0.42 + 0.3).margin(1e-3));
    // Latches and rope bosses sit on the wall however it leans, keepers on the lid however far it is lifted.
    for (const double flare : {0.9, 1.06, 1.3})
        for (const double open : {0.0, 0.3}) {
            INFO("flare " << flare << ", open " << open);
            const Piece one = made(box, {{"flare", flare}, {"open", open}});
            for (const auto& [fitting, on] :
                 {std::pair{"latches", "box"}, std::pair{"bosses", "box"}, std::pair{"keepers", "lid"}}) {
                INFO(fitting);
                const SurfaceFinder wall(one.part(on).shape->mesh);
                double nearest = 1e9, farthest = 0;
                for (const Vec3& p : *one.part(fitting).shape->mesh.positions) {
                    const double away = wall.nearest(DVec3(p)).distance;
                    nearest = std::min(nearest, away), farthest = std::max(farthest, away);
                }
                CHECK(nearest < 0.004);
                CHECK(farthest < 0.09);
            }
        }
}

TEST_CASE("the loom is three cables in one sweep, with a plug at either end along the path", "[demo][loom][wide]") {
    const Piece one = made(demo_recipe("loom"));
    const PartOutcome& loom = one.part("loom");
    CHECK(loom.measures.pieces == 3);
    CHECK(loom.measures.closed);
    CHECK_FALSE(one.says("loom", "bundle", "tight-bend"));
    const auto& curves = one.step("way", "one").curves;
    REQUIRE(curves.size() == 1);
    const Path path = make_path(curves[0], {}, 32);
    const auto& plugs = one.part("plugs").shape->instances.at(0);
    REQUIRE(plugs.count() == 2);
    const std::pair<const Station*, glm::mat4> ends[] = {{&path.points.front(), plugs.places[0]},
                                                         {&path.points.back(), plugs.places[1]}};
    for (const auto& [station, place] : ends) {
        CHECK(glm::distance(DVec3(place[3]), station->at) < 1e-4);
        CHECK(glm::dot(glm::normalize(DVec3(place * Vec4(1, 0, 0, 0))), station->along) > 0.9999);
    }
    CHECK(made(demo_recipe("loom"), {{"turns", 3}}).step("way", "one").curves.size() == 1);
}

TEST_CASE("the creel's tile repeats without seams, and goes from flat to on by one dial", "[demo][creel][released]") {
    const Recipe creel = demo_recipe("creel");
    const Piece flat = made(creel, {{"on", 0}}), half = made(creel, {{"on", 0.5}}), on = made(creel);
    CHECK(on.says("tile", "meets", "tile-matches"));
    CHECK_FALSE(on.says("tile", "meets", "tile-differs"));
    // Side by side, canes go on from tile to tile: the panel has fewer pieces than canes in tiles.
    CHECK(on.part("panel").measures.pieces < on.part("tile").measures.pieces * 40);
    for (const char* part : {"back", "end"}) {
        const Mesh& mesh = on.step(part, "whole").mesh;
        const SurfaceFinder surface(on.part(std::string(part) + "_shell").shape->mesh);
        double farthest = 0;
        for (const Vec3& p : *mesh.positions) farthest = std::max(farthest, surface.nearest(DVec3(p)).distance);
        INFO(part << ": farthest off its shell " << farthest);
        CHECK(farthest < 0.0135);  // the rim is folded 8.5 mm to either side and reaches 6 mm beyond the shell's border
        const Box box = *box_of(*flat.part(part).shape), bent = *box_of(*on.part(part).shape),
                  between = *box_of(*half.part(part).shape);
        CHECK(box.size().z < 0.02);  // flat: as thick as the rim
        CHECK(bent.size().z > 0.15);
        CHECK(between.size().z > 0.05);
        CHECK_FALSE(on.says(part, "laid", "missed"));
        CHECK_FALSE(on.says(part, "laid", "pattern-crosses"));
        CHECK(std::ranges::none_of(on.part(part).findings, [](const Finding& f) {
            return f.code == "crossing-faces";
        }));  // the caps of cut canes included
    }
}
