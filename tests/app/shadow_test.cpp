// SPDX-License-Identifier: GPL-3.0-or-later
// The soft shadow that the view lays on the ground.
#include <QMenuBar>
#include <QSettings>
#include <algorithm>
#include <cmath>
#include <numbers>

#include "app/theme/theme.h"
#include "app/viewport/renderer.h"
#include "core/kernels/normals.h"
#include "core/kernels/primitives.h"
#include "tests/app/room.h"
#include "tests/support/shapes.h"

using namespace bricol;
using namespace bricol::test;

namespace {

constexpr double high = 1, lamp_high = 4;  // metres: a plate of one metre, and the lamp over it

Scene plate_under(const StageLamp& lamp) {
    auto shape = std::make_shared<Shape>();
    shape->mesh = placed(make_box(DVec3(1, 1, 0.004), {1, 1, 1}), {0, 0, high});
    Scene scene;
    add_items(scene, shape, theme::part_clay(0));
    scene.grid = false;
    scene.lamps = {lamp};
    return scene;
}

StageLamp disc_over(double radius) {
    StageLamp lamp;
    lamp.kind = StageLamp::Kind::disc;
    lamp.at = {0, 0, lamp_high};
    lamp.radius = radius;
    return lamp;
}

/// How much light the ground loses to the shadow along x (0..1); x from `from` to `to` (metres).
std::vector<double> light_lost(Scene scene, double from, double to, int count, double yaw = 0) {
    static QString why;
    static const std::unique_ptr<Renderer> renderer = Renderer::create(&why);
    REQUIRE(renderer);
    // From beside and low, so that the shape covers none of it.
    Camera camera;
    camera.yaw = yaw;
    camera.pitch = 25;
    camera.target = {0.7, 0, 0};
    camera.distance = 5;
    const QSize size(900, 900);
    const QImage with = renderer->render(scene, camera, size, true);
    scene.shadow = false;
    const QImage without = renderer->render(scene, camera, size, true);
    const Projector projector(camera, size.width(), size.height());
    std::vector<double> out;
    for (int i = 0; i < count; ++i) {
        const glm::dvec2 at = projector.to_screen({from + (to - from) * i / (count - 1), 0, 0});
        const QPoint pixel(static_cast<int>(at.x), static_cast<int>(at.y));
        out.push_back(without.pixelColor(pixel).lightnessF() - with.pixelColor(pixel).lightnessF());
    }
    return out;
}

/// The same as a share of what its darkest place there loses.
std::vector<double> darkness(const Scene& scene, double from, double to, int count, double yaw = 0) {
    std::vector<double> out = light_lost(scene, from, to, count, yaw);
    const double most = *std::ranges::max_element(out);
    REQUIRE(most > 0.1);
    for (double& d : out) d /= most;
    return out;
}

/// Where the darkness falls through a value (metres).
double falls_through(const std::vector<double>& dark, double value, double from, double to) {
    for (std::size_t i = dark.size() - 1; i > 0; --i)
        if (dark[i - 1] >= value && dark[i] < value) {
            const double part = (dark[i - 1] - value) / (dark[i - 1] - dark[i]);
            return from + (to - from) * (static_cast<double>(i - 1) + part) / static_cast<double>(dark.size() - 1);
        }
    FAIL("never falls through " << value);
    return 0;
}

/// Half the way from the middle of a disc at which a straight edge hides a fifth of it, over its radius: the segment
/// beyond t has (acos t - t sqrt(1 - t²)) / pi of the area.
double hides_a_fifth() {
    double low = 0, up = 1;
    for (int i = 0; i < 60; ++i) {
        const double t = (low + up) / 2;
        ((std::acos(t) - t * std::sqrt(1 - t * t)) / std::numbers::pi > 0.2 ? low : up) = t;
    }
    return low;
}

void switch_shadow(Room& room) {
    auto* bar = room.window.findChild<QMenuBar*>();
    REQUIRE(bar);
    for (QAction* menu : bar->actions())
        if (menu->text().remove('&') == "View")
            room.pick([&] { room.click(room.in_window(bar, bar->actionGeometry(menu).center())); }, "Soft shadow");
}

}  // namespace

TEST_CASE("a lamp's shadow on the ground is as soft as similar triangles make it", "[shadow]") {
    // The shadow's edge lies at 0.5 H / (H - h) under the middle of the lamp; a lamp of radius r spreads it by
    // r h / (H - h) to both sides.
    const double edge = 0.5 * lamp_high / (lamp_high - high);
    for (const double radius : {0.5, 1.0}) {
        INFO(radius);
        const auto dark = darkness(plate_under(disc_over(radius)), 0.1, 1.4, 400);
        const double fifth = falls_through(dark, 0.2, 0.1, 1.4), half = falls_through(dark, 0.5, 0.1, 1.4),
                     most = falls_through(dark, 0.8, 0.1, 1.4);
        CHECK(half == Approx(edge).margin(0.02));
        CHECK(fifth - most == Approx(2 * hides_a_fifth() * radius * high / (lamp_high - high)).epsilon(0.12));
    }
    StageLamp point = disc_over(0.5);
    point.kind = StageLamp::Kind::point;
    const auto dark = darkness(plate_under(point), 0.1, 1.4, 400);
    CHECK(falls_through(dark, 0.5, 0.1, 1.4) == Approx(edge).margin(0.015));
    CHECK(falls_through(dark, 0.2, 0.1, 1.4) - falls_through(dark, 0.8, 0.1, 1.4) < 0.04);
}

TEST_CASE("a sun's shadow lies where its rays go, and nothing below the ground throws one", "[shadow]") {
    StageLamp sun;
    sun.kind = StageLamp::Kind::sun;
    sun.at = {-1, 0, 2};
    sun.aim = {0, 0, 0};
    // One metre up, two down for one along: the plate's edge falls half a metre further.
    const auto dark = darkness(plate_under(sun), 0.4, 1.6, 400);
    CHECK(falls_through(dark, 0.5, 0.4, 1.6) == Approx(1.0).margin(0.02));
    // A post that stands 0.2 m out of the ground and goes 2 m down throws what stands out.
    auto post = std::make_shared<Shape>();
    post->mesh = placed(make_box(DVec3(0.2, 0.2, 2.2), {1, 1, 1}), {0, 0, -0.9});
    Scene scene;
    add_items(scene, post, theme::part_clay(0));
    scene.grid = false;
    scene.lamps = {sun};
    const auto thrown = darkness(scene, 0.11, 0.6, 400, 90);
    CHECK(falls_through(thrown, 0.5, 0.11, 0.6) == Approx(0.1 + 0.1).margin(0.02));
}

TEST_CASE("a shape whose faces become glass loses its shadow, though none of its points moved", "[shadow]") {
    const auto lost_under = [](const Scene& scene) {
        const std::vector<double> lost = light_lost(scene, 0.3, 0.5, 20);
        return *std::ranges::max_element(lost);
    };
    Scene scene = plate_under(disc_over(0.2));
    Shape plate = *scene.items.at(0).shape;
    Material glass;
    glass.transmission = 1;
    const std::int32_t number = material_number(glass);
    plate.mesh.materials = std::make_shared<const MaterialList>(MaterialList{{number, glass}});
    const Array<Vec3> normals = face_normals(plate.mesh);
    const auto looks_so = [&](std::int32_t up_and_down) {
        Array<std::int32_t> column(normals.size(), 0);
        for (std::size_t f = 0; f < column.size(); ++f)
            if (std::abs(normals[f].z) > 0.5f) column[f] = up_and_down;
        plate.mesh.attributes.set(Domain::face, attribute_name::material, column);
        scene.items.at(0).shape = std::make_shared<const Shape>(plate);
        return lost_under(scene);
    };
    CHECK(looks_so(0) > 0.1);
    CHECK(looks_so(number) < 0.01);
    CHECK(looks_so(0) > 0.1);
}

TEST_CASE("the soft shadow follows the recipe's lamps, is switched in the menu, and stays switched", "[shadow]") {
    const auto recipe = [](double x) {
        return Json{
            {"bricol", 1},
            {"parts", Json::array({{{"name", "post"},
                                    {"steps", Json::array({{{"id", "b"}, {"step", "box"}, {"size", {0.2, 0.2, 1}}}})}},
                                   {{"name", "light"},
                                    {"steps", Json::array({{{"id", "key"},
                                                            {"step", "lamp"},
                                                            {"at", {x, 0, 2}},
                                                            {"aim", {0, 0, 0}},
                                                            {"strength", 50}}})}}})}};
    };
    Room room;
    room.open_recipe(recipe(-1.5));
    Viewport& view = room.window.viewport();
    const bool before = view.shadow();
    if (!before) switch_shadow(room);
    const QSize size(500, 400);
    const QImage from_left = view.picture(size);
    room.open_recipe(recipe(1.5));
    const QImage from_right = view.picture(size);
    switch_shadow(room);
    const QImage none = view.picture(size);
    CHECK_FALSE(view.shadow());
    CHECK_FALSE(QSettings().value("shadow").toBool());
    CHECK_FALSE(Room().window.viewport().shadow());
    switch_shadow(room);
    CHECK(view.picture(size) == from_right);
    const auto darker = [&](const QImage& image) {
        int count = 0;
        for (int y = 0; y < size.height(); ++y)
            for (int x = 0; x < size.width(); ++x)
                count += none.pixelColor(x, y).lightness() - image.pixelColor(x, y).lightness() > 10;
        return count;
    };
    CHECK(darker(from_left) > 500);
    CHECK(darker(from_right) > 500);
    CHECK(from_left != from_right);
    if (!before) switch_shadow(room);
}
