// SPDX-License-Identifier: GPL-3.0-or-later
// The settings of the steps that bend and move, one by one: places before and after, volumes and areas in closed form
// (Bronstein and Semendjajew, Handbook of Mathematics).
#include <catch2/catch.hpp>
#include <numbers>

#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

/// A post of four metres with an edge ring every quarter metre, standing on the ground.
const Json tall_post = step("post", "box", {{"size", {1, 1, 4}}, {"along_z", 16}});
/// The middle half of its points, by their height.
const Json upper =
    step("upper", "choose",
         {{"set", "upper"}, {"what", "vertices"}, {"rule", "box"}, {"low", {-1, -1, 1.9}}, {"high", {1, 1, 5}}});

/// Calls `check(before, after)` for every point of the post and what became of it.
template <class Check>
void each_point(const Tried& made, Check check) {
    REQUIRE(made.clean("d"));
    const Mesh &before = made.mesh("post"), &after = made.mesh("d");
    REQUIRE(before.vertex_count() == after.vertex_count());
    for (std::size_t i = 0; i < before.vertex_count(); ++i) {
        INFO("point " << i);
        check(DVec3((*before.positions)[i]), DVec3((*after.positions)[i]));
    }
}
Tried deformed_post(const char* key, const Json& settings) {
    return tried({tall_post, upper, step("d", key, settings)});
}

}  // namespace

TEST_CASE("stretch: axis, limits, volume, line and set", "[steps][bend]") {
    each_point(deformed_post("stretch", {{"factor", 2}, {"limits", "given"}, {"low", 1}, {"high", 2}}),
               [](const DVec3& p, const DVec3& q) {
                   const double z = p.z <= 1 ? p.z : p.z <= 2 ? 1 + 2 * (p.z - 1) : p.z + 1;  // beyond it moves along
                   CHECK(near(q, {p.x, p.y, z}));
               });
    each_point(deformed_post("stretch", {{"factor", 3}, {"axis", "x"}}), [](const DVec3& p, const DVec3& q) {
        CHECK(near(q, {-0.5 + 3 * (p.x + 0.5), p.y, p.z}));  // from its low end
    });
    const Tried kept = deformed_post("stretch", {{"factor", 4}, {"keep_volume", true}});
    CHECK(*kept.part().measures.volume == Approx(4));
    CHECK(kept.part().measures.box->size().x == Approx(0.5));  // four times as long, half as wide
    CHECK(kept.part().measures.box->size().z == Approx(16));
    // The line that stays is a corner of the post instead of its middle.
    const Tried corner =
        deformed_post("stretch", {{"factor", 4}, {"keep_volume", true}, {"about", "point"}, {"centre", {0.5, 0.5, 0}}});
    CHECK(corner.part().measures.box->high.x == Approx(0.5));
    CHECK(corner.part().measures.box->low.x == Approx(0));
    each_point(deformed_post("stretch", {{"factor", 2}, {"only", "upper"}}), [](const DVec3& p, const DVec3& q) {
        CHECK(near(q, {p.x, p.y, p.z < 1.9 ? p.z : 2 * p.z}));
    });
}

TEST_CASE("taper: limits, both ways across, bulge, line and set", "[steps][bend]") {
    each_point(deformed_post("taper", {{"first", 0.5}, {"second", 2}, {"limits", "given"}, {"low", 1}, {"high", 3}}),
               [](const DVec3& p, const DVec3& q) {
                   const double share = std::clamp((p.z - 1) / 2, 0.0, 1.0);
                   CHECK(near(q, {p.x * (1 - 0.5 * share), p.y * (1 + share), p.z}));
               });
    // A frustum of a pyramid: h/3 (A + B + sqrt(A B)).
    const Tried frustum = deformed_post("taper", {{"first", 0.5}, {"second", 0.5}});
    CHECK(*frustum.part().measures.volume == Approx(4.0 / 3 * (1 + 0.25 + 0.5)).epsilon(1e-3));
    each_point(deformed_post("taper", {{"first", 0}, {"second", 0}, {"about", "point"}, {"centre", {0.5, -0.5, 0}}}),
               [](const DVec3& p, const DVec3& q) {
                   const double left = 1 - p.z / 4;
                   CHECK(near(q, {0.5 + (p.x - 0.5) * left, -0.5 + (p.y + 0.5) * left, p.z}));
               });
    const Tried bulged = deformed_post("taper", {{"first", 1}, {"second", 1}, {"ramp", "bulge"}, {"bulge", 0.5}});
    CHECK(bulged.part().measures.box->size().x == Approx(1.5));  // half as much again, half way up
    std::size_t ends = 0;
    each_point(bulged, [&](const DVec3& p, const DVec3& q) {
        if (p.z == 0 || p.z == 4) {
            CHECK(near(p, q));
            ++ends;
        }
    });
    CHECK(ends == 2 * 4);
    each_point(deformed_post("taper", {{"first", 0.5}, {"second", 0.5}, {"only", "upper"}}),
               [](const DVec3& p, const DVec3& q) {
                   const double size = p.z < 1.9 ? 1 : 1 - p.z / 8;
                   CHECK(near(q, {p.x * size, p.y * size, p.z}));
               });
    const Tried eased = deformed_post("taper", {{"first", 0}, {"second", 1}, {"ramp", "eased"}});
    std::size_t middle = 0;
    each_point(eased, [&](const DVec3& p, const DVec3& q) {
        if (p.z == 2) {  // any ease that is even about its middle
            CHECK(near(q, {p.x / 2, p.y, 2}));
            ++middle;
        }
    });
    CHECK(middle == 4);
}

TEST_CASE("twist: angle, axis, limits, line and set", "[steps][bend]") {
    const auto turned = [](const DVec3& p, double degrees, const DVec3& about) {
        const double a = degrees * pi / 180;
        const DVec3 d = p - about;
        return about + DVec3(d.x * std::cos(a) - d.y * std::sin(a), d.x * std::sin(a) + d.y * std::cos(a), d.z);
    };
    each_point(deformed_post("twist", {{"angle", 60}, {"limits", "given"}, {"low", 1}, {"high", 3}}),
               [&](const DVec3& p, const DVec3& q) {
                   CHECK(near(q, turned(p, 60 * std::clamp((p.z - 1) / 2, 0.0, 1.0), {0, 0, p.z})));
               });
    each_point(deformed_post("twist", {{"angle", -360}, {"about", "point"}, {"centre", {0.5, 0.5, 9}}}),
               [&](const DVec3& p, const DVec3& q) {
                   CHECK(near(q, turned(p, -90 * p.z, {0.5, 0.5, p.z})));
               });
    each_point(deformed_post("twist", {{"angle", 180}, {"only", "upper"}}), [&](const DVec3& p, const DVec3& q) {
        CHECK(near(q, p.z < 1.9 ? p : turned(p, 45 * p.z, {0, 0, p.z})));
    });
    // About x the post's own middle height stays.
    each_point(deformed_post("twist", {{"angle", 180}, {"axis", "x"}}), [&](const DVec3& p, const DVec3& q) {
        const double a = pi * (p.x + 0.5), y = p.y, z = p.z - 2;
        CHECK(near(q, {p.x, y * std::cos(a) - z * std::sin(a), 2 + y * std::sin(a) + z * std::cos(a)}));
    });
}

TEST_CASE("shear: angle, direction, limits and set", "[steps][bend]") {
    each_point(deformed_post("shear", {{"angle", 45}, {"toward", "y"}}), [](const DVec3& p, const DVec3& q) {
        CHECK(near(q, {p.x, p.y + p.z, p.z}));
    });
    each_point(deformed_post("shear", {{"angle", 30}, {"limits", "given"}, {"low", 1}, {"high", 3}}),
               [](const DVec3& p, const DVec3& q) {
                   CHECK(near(q, {p.x + std::tan(pi / 6) * std::clamp(p.z - 1, 0.0, 2.0), p.y, p.z}));
               });
    each_point(deformed_post("shear", {{"angle", -45}, {"only", "upper"}}), [](const DVec3& p, const DVec3& q) {
        CHECK(near(q, {p.z < 1.9 ? p.x : p.x - p.z, p.y, p.z}));
    });
    CHECK(deformed_post("shear", {{"toward", "z"}}).finding("d", "same-axis"));
    // It has no line of its own that stays; one that is written is told, not passed over.
    const Tried asked = deformed_post("shear", {{"about", "point"}});
    CHECK_FALSE(asked.step("d").findings.empty());
}

TEST_CASE("bend: what is held, limits, line and set", "[steps][bend]") {
    // A quarter circle over two metres of the post: its middle line is an arc of radius 4/pi.
    const Json arc = {{"angle", 90}, {"axis", "z"}, {"toward", "x"}, {"limits", "given"}, {"low", 1}, {"high", 3}};
    const double radius = 2 / (pi / 2);
    each_point(deformed_post("bend", arc), [&](const DVec3& p, const DVec3& q) {
        if (p.z <= 1) CHECK(near(p, q));
        if (p.z < 3) return;
        // The upper metre lies down stiffly, away from the end of the arc.
        CHECK(near(q, {radius + (p.z - 3), p.y, 1 + radius - p.x}));
    });
    Json held = arc;
    held["hold"] = "middle";
    std::size_t in_middle = 0;
    each_point(deformed_post("bend", held), [&](const DVec3& p, const DVec3& q) {
        if (std::abs(p.z - 2) < 1e-9) {
            CHECK(near(p, q));
            ++in_middle;
        }
    });
    CHECK(in_middle == 4);
    // Pappus: bent about the middle line the volume stays, but for the eight chords that stand for the arc.
    const double chord = pi / 2 / 8;
    CHECK(*deformed_post("bend", arc).part().measures.volume == Approx(2 + 2 * std::sin(chord) / chord));
    // About the outer side the arc there keeps its length, and all else is squeezed: an annular sector has
    // (R² - r²)/2 times its angle.
    const Tried outer = deformed_post(
        "bend", {{"angle", 90}, {"axis", "z"}, {"toward", "x"}, {"about", "point"}, {"centre", {-0.5, 0, 0}}});
    const double out = 4 / (pi / 2), in = out - 1;
    CHECK(*outer.part().measures.volume == Approx((out * out - in * in) / 2 * pi / 2).epsilon(2e-3));
    std::size_t below = 0, top = 0;
    each_point(deformed_post("bend", {{"angle", 90}, {"axis", "z"}, {"toward", "x"}, {"only", "upper"}}),
               [&](const DVec3& p, const DVec3& q) {
                   if (p.z < 1.9) {
                       CHECK(near(p, q));
                       ++below;
                   }
                   if (p.z == 4) {
                       CHECK(q.z == Approx(4 / (pi / 2) - p.x));
                       ++top;
                   }
               });
    CHECK(below == 8 * 4);
    CHECK(top == 4);
}

TEST_CASE("roughen: layers, one side only, sliding, seed and set", "[steps][bend]") {
    const Json sheet = step("post", "grid", {{"width", 2}, {"depth", 2}, {"across", 40}, {"deep", 40}});
    const Json half =
        step("half", "choose",
             {{"set", "half"}, {"what", "vertices"}, {"rule", "box"}, {"low", {0, -2, -1}}, {"high", {2, 2, 1}}});
    const auto rough = [&](const Json& more) {
        Json settings = {{"height", 0.1}, {"way", "z"}};
        settings.update(more);
        return tried({sheet, half, step("d", "roughen", settings)});
    };
    const auto heights = [](const Tried& made) {
        std::vector<double> out;
        for (const Vec3& p : *made.mesh("d").positions) out.push_back(p.z);
        return out;
    };
    const auto span = [](const std::vector<double>& z) {
        const auto [low, high] = std::minmax_element(z.begin(), z.end());
        return std::pair{*low, *high};
    };
    const auto plain = heights(rough(Json::object()));
    CHECK(span(plain).first < -0.01);
    CHECK(span(plain).first >= -0.1 - 1e-6);
    CHECK(span(plain).second > 0.01);
    CHECK(span(plain).second <= 0.1 + 1e-6);
    CHECK(span(heights(rough({{"outwards", true}}))).first >= 0);
    CHECK(heights(rough({{"seed", 2}})) != plain);
    CHECK(heights(rough({{"seed", 1}})) == plain);
    // The pattern slides: what stood at x stands at x + 0.5, up to the rounding of places.
    const auto slid = heights(rough({{"offset", {0.5, 0, 0}}}));
    const Mesh mesh = rough(Json::object()).mesh("d");
    double worst_along = 0, worst_against = 0;
    for (std::size_t i = 0; i < mesh.vertex_count(); ++i)
        for (std::size_t j = 0; j < mesh.vertex_count(); ++j) {
            const Vec3 &a = (*mesh.positions)[i], &b = (*mesh.positions)[j];
            if (std::abs(a.y - b.y) > 1e-6f || std::abs(b.x - a.x - 0.5f) > 1e-5f) continue;
            worst_along = std::max(worst_along, std::abs(slid[j] - plain[i]));
            worst_against = std::max(worst_against, std::abs(slid[i] - plain[j]));
        }
    CHECK(std::min(worst_along, worst_against) < 1e-5);
    CHECK(std::max(worst_along, worst_against) > 1e-3);
    // Weaker layers leave less of the fine bumps: neighbours differ less.
    const auto unrest = [&](const std::vector<double>& z) {
        double sum = 0;
        for (const auto& [a, b] : mesh.topology->edges) sum += std::abs(z[a] - z[b]);
        return sum / (span(z).second - span(z).first);
    };
    CHECK(unrest(heights(rough({{"roughness", 0.1}}))) < unrest(plain));
    CHECK(unrest(heights(rough({{"octaves", 1}}))) < unrest(heights(rough({{"roughness", 0.9}}))));
    const Tried partly = rough({{"only", "half"}});
    for (const Vec3& p : *partly.mesh("d").positions)
        if (p.x < -1e-6f) CHECK(p.z == 0);
    CHECK(span(heights(partly)).second > 0);
}

TEST_CASE("smooth: strength, volume, borders and set", "[steps][bend]") {
    // One point of a flat sheet pulled up goes down by the strength in one round, as its neighbours' mean is 0.
    const Json sheet = step("a", "grid", {{"width", 4}, {"depth", 4}, {"across", 4}, {"deep", 4}});
    const Json middle =
        step("m", "choose",
             {{"set", "middle"}, {"what", "vertices"}, {"rule", "ball"}, {"centre", {0, 0, 0}}, {"radius", 0.1}});
    const Json up =
        step("u", "push", {{"along", "direction"}, {"direction", {0, 0, 1}}, {"amount", 1}, {"only", "middle"}});
    const auto top = [&](const Json& settings) {
        return tried({sheet, middle, up, step("d", "smooth", settings)}).part().measures.box->high.z;
    };
    CHECK(top({{"rounds", 1}, {"strength", 0.25}, {"keep_volume", false}}) == Approx(0.75));
    CHECK(top({{"rounds", 1}, {"strength", 1}, {"keep_volume", false}, {"only", "middle"}}) == Approx(0).margin(1e-6));
    CHECK(top({{"rounds", 0}}) == Approx(1));
    // A ball of 32 by 16 keeps its size when it is asked to, and shrinks when not.
    const auto ball = [](bool keep) {
        return *tried({step("a", "sphere", {{"radius", 1}}),
                       step("d", "smooth", {{"rounds", 30}, {"keep_volume", keep}})})
                    .part()
                    .measures.volume;
    };
    const double before = *tried({step("a", "sphere", {{"radius", 1}})}).part().measures.volume;
    CHECK(ball(true) == Approx(before).epsilon(0.05));
    CHECK(ball(false) < 0.9 * before);
    // Held borders keep the sheet's size; free ones draw in.
    const auto width = [&](bool held) {
        return tried({sheet, step("d", "smooth", {{"rounds", 5}, {"keep_volume", false}, {"hold_borders", held}})})
            .part()
            .measures.box->size()
            .x;
    };
    CHECK(width(true) == Approx(4));
    CHECK(width(false) < 3.9);
}

TEST_CASE("lattice and blend: how much, by weight, and only the points of the set", "[steps][bend]") {
    each_point(deformed_post("lattice", {{"counts", {2, 2, 2}}}),
               [](const DVec3& p, const DVec3& q) { CHECK(near(p, q)); });  // a cage nobody pulled
    // One corner of eight pulled up by a metre: every point by the product of its shares of the box.
    const Json corner = Json::array({{{"point", {1, 1, 1}}, {"move", {0, 0, 1}}}});
    for (const char* between : {"smooth", "straight"})
        each_point(deformed_post("lattice", {{"points", corner}, {"between", between}, {"only", "upper"}}),
                   [](const DVec3& p, const DVec3& q) {
                       const double lifted = p.z < 1.9 ? 0 : (p.x + 0.5) * (p.y + 0.5) * p.z / 4;
                       CHECK(near(q, p + DVec3(0, 0, lifted)));
                   });
    const auto blended = [&](const Json& settings) {
        Json s = settings;
        s["in"] = {{"shape", "upper"}, {"other", "wide"}};
        return tried({tall_post, upper, step("wide", "transform", {{"size", {3, 3, 1}}, {"in", {{"shape", "post"}}}}),
                      step("d", "blend", s)});
    };
    each_point(blended({{"amount", 0.5}}), [](const DVec3& p, const DVec3& q) {
        CHECK(near(q, {2 * p.x, 2 * p.y, p.z}));
    });
    each_point(blended({{"amount", 1}, {"only", "upper"}}),
               [](const DVec3& p, const DVec3& q) { CHECK(near(q, p.z < 1.9 ? p : DVec3(3 * p.x, 3 * p.y, p.z))); });
    each_point(blended({{"amount", 1}, {"weight", "upper"}}),
               [](const DVec3& p, const DVec3& q) { CHECK(near(q, p.z < 1.9 ? p : DVec3(3 * p.x, 3 * p.y, p.z))); });
}
