// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/still/still_scene.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/kernels/transform.h"
#include "core/shape/view_axes.h"

namespace bricol {

namespace {

constexpr double half_turn = std::numbers::pi;

Box box_of_shapes(const std::vector<ShapePtr>& shapes) {
    Box box = Box::nothing();
    bool any = false;
    for (const ShapePtr& shape : shapes)
        if (const auto own = box_of(*shape)) {
            box.low = glm::min(box.low, own->low);
            box.high = glm::max(box.high, own->high);
            any = true;
        }
    return any ? box : Box{DVec3(-0.5, -0.5, 0), DVec3(0.5, 0.5, 1)};
}

double radius_of(const Box& box) { return std::max(glm::length(box.size()) / 2, 1e-6); }

/// A lamp that gives a place `irradiance` (W/m^2) when it faces it.
StageLamp lamp_toward(const char* name, const DVec3& at, const DVec3& aim, double side, double irradiance,
                      const DVec3& colour) {
    StageLamp lamp;
    lamp.name = name;
    lamp.at = at, lamp.aim = aim;
    lamp.width = lamp.height = side;
    lamp.colour = colour;
    const double distance = glm::distance(at, aim);
    lamp.strength =
        irradiance * half_turn * distance * distance;  // straight ahead a Lambert lamp gives flux / (half_turn d^2)
    return lamp;
}

}  // namespace

CameraRays::CameraRays(const StageCamera& camera, double aspect) : eye_(camera.eye), flat_(camera.flat > 0) {
    const ViewAxes axes(camera);
    const double focal = std::max(camera.focal, 1e-3);
    // The film's stated width lies along the longer side of the picture.
    const double width = aspect >= 1 ? camera.film : camera.film * aspect, height = width / aspect;
    ahead_ = axes.ahead;
    right_ = axes.right * (flat_ ? camera.flat * aspect : width / focal);
    up_ = axes.up * (flat_ ? camera.flat : height / focal);
    if (flat_ || !(camera.f_number > 0)) return;
    blurs_ = true;
    sharp_ = camera.sharp_at > 0 ? camera.sharp_at : glm::distance(camera.eye, camera.aim);
    const double aperture = focal / camera.f_number / 2000;  // radius in metres
    lens_right_ = axes.right * aperture, lens_up_ = axes.up * aperture;
}

StillRay CameraRays::through(const DVec2& side, const DVec2& lens) const {
    const DVec3 off = right_ * (side.x - 0.5) + up_ * (0.5 - side.y);
    if (flat_) return {eye_ + off, ahead_};
    const DVec3 ahead = ahead_ + off;
    if (!blurs_) return {eye_, glm::normalize(ahead)};
    const DVec3 from = eye_ + lens_right_ * lens.x + lens_up_ * lens.y, to = eye_ + ahead * sharp_;
    return {from, glm::normalize(to - from)};
}

StillRay camera_ray(const StageCamera& camera, double aspect, const DVec2& side, const DVec2& lens) {
    return CameraRays(camera, aspect).through(side, lens);
}

StageCamera framing_camera(const std::vector<ShapePtr>& shapes, double aspect) {
    StageCamera camera;
    const Box box = box_of_shapes(shapes);
    camera.focal = 70;
    const double turn = 28 * half_turn / 180, pitch = 17 * half_turn / 180;
    const DVec3 toward(std::sin(turn) * std::cos(pitch), -std::cos(turn) * std::cos(pitch), std::sin(pitch));
    camera.aim = box.centre();
    camera.eye = camera.aim + toward;
    const ViewAxes axes(camera);
    const double width = aspect >= 1 ? camera.film : camera.film * aspect, across = width / 2 / camera.focal,
                 up = across / std::max(aspect, 1e-3);
    // The nearest place from which all eight corners are in the picture, and a little air.
    double distance = radius_of(box) * 0.1;
    for (int corner = 0; corner < 8; ++corner) {
        const DVec3 off = DVec3(corner & 1 ? box.high.x : box.low.x, corner & 2 ? box.high.y : box.low.y,
                                corner & 4 ? box.high.z : box.low.z) -
                          camera.aim;
        const double reach =
            std::max(std::abs(glm::dot(off, axes.right)) / across, std::abs(glm::dot(off, axes.up)) / up);
        distance = std::max(distance, 1.18 * reach - glm::dot(off, axes.ahead));
    }
    camera.eye = camera.aim + toward * distance;
    return camera;
}

StillScene framed_scene(std::vector<ShapePtr> shapes, const StageCamera& camera) {
    StillScene scene;
    const Box box = box_of_shapes(shapes);
    scene.shapes = std::move(shapes);
    scene.camera = camera;
    const DVec3 middle = box.centre();
    const double radius = radius_of(box);
    const ViewAxes axes(scene.camera);
    const auto beside = [&](double right, double up, double front) {
        return middle + radius * (axes.right * right + DVec3(0, 0, 1) * up - axes.ahead * front);
    };
    scene.lights.push_back(lamp_toward("key", beside(-2.6, 3.0, 2.0), middle, 2.4 * radius, 3.4, {1, 0.96, 0.9}));
    scene.lights.push_back(lamp_toward("fill", beside(3.4, 1.2, 1.6), middle, 3 * radius, 0.7, {0.86, 0.93, 1}));
    scene.lights.push_back(lamp_toward("rim", beside(1.8, 3.4, -2.2), middle, 1.6 * radius, 1.6, {1, 1, 1}));
    scene.sky.above = {0.95, 0.98, 1.05}, scene.sky.horizon = {1, 1, 1}, scene.sky.below = {0.4, 0.38, 0.36};
    scene.sky.strength = 0.25;
    return scene;
}

namespace {

ShapePtr sheet_of(Array<Vec3> points, Array<Vec3> normals, Array<Index> offsets, Array<Index> corners,
                  const DVec3& colour) {
    auto shape = std::make_shared<Shape>();
    const auto count = static_cast<Index>(points.size());
    shape->mesh = Mesh(std::move(points), make_topology(count, std::move(offsets), std::move(corners)));
    shape->mesh.attributes.set(Domain::vertex, attribute_name::normal, std::move(normals));
    Material sheet;
    sheet.name = "backdrop";
    sheet.colour = Vec3(colour);
    sheet.roughness = 0.9f;
    sheet.double_sided = true;
    const std::int32_t number = material_number(sheet);
    shape->mesh.materials = std::make_shared<const MaterialList>(MaterialList{{number, sheet}});
    shape->mesh.attributes.set(Domain::face, attribute_name::material,
                               Array<std::int32_t>(shape->mesh.face_count(), number));
    return shape;
}

/// A hair below the lowest point.
double floor_of(const Box& box) { return box.low.z - 1e-4 * radius_of(box); }

}  // namespace

ShapePtr plain_ground(const std::vector<ShapePtr>& shapes, const DVec3& colour) {
    const Box box = box_of_shapes(shapes);
    const double reach = 400 * radius_of(box);
    const DVec3 middle(box.centre().x, box.centre().y, floor_of(box));
    Array<Vec3> points, normals(4, Vec3(0, 0, 1));
    for (const auto& [x, y] : {std::pair{-1, -1}, {1, -1}, {1, 1}, {-1, 1}})
        points.emplace_back(middle + DVec3(x * reach, y * reach, 0));
    return sheet_of(std::move(points), std::move(normals), {0, 4}, {0, 1, 2, 3}, colour);
}

ShapePtr bent_backdrop(const std::vector<ShapePtr>& shapes, const StageCamera& camera, const DVec3& colour) {
    const Box box = box_of_shapes(shapes);
    const double radius = radius_of(box), floor = floor_of(box);
    DVec3 back = camera.aim - camera.eye;
    back.z = 0;
    back = glm::length(back) > 1e-9 ? glm::normalize(back) : DVec3(0, 1, 0);
    const DVec3 side = glm::cross(back, DVec3(0, 0, 1)), middle(box.centre().x, box.centre().y, floor);
    // Flat to behind the shapes, a quarter of a round, then upright.
    const double depth = 5 * radius, bend = 4 * radius, width = 40 * radius;
    std::vector<DVec2> row{{-30 * radius, 0}, {depth, 0}};
    constexpr int pieces = 24;
    for (int i = 1; i <= pieces; ++i) {
        const double a = half_turn / 2 * i / pieces;
        row.push_back({depth + bend * std::sin(a), bend * (1 - std::cos(a))});
    }
    row.push_back({depth + bend, 40 * radius});
    Array<Vec3> points, normals;
    Array<Index> offsets{0}, corners;
    for (const DVec2& at : row) {
        const double up = std::clamp(at.y / bend, 0.0, 1.0), angle = std::acos(1 - up);
        const DVec3 normal = -back * std::sin(angle) + DVec3(0, 0, 1) * std::cos(angle);
        for (const double edge : {-0.5, 0.5}) {
            points.emplace_back(middle + back * at.x + DVec3(0, 0, 1) * at.y + side * (edge * width));
            normals.emplace_back(normal);
        }
    }
    for (Index i = 0; i + 1 < row.size(); ++i) {
        corners.insert(corners.end(), {2 * i, 2 * i + 1, 2 * i + 3, 2 * i + 2});
        offsets.push_back(static_cast<Index>(corners.size()));
    }
    return sheet_of(std::move(points), std::move(normals), std::move(offsets), std::move(corners), colour);
}

}  // namespace bricol
