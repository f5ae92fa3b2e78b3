// SPDX-License-Identifier: GPL-3.0-or-later
// Light against closed formulas: what a lamp gives a floor, what glass bends, what a furnace gives back.
#include <tbb/global_control.h>

#include "core/still/lamps.h"
#include "core/still/surface.h"
#include "tests/support/light.h"

namespace bricol::test {

namespace {

/// From a patch below one corner to a rectangle parallel to it: J. Howell, "A catalog of radiation heat transfer
/// configuration factors", B-3.
double corner_factor(double width, double height, double distance) {
    const double a = width / distance, b = height / distance, p = std::sqrt(1 + a * a), q = std::sqrt(1 + b * b);
    return (a / p * std::atan(b / p) + b / q * std::atan(a / q)) / (2 * std::numbers::pi);
}

}  // namespace

TEST_CASE("still: a rectangle, a disc, a point, a spot and a sun give a floor what geometry says", "[still][outside]") {
    StillScene scene = floor_scene();
    StageLamp lamp;
    lamp.at = {0, 0, 1.5}, lamp.aim = {0, 0, 0};
    lamp.width = 2, lamp.height = 1;
    lamp.strength = 60;
    scene.lights = {lamp};
    const double radiance = 60 / (std::numbers::pi * 2);
    CHECK(irradiance(scene) == Approx(std::numbers::pi * radiance * 4 * corner_factor(1, 0.5, 1.5)).epsilon(0.01));
    // A disc straight above: pi L sin^2 of its half angle.
    lamp.kind = StageLamp::Kind::disc, lamp.radius = 0.8;
    scene.lights = {lamp};
    const double disc = 60 / (std::numbers::pi * std::numbers::pi * 0.64);
    CHECK(irradiance(scene) == Approx(std::numbers::pi * disc * 0.64 / (0.64 + 2.25)).epsilon(0.01));
    // A point: flux over 4 pi d^2; the inverse square, and Lambert's cosine aside.
    lamp.kind = StageLamp::Kind::point;
    for (const double height : {1.0, 2.0, 4.0}) {
        lamp.at = {0, 0, height};
        scene.lights = {lamp};
        CHECK(irradiance(scene, 16) == Approx(60 / (4 * std::numbers::pi * height * height)).epsilon(1e-3));
    }
    lamp.at = {0, 3, 4};
    scene.lights = {lamp};
    CHECK(irradiance(scene, 16) == Approx(60 / (4 * std::numbers::pi * 25) * 0.8).epsilon(1e-3));
    // A spot with a hard rim: flux over the solid angle of its cone.
    lamp.kind = StageLamp::Kind::spot, lamp.at = {0, 0, 2}, lamp.angle = 60, lamp.soft = 0;
    scene.lights = {lamp};
    CHECK(irradiance(scene, 16) ==
          Approx(60 / (2 * std::numbers::pi * (1 - std::cos(std::numbers::pi / 6))) / 4).epsilon(5e-3));
    // A sun 60 degrees from upright, in W/m^2 square to it.
    lamp.kind = StageLamp::Kind::sun, lamp.angle = 0.53, lamp.strength = 1000;
    lamp.at = {std::sqrt(3.0), 0, 1};
    scene.lights = {lamp};
    CHECK(irradiance(scene) == Approx(500).epsilon(0.01));
}

TEST_CASE("still: a sky of one colour gives pi times its radiance", "[still][outside]") {
    StillScene scene = floor_scene();
    scene.sky.strength = 2;
    CHECK(irradiance(scene, 1024) == Approx(2 * std::numbers::pi).epsilon(0.01));
}

TEST_CASE("still: the half shadow of a lamp is as wide as similar triangles make it", "[still][outside][released]") {
    // A lamp of width s at height H, an edge at height h: the half shadow is s h / (H - h) wide.
    StillScene scene = floor_scene();
    Mesh wall = make_box({10, 20, 0.001}, {1, 1, 1});
    Material black = material_of(0, 0, 1);
    black.ior = 1;
    scene.shapes.push_back(made_of(lifted(std::move(wall), {5, 0, 1}), black));
    StageLamp lamp;
    lamp.at = {0, 0, 3}, lamp.aim = {0, 0, 0};
    lamp.width = 0.6, lamp.height = 0.01;
    scene.lights = {lamp};
    // The lamp's width lies along x or y, as its frame has it; the wider one is tried both ways.
    double width = 0;
    for (const bool turned : {false, true}) {
        if (turned) std::swap(scene.lights[0].width, scene.lights[0].height);
        // A row of places across the shadow's edge, seen from the side of the light.
        StillOptions options;
        options.width = 201, options.height = 8, options.samples = 256;
        scene.camera.eye = {-8, 0, 10}, scene.camera.aim = {0, 0, 0}, scene.camera.up = {0, 1, 0};
        scene.camera.focal = 200;
        const StillPicture picture = still_of(scene, options);
        std::vector<double> row(201, 0), place(201, 0);
        for (int x = 0; x < 201; ++x) {
            for (int y = 0; y < 8; ++y)
                row[static_cast<std::size_t>(x)] +=
                    static_cast<double>(brightness(picture.colour[static_cast<std::size_t>(y * 201 + x)]));
            const StillRay ray = camera_ray(scene.camera, 201.0 / 8, {(x + 0.5) / 201, 0.5}, DVec2(0));
            place[static_cast<std::size_t>(x)] = ray.from.x - ray.way.x * ray.from.z / ray.way.z;
        }
        const double light = *std::ranges::max_element(row);
        const auto at_share = [&](double share) {
            // Far from under the lamp its light falls off too: the place nearest to the edge is meant.
            double best = 1e30;
            for (std::size_t x = 0; x + 1 < row.size(); ++x) {
                const double a = row[x] / light - share, b = row[x + 1] / light - share;
                const double here = place[x] + (place[x + 1] - place[x]) * a / (a - b);
                if ((a > 0) != (b > 0) && std::abs(here) < std::abs(best)) best = here;
            }
            return best;
        };
        width = std::max(width, std::abs(at_share(0.2) - at_share(0.8)));
    }
    // Over the small lamp the light falls off evenly across the half shadow: 60 % of it lie between.
    CHECK(width == Approx(0.6 * 0.6 * 1 / (3 - 1)).epsilon(0.06));
}

TEST_CASE("still: Fresnel's and Snell's laws at glass", "[still][outside]") {
    CHECK(fresnel_dielectric(1, 1.5f) == Approx(0.04));
    // Brewster's angle: what lies in the plane of incidence is not reflected; the other half is ((1 - n^2)/(1 +
    // n^2))^2.
    const double brewster = std::atan(1.5), across = (1 - 2.25) / (1 + 2.25);
    CHECK(fresnel_dielectric(static_cast<float>(std::cos(brewster)), 1.5f) ==
          Approx(across * across / 2).epsilon(1e-5));
    // From inside: total beyond asin(1/n), 41.81 degrees.
    CHECK(fresnel_dielectric(static_cast<float>(std::cos(41.9 * std::numbers::pi / 180)), 1 / 1.5f) == 1);
    CHECK(fresnel_dielectric(static_cast<float>(std::cos(41.7 * std::numbers::pi / 180)), 1 / 1.5f) < 1);
    const Material glass = material_of(1, 0, 0, 1);
    for (const double degrees : {10.0, 45.0, 80.0}) {
        const double a = degrees * std::numbers::pi / 180;
        const Vec3 out(static_cast<float>(std::sin(a)), 0, static_cast<float>(std::cos(a)));
        const Surface surface(glass, Vec3(1), out, false, false);
        int passed = 0;
        constexpr int tries = 4096;
        for (std::uint32_t i = 0; i < tries; ++i) {
            PathNumbers numbers(3, i, 1);
            const ThrownLight t = surface.thrown(numbers);
            CHECK(t.single);
            if (!t.through) {
                CHECK(t.way.x == Approx(-out.x).margin(1e-6));
                continue;
            }
            ++passed;
            CHECK(-t.way.x == Approx(std::sin(a) / 1.5).margin(1e-6));
        }
        CHECK(1 - passed / double(tries) == Approx(static_cast<double>(fresnel_dielectric(out.z, 1.5f))).margin(0.01));
    }
}

TEST_CASE("still: microfacets throw back what their integral says", "[still][outside]") {
    // GGX with Smith's heights correlated, written out and summed over the half sphere: B. Walter and others 2007,
    // E. Heitz 2014.
    for (const double rough : {0.2, 0.5, 1.0})
        for (const double cosine : {0.2, 0.6, 1.0}) {
            const double sine = std::sqrt(1 - cosine * cosine);
            const auto lambda = [&](double c) {
                return (std::sqrt(1 + rough * rough * (1 - c * c) / (c * c)) - 1) / 2;
            };
            double sum = 0;
            constexpr int heights = 700, turns = 700;
            for (int i = 0; i < heights; ++i)
                for (int k = 0; k < turns; ++k) {
                    const double z = (i + 0.5) / heights, r = std::sqrt(1 - z * z),
                                 phi = 2 * std::numbers::pi * (k + 0.5) / turns;
                    const DVec3 in(r * std::cos(phi), r * std::sin(phi), z), out(sine, 0, cosine);
                    const DVec3 h = glm::normalize(in + out);
                    const double t = h.z * h.z * (rough * rough - 1) + 1,
                                 d = rough * rough / (std::numbers::pi * t * t);
                    sum += d / (1 + lambda(cosine) + lambda(z)) / (4 * cosine) * 2 * std::numbers::pi / heights / turns;
                }
            INFO(rough << " " << cosine);
            CHECK(static_cast<double>(microfacet_albedo(static_cast<float>(cosine), static_cast<float>(rough))) ==
                  Approx(sum).epsilon(0.01));
        }
}

TEST_CASE("still: in a furnace white things are not seen", "[still][outside][wide]") {
    // Light of one radiance from everywhere: a body that swallows nothing gives back the same, whatever its roughness.
    struct Tried {
        const char* name;
        Material material;
    };
    std::vector<Tried> all;
    for (const double rough : {0.05, 0.3, 0.6, 1.0}) {
        all.push_back({"metal", material_of(1, 1, rough)});
        all.push_back({"paint", material_of(1, 0, rough)});
        all.push_back({"half metal", material_of(1, 0.5, rough)});
    }
    all.push_back({"clear glass", material_of(1, 0, 0, 1)});
    for (const double rough : {0.1, 0.3, 0.6, 1.0}) all.push_back({"rough glass", material_of(1, 0, rough, 1)});
    for (const Tried& t : all) {
        INFO(t.name << " " << t.material.roughness);
        StillScene scene;
        scene.shapes.push_back(made_of(make_sphere(1, 64, 48), t.material));
        scene.sky.strength = 1;
        scene.ground.high = scene.ground.low = DVec3(1);
        scene.camera.eye = {0, -6, 0};
        scene.camera.focal = 110;
        StillOptions options = small(512);
        options.bounces = 64;
        CHECK(mean_of(still_of(scene, options)) == Approx(1).epsilon(0.01));
    }
}

TEST_CASE("still: rays through the lens meet in the sharp plane and spread as the lens formula says",
          "[still][outside]") {
    StageCamera camera;
    camera.eye = {0, -5, 0}, camera.aim = {0, 0, 0};
    camera.focal = 50, camera.f_number = 2;
    const auto at_depth = [&](const DVec2& lens, double depth) {
        const StillRay ray = camera_ray(camera, 1.5, {0.3, 0.7}, lens);
        return ray.from + ray.way * ((depth - 5 - ray.from.y) / ray.way.y);
    };
    CHECK(glm::distance(at_depth({1, 0}, 5), at_depth({-1, 0}, 5)) == Approx(0).margin(1e-9));
    // The aperture is 25 mm wide; behind the sharp plane the cone of rays is A (D - s) / s wide.
    for (const double depth : {2.5, 7.5, 20.0})
        CHECK(glm::distance(at_depth({1, 0}, depth), at_depth({-1, 0}, depth)) ==
              Approx(0.025 * std::abs(depth - 5) / 5).epsilon(1e-6));
    // 36 mm of film before 50 mm: 39.6 degrees across.
    const StillRay left = camera_ray(camera, 1.5, {0, 0.5}, DVec2(0)),
                   right = camera_ray(camera, 1.5, {1, 0.5}, DVec2(0));
    CHECK(std::acos(glm::dot(left.way, right.way)) * 180 / std::numbers::pi == Approx(39.6).epsilon(1e-3));
}

TEST_CASE("still: the same picture on one, two and four threads, and less noise with more paths", "[still][wide]") {
    std::vector<ShapePtr> shapes{
        made_of(make_torus(0.4, 0.15, 48, 24), material_of(0.6, 1, 0.3)),
        made_of(lifted(make_sphere(0.3, 32, 24), {0.8f, 0, 0.2f}), material_of(0.8, 0, 0.1, 0.8))};
    const StillScene scene = framed_scene(shapes, framing_camera(shapes, 1.5));
    StillOptions options;
    options.width = 96, options.height = 64, options.samples = 16;
    std::vector<StillPicture> made;
    for (const std::size_t threads : {1U, 2U, 4U}) {
        const tbb::global_control bound(tbb::global_control::max_allowed_parallelism, threads);
        made.push_back(still_of(scene, options));
    }
    CHECK(made[0].colour == made[1].colour);
    CHECK(made[0].colour == made[2].colour);
    CHECK(made[0].depth == made[2].depth);
    options.samples = 256;
    const StillPicture more = still_of(scene, options);
    // A quarter of the noise for sixteen times the paths.
    CHECK(more.noise == Approx(made[0].noise / 4).epsilon(0.25));
    // It ends where it is told to.
    options.samples = 100000, options.wanted_noise = 0.5;
    CHECK(still_of(scene, options).samples < 1000);
}

TEST_CASE("still: the filter brings a picture of few paths nearer to one of many", "[still][released]") {
    std::vector<ShapePtr> shapes{
        made_of(make_box({0.5, 0.5, 0.5}, {1, 1, 1}), material_of(0.6, 0, 0.8)),
        made_of(lifted(make_sphere(0.3, 48, 32), {0.7f, 0.2f, 0.05f}), material_of(0.3, 0, 0.9))};
    StillScene scene = framed_scene(shapes, framing_camera(shapes, 1.6));
    scene.shapes.push_back(bent_backdrop(scene.shapes, scene.camera, DVec3(0.7)));
    StillOptions options;
    options.width = 96, options.height = 60, options.samples = 512;
    const StillPicture good = still_of(scene, options);
    const auto off = [&](const StillPicture& picture) {
        double sum = 0;
        for (std::size_t i = 0; i < good.colour.size(); ++i) {
            const Vec3 d =
                screen_colour(picture.colour[i], StillCurve::plain) - screen_colour(good.colour[i], StillCurve::plain);
            sum += static_cast<double>(glm::dot(d, d));
        }
        return std::sqrt(sum);
    };
    options.samples = 16, options.seed = 2;
    const StillPicture rough = still_of(scene, options);
    StillPicture filtered = rough;
    filter_noise(filtered);
    CHECK(off(filtered) < 0.5 * off(rough));
    // Brightness as a whole is not touched.
    CHECK(mean_of(filtered) == Approx(mean_of(rough)).epsilon(0.01));
}

}  // namespace bricol::test
