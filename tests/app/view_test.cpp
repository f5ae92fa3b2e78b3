// SPDX-License-Identifier: GPL-3.0-or-later
// Camera arithmetic and the renderer's pictures.
#include <random>

#include "app/theme/theme.h"
#include "app/viewport/stand_in.h"
#include "core/kernels/real_geometry.h"
#include "core/kernels/solids.h"
#include "core/shape/material_kit.h"
#include "core/kernels/primitives.h"
#include "core/kernels/triangulate.h"
#include "tests/app/room.h"

using namespace bricol;
using namespace bricol::test;

namespace {

Renderer& renderer() {
    static QString why;
    static const std::unique_ptr<Renderer> one = Renderer::create(&why);
    INFO(why.toStdString());
    REQUIRE(one);
    return *one;
}

Scene scene_of(Mesh mesh, const ShadingInfo& shading = shading_named("clay")) {
    auto shape = std::make_shared<Shape>();
    shape->mesh = std::move(mesh);
    Scene scene;
    add_items(scene, shape, theme::part_clay(0));
    scene.shading = &shading;
    scene.grid = false;
    scene.shadow = false;
    return scene;
}

}  // namespace

TEST_CASE("flat views look along their axes", "[camera]") {
    Camera camera;
    const std::tuple<View, DVec3, DVec3> views[] = {
        {View::front, {1, 0, 0}, {0, 0, 1}}, {View::side, {0, 1, 0}, {0, 0, 1}}, {View::top, {1, 0, 0}, {0, 1, 0}}};
    for (const auto& [view, right, up] : views) {
        camera.set_view(view);
        CHECK(glm::distance(camera.right(), right) < 1e-9);
        CHECK(glm::distance(camera.up(), up) < 1e-9);
        const Projector projector(camera, 800, 600);
        const glm::dvec2 middle = projector.to_screen(camera.target),
                         beside = projector.to_screen(camera.target + right);
        CHECK(middle.x == Approx(400));
        CHECK(middle.y == Approx(300));
        CHECK(beside.x > middle.x);
        CHECK(beside.y == Approx(middle.y));
        CHECK(beside.x - middle.x == Approx(1 / camera.metres_per_pixel(600)));
    }
}

TEST_CASE("a point goes to the screen and back to its plane", "[camera]") {
    std::mt19937 random(4);
    std::uniform_real_distribution<double> place(-2, 2), angle(-180, 180), lift(5, 85);
    for (int i = 0; i < 200; ++i) {
        Camera camera;
        camera.yaw = angle(random);
        camera.pitch = lift(random);
        if (i % 4 == 0) camera.set_view(View::front);
        const DVec3 point(place(random), place(random), place(random));
        const DVec3 normal = i % 4 == 0 ? DVec3(0, 1, 0) : DVec3(0, 0, 1);
        const Projector projector(camera, 900, 600);
        DVec3 back;
        REQUIRE(projector.on_plane(projector.to_screen(point), point, normal, back));
        CHECK(glm::distance(point, back) < 1e-6);
    }
    Camera front;
    front.set_view(View::front);
    DVec3 nowhere;
    CHECK_FALSE(Projector(front, 900, 600).on_plane({10, 10}, DVec3(0), DVec3(0, 0, 1), nowhere));
}

TEST_CASE("framing fits any box into any picture", "[camera]") {
    std::mt19937 random(8);
    std::uniform_real_distribution<double> size(0.01, 5);
    for (int i = 0; i < 100; ++i) {
        Camera camera;
        if (i % 2) camera.set_view(static_cast<View>(i % 4));
        const Box box{DVec3(-1, 2, 3), DVec3(-1, 2, 3) + DVec3(size(random), size(random), size(random))};
        const double width = 300 + i * 10, height = 500;
        camera.frame(box, width / height);
        const Projector projector(camera, width, height);
        double fill = 0;
        for (int corner = 0; corner < 8; ++corner) {
            const DVec3 p(corner & 1 ? box.high.x : box.low.x, corner & 2 ? box.high.y : box.low.y,
                          corner & 4 ? box.high.z : box.low.z);
            const glm::dvec2 at = projector.to_screen(p);
            INFO("box " << i << " corner " << corner);
            CHECK((at.x >= 0 && at.x <= width && at.y >= 0 && at.y <= height));
            fill = std::max({fill, std::abs(at.x / width - 0.5) * 2, std::abs(at.y / height - 0.5) * 2});
        }
        CHECK(fill > 0.3);  // and it is not a speck
    }
}

TEST_CASE("sliding and zooming keep what is under the pointer", "[camera]") {
    Camera camera;
    const DVec3 point = camera.target;
    glm::dvec2 before = Projector(camera, 800, 600).to_screen(point);
    camera.slide(37, -21, 600);
    glm::dvec2 after = Projector(camera, 800, 600).to_screen(point);
    CHECK(after.x - before.x == Approx(37).margin(0.01));
    CHECK(after.y - before.y == Approx(21).margin(0.01));
    camera.set_view(View::front);
    const DVec3 other(0.4, 0, 0.9);
    before = Projector(camera, 800, 600).to_screen(other);
    camera.zoom(0.5, (before.x - 400) / 300, (300 - before.y) / 300);
    after = Projector(camera, 800, 600).to_screen(other);
    CHECK(glm::distance(before, after) < 1e-6);
}

TEST_CASE("marks tell real edges from diagonals and sharp from smooth", "[renderer]") {
    const Mesh box = make_box({1, 1, 1}, {1, 1, 1});
    int real = 0, sharp = 0;
    const auto vertices = draw_vertices(box);
    REQUIRE(vertices.size() == 36);
    for (std::size_t i = 0; i < vertices.size(); i += 3)
        for (int k = 0; k < 3; ++k) real += vertices[i].mask >> k & 1, sharp += vertices[i].mask >> (k + 3) & 1;
    CHECK(real == 24);  // each of the twelve edges from both sides
    CHECK(sharp == 24);
    int ball_sharp = 0;
    for (const DrawVertex& v : draw_vertices(make_sphere(1, 32, 16))) ball_sharp += (v.mask >> 3) != 0;
    CHECK(ball_sharp == 0);
}

TEST_CASE("pictures are the same every time and show what they should", "[renderer]") {
    Camera camera;
    camera.target = DVec3(0);
    const QSize size(240, 180);
    const Mesh ball = make_sphere(0.5, 48, 24);
    const QImage first = renderer().render(scene_of(ball), camera, size, true);
    CHECK(first == renderer().render(scene_of(ball), camera, size, true));
    // A ball is a disc: as many pixels as its outline promises. The ground is what an empty picture shows.
    const QImage empty = renderer().render(scene_of(Mesh()), camera, size, true);
    int covered = 0;
    for (int y = 0; y < size.height(); ++y)
        for (int x = 0; x < size.width(); ++x) covered += first.pixel(x, y) != empty.pixel(x, y);
    // Half the angle under which a ball of radius r is seen from distance d has the sine r/d.
    const double radius = std::tan(std::asin(0.5 / camera.distance)) / std::tan(glm::radians(camera.half_angle)) * 90;
    CHECK(covered == Approx(3.14159 * radius * radius).epsilon(0.03));
}

TEST_CASE("the facing view tells outside from inside", "[renderer]") {
    Camera camera;
    camera.target = DVec3(0);
    const auto middle = [&](const Mesh& mesh) {
        return QColor(
            renderer().render(scene_of(mesh, shading_named("facing")), camera, {200, 200}, false).pixel(100, 100));
    };
    const QColor out = middle(make_box({1, 1, 1}, {1, 1, 1})), in = middle(flipped(make_box({1, 1, 1}, {1, 1, 1})));
    CHECK(out.green() > out.red());
    CHECK(in.red() > in.green());
}

TEST_CASE("the upper left is lit, the form turns away into shade", "[renderer]") {
    Camera camera;
    camera.target = DVec3(0);
    const QImage ball = renderer().render(scene_of(make_sphere(0.8, 64, 32)), camera, {200, 200}, true);
    CHECK(QColor(ball.pixel(75, 70)).lightness() > QColor(ball.pixel(130, 135)).lightness() + 25);
}

TEST_CASE("pictures are right side up and not mirrored", "[renderer]") {
    // A box high on the right of the front view must be drawn there.
    Camera camera;
    camera.target = DVec3(0);
    camera.set_view(View::front);
    Shape box;
    box.mesh = make_box({0.3, 0.3, 0.3}, {1, 1, 1});
    const Mesh moved = transformed(box, placement({0.6, 0, 0.6}, DVec3(0), DVec3(1), DVec3(0))).mesh;
    const QImage with = renderer().render(scene_of(moved), camera, {200, 200}, false),
                 without = renderer().render(scene_of(Mesh()), camera, {200, 200}, false);
    const glm::dvec2 at = Projector(camera, 200, 200).to_screen({0.6, 0, 0.6});
    CHECK(at.x > 100);
    CHECK(at.y < 100);
    CHECK(with.pixel(static_cast<int>(at.x), static_cast<int>(at.y)) !=
          without.pixel(static_cast<int>(at.x), static_cast<int>(at.y)));
    CHECK(with.pixel(200 - static_cast<int>(at.x), static_cast<int>(at.y)) ==
          without.pixel(200 - static_cast<int>(at.x), static_cast<int>(at.y)));
}

namespace {

Mesh made_of(Mesh mesh, const char* kit) {
    const Material material = *kit_material(kit);
    const std::int32_t number = material_number(material);
    mesh.attributes.set(Domain::face, attribute_name::material, Array<std::int32_t>(mesh.face_count(), number));
    mesh.materials = std::make_shared<const MaterialList>(MaterialList{{number, material}});
    return mesh;
}

double difference(const QImage& a, const QImage& b) {
    double sum = 0;
    for (int y = 0; y < a.height(); ++y)
        for (int x = 0; x < a.width(); ++x) {
            const QColor p(a.pixel(x, y)), q(b.pixel(x, y));
            sum += std::abs(p.red() - q.red()) + std::abs(p.green() - q.green()) + std::abs(p.blue() - q.blue());
        }
    return sum / (3.0 * 255 * a.width() * a.height());
}

}  // namespace

TEST_CASE("materials look like what they are, and glass lets through what lies behind", "[renderer][materials]") {
    Camera camera;
    camera.target = DVec3(0);
    camera.set_view(View::front);
    const QSize size(200, 200);
    const auto middle = [&](Scene scene) {
        return QColor(renderer().render(scene, camera, size, false).pixel(100, 100));
    };
    const QColor brass = middle(scene_of(made_of(make_sphere(0.8, 64, 32), "brass"), shading_named("materials"))),
                 rubber = middle(scene_of(made_of(make_sphere(0.8, 64, 32), "rubber"), shading_named("materials")));
    CHECK(brass.red() > brass.blue() + 30);
    CHECK(rubber.lightness() < brass.lightness() - 25);

    // A red block behind a pane: red through glass, hidden by paint, and hidden by clay in the drawing shades.
    const auto with_pane = [&](const char* kit, const ShadingInfo& shading) {
        Scene scene = scene_of(made_of(transformed(Shape(make_box({0.6, 0.2, 0.6}, {1, 1, 1})),
                                                   placement({0, 0.5, 0}, DVec3(0), DVec3(1), DVec3(0)))
                                           .mesh,
                                       "red_lead"),
                               shading);
        auto pane = std::make_shared<Shape>();
        pane->mesh = made_of(make_box({1.4, 0.02, 1.4}, {1, 1, 1}), kit);
        add_items(scene, pane, theme::part_clay(1));
        return scene;
    };
    const QColor bare =
        middle(scene_of(made_of(make_box({0.6, 0.2, 0.6}, {1, 1, 1}), "red_lead"), shading_named("materials")));
    const QColor through = middle(with_pane("glass", shading_named("materials"))),
                 painted = middle(with_pane("steel", shading_named("materials"))),
                 clay = middle(with_pane("glass", shading_named("clay")));
    CHECK(through.red() > through.green() + 40);
    CHECK(through.lightness() < bare.lightness() + 40);
    CHECK(through != bare);  // the pane itself shows
    CHECK(painted.red() < painted.blue());
    CHECK(clay.red() - clay.green() < through.red() - through.green() - 20);
}

TEST_CASE("copies are drawn as if they were written out, mirrored ones too", "[renderer][copies]") {
    Camera camera;
    camera.target = DVec3(0);
    const QSize size(240, 180);
    auto one = std::make_shared<Shape>();
    one->mesh = make_cone(0.15, 0.05, 0.4, 12, 2);
    auto copies = std::make_shared<Shape>();
    Instances group(one);
    for (int i = -2; i <= 2; ++i)
        group.places.push_back(
            glm::mat4(placement({0.35 * i, 0.1 * i, 0}, {20.0 * i, 0, 0}, {1, i % 2 ? -1 : 1, 1}, DVec3(0))));
    copies->instances.push_back(group);
    for (const char* id : {"clay", "wire_over_clay", "facing", "materials"}) {
        const ShadingInfo& shading = shading_named(id);
        Scene as_copies = scene_of(Mesh(), shading), written = scene_of(real_geometry(copies)->mesh, shading);
        as_copies.items.clear();
        add_items(as_copies, copies, theme::part_clay(0));
        const double off = difference(renderer().render(as_copies, camera, size, true),
                                      renderer().render(written, camera, size, true));
        INFO("shading " << id << ": " << off);
        CHECK(off < 2e-4);  // rounding of turned normals
    }
}

TEST_CASE("many copies are simplified, but look the same from afar", "[renderer][copies]") {
    auto one = std::make_shared<Shape>();
    one->mesh = make_torus(0.02, 0.008, 125, 80);
    auto copies = std::make_shared<Shape>();
    Instances group(one);
    for (int i = 0; i < 400; ++i)
        group.places.push_back(
            glm::mat4(placement({0.06 * (i % 20) - 0.6, 0.06 * (i / 20) - 0.6, 0}, DVec3(0), DVec3(1), DVec3(0))));
    copies->instances.push_back(group);
    Scene scene = scene_of(Mesh());
    scene.items.clear();
    add_items(scene, copies, theme::part_clay(0));
    Camera camera;
    camera.frame(*box_of(*copies), 1.3);
    const QSize size(390, 300);
    const QImage fine = renderer().render(scene, camera, size, true),
                 coarse = renderer().render(scene, camera, size, false),
                 nothing = renderer().render(scene_of(Mesh()), camera, size, false);
    const double shown = difference(coarse, nothing);
    INFO("coarse against fine " << difference(coarse, fine) << ", against nothing " << shown);
    CHECK(shown > 0.02);
    CHECK(difference(coarse, fine) < 0.35 * shown);
    // Far fewer triangles: 8 million in full.
    CHECK(proxy_vertices(one->mesh, 200).size() / 3 < 420);
    CHECK(proxy_vertices(one->mesh, 200).size() / 3 > 40);
}

TEST_CASE("a heavy shape that is being bent is drawn by a stand-in that bends with it", "[view]") {
    const auto bent = [](Mesh mesh, double radius) {  // a strip along x, laid on a circle
        Array<Vec3> points = *mesh.positions;
        for (Vec3& p : points) {
            const double a = static_cast<double>(p.x) / radius;
            p = Vec3((radius + static_cast<double>(p.y)) * std::sin(a),
                     (radius + static_cast<double>(p.y)) * std::cos(a) - radius, p.z);
        }
        mesh.positions = std::make_shared<const Array<Vec3>>(std::move(points));
        return mesh;
    };
    const Mesh strip = make_grid(4, 0.5, 1200, 120);  // 288 000 triangles, wholly flat
    const StandIn light = stand_in(strip, 8000, true);
    REQUIRE(light.topology);
    CHECK(light.topology->face_count() < 16500);
    CHECK(light.topology->face_count() > 4000);
    // Straight as it was when the stand-in was made, it still has vertices to bend at: no piece is longer than a tenth.
    const Mesh curled = bent(strip, 1);
    const Mesh drawn = light.of(curled);
    double longest = 0;
    for (const auto& [a, b] : drawn.topology->edges)
        longest = std::max(longest, glm::distance(DVec3((*drawn.positions)[a]), DVec3((*drawn.positions)[b])));
    CHECK(longest < 0.4);
    for (std::size_t v = 0; v < light.vertex.size(); ++v)
        CHECK((*drawn.positions)[v] == (*curled.positions)[light.vertex[v]]);

    Camera camera;
    camera.frame({DVec3(-1.3, -1.6, 0), DVec3(1.3, 0.3, 0.1)}, 1.3);
    const QSize size(390, 300);
    const QImage nothing = renderer().render(scene_of(Mesh()), camera, size, false);
    // A picture alone makes no stand-in: it is made while the hand rests on what it works on.
    renderer().render(scene_of(strip), camera, size, true);
    renderer().finish_preparing();
    renderer().render(scene_of(curled), camera, size, false);
    CHECK(renderer().triangles() >= 288000);
    renderer().prepare_moving(scene_of(strip));
    renderer().finish_preparing();
    const QImage moving = renderer().render(scene_of(curled), camera, size, false);
    const std::size_t light_count = renderer().triangles();
    const QImage resting = renderer().render(scene_of(curled), camera, size, true);
    INFO(light_count << " triangles moving, " << renderer().triangles() << " at rest");
    CHECK(light_count < 120000);
    CHECK(renderer().triangles() >= 288000);
    CHECK(difference(moving, nothing) > 0.01);
    CHECK(difference(moving, resting) < 0.2 * difference(resting, nothing));
    // A topology not met at rest before is drawn in full.
    renderer().render(scene_of(make_grid(4, 0.5, 1100, 120)), camera, size, false);
    CHECK(renderer().triangles() >= 264000);
}

TEST_CASE("white that was given is white, not the part's clay", "[renderer]") {
    QString why;
    const auto renderer = Renderer::create(&why);
    REQUIRE(renderer);
    const auto shown = [&](std::optional<Vec4> colour) {
        Shape shape;
        shape.mesh = make_box(DVec3(1), {1, 1, 1});
        if (colour)
            shape.mesh.attributes.set(Domain::vertex, attribute_name::colour,
                                      Array<Vec4>(shape.mesh.vertex_count(), *colour));
        Scene scene;
        scene.grid = scene.shadow = false;
        scene.shading = &shading_named("wire_over_clay");
        add_items(scene, std::make_shared<const Shape>(shape), QColor(200, 120, 60));
        Camera camera;
        camera.set_view(View::front);
        camera.frame(*box_of(shape), 1);
        return renderer->render(scene, camera, {64, 64}, true).pixelColor(28, 36);
    };
    const QColor clay = shown({}), white = shown(Vec4(1)), nearly = shown(Vec4(0.99f, 0.99f, 0.99f, 1));
    CHECK(clay.red() - clay.blue() > 60);
    CHECK(white.red() - white.blue() < (clay.red() - clay.blue()) / 2);
    // No seam where a gradient reaches white.
    CHECK(std::abs(white.red() - nearly.red()) < 4);
    CHECK(std::abs(white.blue() - nearly.blue()) < 4);
}
