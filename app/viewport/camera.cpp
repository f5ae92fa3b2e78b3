// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/camera.h"

#include <algorithm>
#include <cmath>

namespace bricol {

DVec3 Camera::direction() const {
    const double a = glm::radians(yaw), b = glm::radians(pitch);
    return {std::cos(b) * std::cos(a), std::cos(b) * std::sin(a), std::sin(b)};
}

DVec3 Camera::right() const {
    const double a = glm::radians(yaw);
    const DVec3 level(-std::sin(a), std::cos(a), 0);
    if (roll == 0) return level;
    const double lean = glm::radians(roll);
    return level * std::cos(lean) - glm::cross(direction(), level) * std::sin(lean);
}

DVec3 Camera::up() const { return glm::cross(direction(), right()); }

void Camera::use_usual_lens() {
    distance *= std::tan(glm::radians(half_angle)) / std::tan(glm::radians(usual_half_angle));
    half_angle = usual_half_angle;
    roll = 0;
}

glm::dmat4 Camera::view_matrix() const { return glm::lookAt(eye(), target, up()); }

glm::dmat4 Camera::projection(double aspect) const {
    const double half = std::tan(glm::radians(half_angle));
    if (flat()) {
        const double h = distance * half;
        return glm::ortho(-h * aspect, h * aspect, -h, h, depth_range().first, depth_range().second);
    }
    return glm::perspective(glm::radians(2 * half_angle), aspect, depth_range().first, depth_range().second);
}

std::pair<double, double> Camera::depth_range() const {
    return flat() ? std::pair(-distance * 50, distance * 50) : std::pair(distance * 0.02, distance * 60);
}

void Camera::set_view(View wanted) {
    view = wanted;
    if (wanted == View::front) yaw = -90, pitch = 0;
    if (wanted == View::side) yaw = 0, pitch = 0;
    if (wanted == View::top) yaw = -90, pitch = 90;
    if (wanted == View::free) yaw = -60, pitch = 22;
}

void Camera::turn(double degrees_across, double degrees_up) {
    view = View::free;
    yaw = std::remainder(yaw - degrees_across, 360);
    pitch = std::clamp(pitch + degrees_up, -90.0, 90.0);
}

double Camera::metres_per_pixel(double height) const {
    return 2 * distance * std::tan(glm::radians(half_angle)) / height;
}

void Camera::slide(double right_pixels, double up_pixels, double height) {
    const double size = metres_per_pixel(height);
    target -= right() * (right_pixels * size) + up() * (up_pixels * size);
}

void Camera::zoom(double factor, double pointer_x, double pointer_y) {
    const double before = distance;
    distance = std::clamp(distance * factor, 1e-3, 1e5);
    const double moved = (before - distance) * std::tan(glm::radians(half_angle));
    target += right() * (pointer_x * moved) + up() * (pointer_y * moved);
}

void Camera::frame(const Box& box, double aspect) {
    target = box.centre();
    // The nearest distance at which all eight corners are inside the picture, and a little air.
    const double tangent = std::tan(glm::radians(half_angle));
    double wanted = 5e-3;
    for (int corner = 0; corner < 8; ++corner) {
        const DVec3 p(corner & 1 ? box.high.x : box.low.x, corner & 2 ? box.high.y : box.low.y,
                      corner & 4 ? box.high.z : box.low.z);
        const DVec3 off = p - target;
        const double reach =
            std::max(std::abs(glm::dot(off, up())), std::abs(glm::dot(off, right())) / aspect) / tangent;
        wanted = std::max(wanted, reach + (flat() ? 0 : glm::dot(off, direction())));
    }
    distance = wanted * 1.15;
}

Projector::Projector(const Camera& camera, double width, double height)
    : matrix_(camera.projection(width / height) * camera.view_matrix()),
      inverse_(glm::inverse(matrix_)),
      width_(width),
      height_(height) {}

glm::dvec2 Projector::to_screen(const DVec3& point, double* depth) const {
    const glm::dvec4 clip = matrix_ * glm::dvec4(point, 1);
    const double w = std::abs(clip.w) < 1e-9 ? 1e-9 : clip.w;
    if (depth) *depth = clip.w;
    return {(clip.x / w + 1) / 2 * width_, (1 - clip.y / w) / 2 * height_};
}

bool Projector::on_plane(const glm::dvec2& pixel, const DVec3& origin, const DVec3& normal, DVec3& out) const {
    const auto point = [&](double z) {
        const glm::dvec4 p = inverse_ * glm::dvec4(pixel.x / width_ * 2 - 1, 1 - pixel.y / height_ * 2, z, 1);
        return DVec3(p) / p.w;
    };
    const DVec3 near = point(-1), ray = point(1) - near;
    const double across = glm::dot(ray, normal);
    if (std::abs(across) < 1e-6 * glm::length(ray)) return false;
    out = near + ray * (glm::dot(origin - near, normal) / across);
    return true;
}

}  // namespace bricol
