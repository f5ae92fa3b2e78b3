// SPDX-License-Identifier: GPL-3.0-or-later
// Skies out of pictures, glowing bodies, coats, tints, the ground that catches shadow, and form in the light alone:
// against closed formulas.
#include <atomic>
#include <catch2/catch.hpp>
#include <chrono>
#include <fstream>
#include <glm/gtc/matrix_transform.hpp>
#include <thread>

#include "core/files/files.h"
#include "core/ground/colour_temperature.h"
#include "core/kernels/sky_picture.h"
#include "core/kernels/solids.h"
#include "core/still/lamps.h"
#include "core/still/picture_file.h"
#include "core/still/ray_scene.h"
#include "core/still/refine.h"
#include "tests/support/folder.h"
#include "tests/support/light.h"

namespace bricol::test {

namespace {

std::shared_ptr<const SkyPicture> picture_of(int width, int height, const std::function<Vec3(int, int)>& at) {
    auto picture = std::make_shared<SkyPicture>(SkyPicture{width, height, {}});
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) picture->pixels.push_back(at(x, y));
    return picture;
}

/// A picture with shared exponents, rows unpacked.
std::string shared_exponents(int width, int height, const std::string& pixel) {
    std::string text =
        "#?RGBE\nFORMAT=32-bit_rle_rgbe\n\n-Y " + std::to_string(height) + " +X " + std::to_string(width) + "\n";
    for (int i = 0; i < width * height; ++i) text += pixel;
    return text;
}

}  // namespace

TEST_CASE("light: a glowing body's colour", "[light][outside]") {
    // CIE 15: illuminant A is the black body of 2856 K, x 0.44757, y 0.40745.
    const DVec2 a = black_body_xy(2856);
    CHECK(a.x == Approx(0.44757).margin(0.003));
    CHECK(a.y == Approx(0.40745).margin(0.003));
    // Equal energy is approached from neither side; from memory of tables of the Planckian locus: 6500 K.
    const DVec2 day = black_body_xy(6500);
    CHECK(day.x == Approx(0.3135).margin(0.003));
    CHECK(day.y == Approx(0.3237).margin(0.003));
    const DVec3 warm = temperature_colour(2700), cold = temperature_colour(12000);
    CHECK(warm.x > warm.y);
    CHECK(warm.y > warm.z);
    CHECK(cold.z > cold.x);
}

TEST_CASE("light: a sky out of a picture gives what its pixels add up to", "[light][outside]") {
    StillScene scene = floor_scene();
    scene.sky.strength = 0.5;
    // One radiance everywhere: pi times it.
    scene.sky.picture = picture_of(16, 8, [](int, int) { return Vec3(2); });
    CHECK(irradiance(scene, 64) == Approx(std::numbers::pi).epsilon(0.01));
    // One bright pixel of a fine picture: radiance times its solid angle times the cosine, wherever it is turned to.
    scene.sky.strength = 1;
    scene.sky.picture = picture_of(64, 32, [](int x, int y) { return x == 40 && y == 8 ? Vec3(1000) : Vec3(0); });
    const double from = std::numbers::pi * 8 / 32, to = std::numbers::pi * 9 / 32;
    // Over the pixel the cosine is integrated as (sin^2 to - sin^2 from) / 2.
    const double wanted =
        1000 * 2 * std::numbers::pi / 64 * (std::pow(std::sin(to), 2) - std::pow(std::sin(from), 2)) / 2;
    for (const double turn : {0.0, 77.0}) {
        scene.sky.turn = turn;
        CHECK(irradiance(scene, 64) == Approx(wanted).epsilon(0.01));
    }
    // Only half of the sky is over the floor.
    scene.sky.picture = picture_of(16, 8, [](int, int y) { return Vec3(y < 4 ? 0.0f : 5.0f); });
    CHECK(irradiance(scene, 16) == Approx(0).margin(1e-6));
}

TEST_CASE("light: where a sky's picture lies", "[light]") {
    // +x in the middle, +y left of it, up in the first row.
    const SkyMap map(picture_of(4, 2, [](int x, int y) { return Vec3(static_cast<float>(x + 10 * y)); }), 0);
    CHECK(map.light(glm::normalize(Vec3(1, 0.1f, 0.2f))).x == 1);
    CHECK(map.light(glm::normalize(Vec3(1, -0.1f, 0.2f))).x == 2);
    CHECK(map.light(glm::normalize(Vec3(-1, 0.1f, -0.2f))).x == 10);
    // What is sampled has the density that is told, and shows a pixel that is not black.
    for (std::uint32_t i = 0; i < 200; ++i) {
        PathNumbers numbers(1, i, 1);
        float density = 0;
        const Vec3 way = map.sampled(numbers.two(), density);
        CHECK(density == Approx(map.density(way)));
        CHECK(map.light(way).x > 0);
    }
}

TEST_CASE("light: skies are read from EXR and shared exponents, and what is broken is refused in words", "[light]") {
    // 128, 64, 32 with exponent 130: a factor of 2^(130 - 136).
    const auto plain = read_sky_picture(shared_exponents(3, 2, std::string("\x80\x40\x20\x82", 4)));
    REQUIRE(plain);
    CHECK(plain->width == 3);
    CHECK(plain->pixels.size() == 6);
    CHECK(plain->pixels[5] == Vec3(2, 1, 0.5));
    // Packed rows: four runs of nine.
    std::string packed = "#?RGBE\nFORMAT=32-bit_rle_rgbe\n\n-Y 1 +X 9\n";
    packed += std::string("\x02\x02\x00\x09", 4);
    for (const char byte : {'\x80', '\x40', '\x20', '\x82'}) packed += std::string("\x89", 1) + byte;
    const auto runs = read_sky_picture(packed);
    REQUIRE(runs);
    CHECK(runs->pixels == std::vector<Vec3>(9, Vec3(2, 1, 0.5)));

    // Our own EXR back again.
    const Folder folder;
    StillPicture picture;
    picture.width = 4, picture.height = 2;
    picture.colour = std::vector<Vec3>(8, Vec3(3, 0.5f, 0.25f));
    picture.albedo = picture.normal = std::vector<Vec3>(8, Vec3(0));
    picture.depth = picture.cover = picture.error = std::vector<float>(8, 0);
    picture.part = picture.material = std::vector<std::int32_t>(8, 0);
    REQUIRE_FALSE(write_picture(picture, folder / "sky.exr", StillCurve::plain));
    const auto bytes = read_file(folder / "sky.exr");
    REQUIRE(bytes);
    const auto exr = read_sky_picture(*bytes);
    REQUIRE(exr);
    CHECK(exr->pixels[7] == Vec3(3, 0.5f, 0.25f));

    // Cut off anywhere, or with any byte changed: a picture or words, never a crash.
    for (const std::string& whole : {*bytes, packed})
        for (std::size_t end = 0; end < whole.size(); end += 7) {
            const auto cut = read_sky_picture(std::string_view(whole).substr(0, end));
            if (!cut) CHECK_FALSE(cut.problem().what.empty());
            std::string changed = whole;
            changed[end] = static_cast<char>(changed[end] ^ 0x5a);
            (void)read_sky_picture(changed);
        }
    const auto huge = read_sky_picture("#?RGBE\nFORMAT=32-bit_rle_rgbe\n\n-Y 60000 +X 120000\n");
    REQUIRE_FALSE(huge);
    CHECK(huge.problem().what.find("million") != std::string::npos);
    CHECK_FALSE(read_sky_picture("GIF89a"));
}

TEST_CASE("light: a glowing ball gives a floor what the formula says", "[light][outside]") {
    // A ball of radiance L seen under a half angle a: pi L sin^2 a, straight above the floor.
    StillScene scene = floor_scene();
    Material glow = material_of(0, 0, 1);
    glow.ior = 1;
    glow.emission = Vec3(5);
    scene.shapes.push_back(made_of(lifted(make_geodesic_sphere(0.5, 24), {0, 0, 2}), glow));
    CHECK(irradiance(scene) == Approx(std::numbers::pi * 5 * 0.0625).epsilon(0.01));
    // Half the radius, a quarter of the light; the light of two adds up.
    scene.shapes.back() = made_of(lifted(make_geodesic_sphere(0.25, 24), {0, 0, 2}), glow);
    CHECK(irradiance(scene) == Approx(std::numbers::pi * 5 * 0.0625 / 4).epsilon(0.01));
    // The camera sees it as bright as it is.
    scene.camera.eye = {0, -8, 2}, scene.camera.aim = {0, 0, 2};
    CHECK(mean_of(still_of(scene, small(16))) == Approx(5).epsilon(0.01));
}

TEST_CASE("light: a clear coat takes nothing and adds nothing", "[light][outside]") {
    for (const double rough : {0.1, 0.6})
        for (const double metal : {0.0, 1.0}) {
            Material coated = material_of(1, metal, rough);
            coated.coat = 1;
            coated.coat_roughness = 0.1f;
            StillScene scene;
            scene.shapes.push_back(made_of(make_sphere(1, 64, 48), coated));
            scene.sky.strength = 1;
            scene.ground.high = scene.ground.low = DVec3(1);
            scene.camera.eye = {0, -6, 0};
            scene.camera.focal = 110;
            StillOptions options = small(512);
            options.bounces = 64;
            INFO(rough << " " << metal);
            CHECK(mean_of(still_of(scene, options)) == Approx(1).epsilon(0.01));
        }
}

TEST_CASE("light: tinted glass follows Beer's law", "[light][outside]") {
    // Through a slab square on: what passes both faces (index 1: all) times tint to the power of thickness over depth.
    for (const double thick : {0.01, 0.02, 0.05}) {
        Material glass = material_of(1, 0, 0, 1);
        glass.ior = 1;
        glass.tint = {0.8f, 0.4f, 0.1f};
        glass.tint_depth = 0.02f;
        StillScene scene;
        scene.shapes.push_back(made_of(make_box({1, thick, 1}, {1, 1, 1}), glass));
        scene.sky.strength = 1;
        scene.sky.above = scene.sky.below = scene.sky.horizon = DVec3(1);
        scene.camera.eye = {0, -20, 0};
        scene.camera.focal = 20000;
        const StillPicture picture = still_of(scene, small(64));
        Vec3 mean(0);
        for (const Vec3& c : picture.colour) mean += c / static_cast<float>(picture.colour.size());
        for (int c = 0; c < 3; ++c) CHECK(mean[c] == Approx(std::pow(glass.tint[c], thick / 0.02)).epsilon(0.01));
    }
}

TEST_CASE("light: a plain ground keeps its colour and catches shadow and glow", "[light]") {
    const auto scene_with = [](double colour) {
        StillScene scene;
        scene.shapes.push_back(
            made_of(lifted(make_box({1, 1, 1}, {1, 1, 1}), {0, 0, 0.5f}), material_of(colour, 0, 1)));
        StageLamp lamp;
        lamp.at = {0, 0, 6}, lamp.width = lamp.height = 2;
        lamp.strength = 400;
        scene.lights = {lamp};
        scene.sky.strength = 0.2;
        scene.ground.high = scene.ground.low = {0.3, 0.5, 0.7};
        scene.catcher = 1;
        scene.shapes.push_back(plain_ground(scene.shapes, {0.3, 0.5, 0.7}));
        scene.camera.focal = 4000;
        return scene;
    };
    const auto seen_at = [&](StillScene scene, const DVec3& at) {
        scene.camera.aim = at, scene.camera.eye = at + DVec3(0, -12, 12);
        const StillPicture picture = still_of(scene, small(256));
        Vec3 mean(0);
        for (const Vec3& c : picture.colour) mean += c / static_cast<float>(picture.colour.size());
        return mean;
    };
    // Far away nothing falls on it: its own colour.
    const Vec3 away = seen_at(scene_with(0.5), {60, 0, 0});
    CHECK(away.x == Approx(0.3).epsilon(0.02));
    CHECK(away.z == Approx(0.7).epsilon(0.02));
    // Under the box's edge it is darker, less so beside a white one, and red beside a red one is not asked of grey.
    const float dark = seen_at(scene_with(0.02), {0.56, 0, 0}).y, bright = seen_at(scene_with(0.95), {0.56, 0, 0}).y;
    CHECK(dark < 0.45f);
    // What glows lights it up; without any other light it is as bright as that makes a sheet of its colour.
    StillScene glows = scene_with(0.5);
    Material glow = material_of(0, 0, 1);
    glow.emission = Vec3(40);
    glows.shapes[0] = made_of(lifted(make_box({1, 1, 1}, {1, 1, 1}), {0, 0, 0.5f}), glow);
    CHECK(seen_at(glows, {1.2, 0, 0}).y > 0.55f);
    glows.lights.clear();
    glows.sky.strength = 0;
    CHECK(seen_at(glows, {1.2, 0, 0}).y > 0.1f);
    CHECK(seen_at(glows, {60, 0, 0}).y < 0.05f);
    CHECK(bright > dark * 1.05f);
}

TEST_CASE("light: hard edges shine as if round, within their radius alone", "[light]") {
    Material steel = material_of(0.5, 1, 0.3);
    steel.rounding = 0.1f;
    const RayScene scene({made_of(make_box({1, 1, 1}, {1, 1, 1}), steel)}, DVec3(0.5), RayTrees::one);
    const auto normal_at = [&](double x) {
        const RayHit hit = scene.along({static_cast<float>(x), 0, 3}, {0, 0, -1});
        REQUIRE(hit);
        return hit.normal;
    };
    // At the edge midway between top and side, a radius away as the top, in between in even turns.
    const auto lean = [&](double x) { return std::atan2(normal_at(x).x, normal_at(x).z) * 180 / std::numbers::pi; };
    CHECK(lean(0.4999) == Approx(45).margin(0.5));
    CHECK(lean(0.45) == Approx(22.5).margin(0.5));
    CHECK(lean(0.399) == Approx(0).margin(1e-3));
    CHECK(lean(0) == Approx(0).margin(1e-3));
    CHECK(lean(-0.45) == Approx(-22.5).margin(0.5));
}

TEST_CASE("light: a relief turns normals by its slope and none where there is none", "[light]") {
    Material cast = material_of(0.5, 0, 0.8);
    cast.bump = 0.001f;
    cast.bump_size = Vec3(0.02f);
    const auto spread = [&](float height) {
        Material m = cast;
        m.bump = height;
        const RayScene scene({made_of(make_grid(1, 1, 1, 1), m)}, DVec3(0.5), RayTrees::one);
        double sum = 0, along = 0;
        for (int i = 0; i < 400; ++i) {
            const RayHit hit = scene.along(
                {0.4f * std::sin(static_cast<float>(i)), 0.4f * std::cos(1.7f * static_cast<float>(i)), 1}, {0, 0, -1});
            sum += std::hypot(hit.normal.x, hit.normal.y) / hit.normal.z;
            along += hit.normal.x / hit.normal.z;
        }
        CHECK(std::abs(along / 400) < 0.25 * sum / 400 + 1e-6);  // no way is preferred
        return sum / 400;
    };
    CHECK(spread(0) == Approx(0).margin(1e-6));
    const double once = spread(0.0005f);
    CHECK(once > 0.01);
    CHECK(spread(0.001f) == Approx(2 * once).epsilon(0.02));
}

TEST_CASE("light: what did not change is not built again", "[light]") {
    const auto ball = made_of(make_sphere(0.5, 24, 16), material_of(0.5, 0, 0.5)),
               box = made_of(make_box({1, 1, 1}, {1, 1, 1}), material_of(0.5, 0, 0.5));
    const RayScene first({ball, box}, DVec3(0.5), RayTrees::of_each);
    CHECK(first.built() == 2);
    const auto moved = made_of(lifted(make_box({1, 1, 1}, {1, 1, 1}), {0, 2, 0}), material_of(0.5, 0, 0.5));
    const RayScene second({ball, moved}, DVec3(0.5), RayTrees::of_each, &first);
    CHECK(second.built() == 1);
    CHECK(second.along({0, 2, 5}, {0, 0, -1}).distance == Approx(4.5));
    CHECK(second.along({0, 0, 5}, {0, 0, -1}).distance == Approx(4.5).epsilon(1e-3));
}

TEST_CASE("light: one tree for all and one for each part are met alike, copies, tints and no copies too", "[light]") {
    const auto ball = made_of(make_sphere(0.5, 24, 16), material_of(0.5, 0, 0.5));
    auto copies = std::make_shared<Shape>();
    Attributes tints;
    tints.set(Domain::instance, attribute_name::colour, Array<Vec4>{Vec4(1, 0, 0, 1), Vec4(0, 1, 0, 1)});
    const glm::mat4 left = glm::translate(glm::mat4(1), Vec3(-2, 0, 0)),
                    right = glm::scale(glm::translate(glm::mat4(1), Vec3(2, 0, 0)), Vec3(1, 1, 2));
    copies->instances.emplace_back(ball, Array<glm::mat4>{left, right}, tints);
    copies->instances.emplace_back(ball, Array<glm::mat4>{}, Attributes{});  // all of them deleted
    auto single = std::make_shared<Shape>();
    single->instances.emplace_back(ball, Array<glm::mat4>{glm::translate(glm::mat4(1), Vec3(0, 2, 0))}, Attributes{});
    const std::vector<ShapePtr> shapes = {ball, copies, single};
    const RayScene one(shapes, DVec3(0.5), RayTrees::one), each(shapes, DVec3(0.5), RayTrees::of_each);
    int met = 0;
    for (float x = -3; x <= 3; x += 0.17f)
        for (float y = -1; y <= 3; y += 0.17f) {
            const RayHit a = one.along({x, y, 5}, {0, 0, -1}), b = each.along({x, y, 5}, {0, 0, -1});
            REQUIRE(bool(a) == bool(b));
            CHECK(one.blocked({x, y, 5}, {0, 0, -1}, 10) == bool(a));
            if (!a) continue;
            ++met;
            CHECK(a.part == b.part);
            CHECK(a.colour == b.colour);
            CHECK(glm::distance(a.at, b.at) < 1e-5f);
            CHECK(glm::distance(a.normal, b.normal) < 1e-5f);
        }
    CHECK(met > 50);
    // Where each stands, and what it is tinted with.
    const RayHit red = one.along({-2, 0, 5}, {0, 0, -1}), green = one.along({2, 0, 5}, {0, 0, -1});
    CHECK((red.part == 1 && green.part == 1));
    CHECK((red.colour.y == 0 && green.colour.x == 0 && red.colour.x > 0 && green.colour.y > 0));
    CHECK(red.distance == Approx(4.5).epsilon(1e-3));
    CHECK(green.distance == Approx(4).epsilon(1e-3));
    CHECK(one.along({0, 2, 5}, {0, 0, -1}).part == 2);
    CHECK(one.along({0, 0, 5}, {0, 0, -1}).part == 0);
}

TEST_CASE("light: a picture stopped at any moment begins again and comes out whole", "[light][stop]") {
    StillScene scene = framed_scene({made_of(make_torus(0.4, 0.15, 300, 150), material_of(0.5, 0, 0.4))},
                                    framing_camera({made_of(make_box({1, 1, 1}, {1, 1, 1}), {})}, 1.5));
    StillOptions options;
    options.width = 60, options.height = 40, options.samples = 2;
    const auto picture_of = [&](StillRefiner& refiner, const std::atomic<bool>* stop) {
        std::vector<Vec3> colours;
        const bool whole =
            refiner.run(scene, options, stop, [&](const StillRun& run) { colours = run.picture().colour; });
        return std::pair(whole, colours);
    };
    StillRefiner calm, hasty;
    const auto begun = std::chrono::steady_clock::now();
    const auto wanted = picture_of(calm, nullptr);
    REQUIRE(wanted.first);
    const auto took = std::chrono::steady_clock::now() - begun;
    for (int i = 0; i < 40; ++i) {  // trees are built anew until one run gets past them
        std::atomic<bool> stop = i == 0;
        const std::jthread asks([&] {
            std::this_thread::sleep_for(took * i / 80);
            stop = true;
        });
        picture_of(hasty, &stop);
        if (i % 5 == 4) scene.shapes[0] = std::make_shared<Shape>(*scene.shapes[0]);
    }
    const std::atomic<bool> never = false;
    const auto out = picture_of(hasty, &never);
    CHECK(out.first);
    CHECK(out.second == wanted.second);
}

}  // namespace bricol::test
