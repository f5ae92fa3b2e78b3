// SPDX-License-Identifier: GPL-3.0-or-later
#include <epoxy/gl.h>
//
#include "app/viewport/ground_shadow.h"

#include <algorithm>
#include <cmath>
#include <glm/gtc/matrix_transform.hpp>

#include "app/viewport/gl_program.h"
#include "app/viewport/gl_target.h"
#include "app/viewport/shadow_sources.h"
#include "app/viewport/soft_mask.h"

namespace bricol {

namespace {

constexpr int pixels = 256;

bool throws_shadow(const SceneItem& item) { return !item.ghost && !item.helper && item.shape->mesh.face_count() > 0; }

DVec3 corner_of(const Box& box, int number) {
    return {number & 1 ? box.high.x : box.low.x, number & 2 ? box.high.y : box.low.y,
            number & 4 ? box.high.z : box.low.z};
}

std::optional<Box> box_of_items(const Scene& scene) {
    std::optional<Box> box;
    for (const SceneItem& item : scene.items) {
        if (!throws_shadow(item)) continue;
        Shape only;
        only.mesh = item.shape->mesh;
        const auto own = box_of(only);
        for (const glm::mat4& place : *item.places)
            for (int corner = 0; corner < 8; ++corner) {
                const DVec3 p(glm::dmat4(place) * glm::dvec4(corner_of(*own, corner), 1));
                if (!box) box = Box{p, p};
                box->low = glm::min(box->low, p);
                box->high = glm::max(box->high, p);
            }
    }
    return box;
}

std::vector<std::weak_ptr<const void>> shapes_of(const Scene& scene) {
    std::vector<std::weak_ptr<const void>> out;
    for (const SceneItem& item : scene.items)
        if (throws_shadow(item)) {
            out.emplace_back(item.shape->mesh.positions);
            out.emplace_back(item.places);
        }
    return out;
}

bool same_shapes(const std::vector<std::weak_ptr<const void>>& a, const std::vector<std::weak_ptr<const void>>& b) {
    return std::ranges::equal(
        a, b, [](const auto& one, const auto& other) { return !one.owner_before(other) && !other.owner_before(one); });
}

/// What decides how lamps throw it, to compare with the next time.
std::vector<double> numbers_of_lamps(const Scene& scene) {
    std::vector<double> out;
    for (const StageLamp& lamp : scene.lamps)
        out.insert(out.end(), {static_cast<double>(lamp.kind), lamp.at.x, lamp.at.y, lamp.at.z, lamp.aim.x, lamp.aim.y,
                               lamp.aim.z, lamp.width, lamp.height, lamp.radius, lamp.angle, lamp.strength});
    const StageSky& sky = scene.sky;
    out.insert(out.end(), {sky.strength, sky.above.x, sky.above.y, sky.above.z, sky.horizon.x, sky.horizon.y,
                           sky.horizon.z, sky.picture ? 1.0 : 0.0});
    return out;
}

/// The square on the ground that holds the shapes and their shadows, low lamps' long ones as far as twice the shapes'
/// size.
void cover(const Box& box, const ShadowSources& sources, DVec3& corner, double& side) {
    const DVec3 middle = box.centre();
    const double size = std::max({box.size().x, box.size().y, 0.5 * box.size().z}) + 0.01;
    Box all{DVec3(middle.x - 0.72 * size, middle.y - 0.72 * size, 0),
            DVec3(middle.x + 0.72 * size, middle.y + 0.72 * size, 0)};
    for (const ShadowSource& source : sources.places)
        for (int k = 0; k < 8; ++k) {
            DVec3 p = corner_of(box, k);
            p.z = std::clamp(p.z, 0.0, source.far ? std::max(0.0, box.high.z) : 0.9 * source.at.z);
            const DVec3 reach(2 * size, 2 * size, 0), at = thrown(source, p);
            const DVec3 held = glm::clamp(at, middle * DVec3(1, 1, 0) - reach, middle * DVec3(1, 1, 0) + reach);
            all.low = glm::min(all.low, held);
            all.high = glm::max(all.high, held);
        }
    side = 1.06 * std::max(all.size().x, all.size().y);
    corner = DVec3(all.centre().x - side / 2, all.centre().y - side / 2, 0);
}

/// Faint towards the rim, where a long shadow is cut off.
double fading(int x, int y) {
    const int rim = std::min({x, y, pixels - 1 - x, pixels - 1 - y});
    return std::min(1.0, rim / (0.06 * pixels));
}

}  // namespace

struct GroundShadow::Frame : Target {};

GroundShadow::GroundShadow() : frame_(std::make_unique<Frame>()), raw_(std::size_t(pixels) * pixels * 4) {}
GroundShadow::~GroundShadow() = default;

bool GroundShadow::make(const Scene& scene, bool fine, MeshPrograms& programs, const Draw& draw) {
    const auto box = box_of_items(scene);
    if (!box) return false;
    auto shapes = shapes_of(scene);
    auto lamps = numbers_of_lamps(scene);
    if (texture_ && same_shapes(shapes, shapes_) && lamps == lamps_ && (fine_ || !fine)) return true;
    shapes_ = std::move(shapes);
    lamps_ = std::move(lamps);
    fine_ = fine;
    const std::vector<float> missing = missing_light(scene, *box, fine, programs, draw);
    std::vector<std::uint8_t> bytes(missing.size());
    for (int y = 0; y < pixels; ++y)
        for (int x = 0; x < pixels; ++x) {
            const std::size_t i = static_cast<std::size_t>(y) * pixels + static_cast<std::size_t>(x);
            bytes[i] =
                static_cast<std::uint8_t>(std::clamp(static_cast<double>(missing[i]), 0.0, 1.0) * fading(x, y) * 255);
        }
    if (!texture_) {
        glCreateTextures(GL_TEXTURE_2D, 1, &texture_);
        glTextureStorage2D(texture_, 1, GL_R8, pixels, pixels);
        for (GLenum way : {GL_TEXTURE_WRAP_S, GL_TEXTURE_WRAP_T}) glTextureParameteri(texture_, way, GL_CLAMP_TO_EDGE);
        glTextureParameteri(texture_, GL_TEXTURE_MIN_FILTER, GL_LINEAR);
    }
    glPixelStorei(GL_UNPACK_ALIGNMENT, 1);
    glTextureSubImage2D(texture_, 0, 0, 0, pixels, pixels, GL_RED, GL_UNSIGNED_BYTE, bytes.data());
    glPixelStorei(GL_UNPACK_ALIGNMENT, 4);
    return true;
}

std::vector<float> GroundShadow::missing_light(const Scene& scene, const Box& box, bool fine, MeshPrograms& programs,
                                               const Draw& draw) {
    frame_->make({pixels, pixels}, 0);
    glBindFramebuffer(GL_FRAMEBUFFER, frame_->frame);
    glViewport(0, 0, pixels, pixels);
    glDisable(GL_DEPTH_TEST);
    glDisable(GL_CULL_FACE);
    glDisable(GL_BLEND);
    const DVec3 foot(box.centre().x, box.centre().y, 0);
    cover(box, shadow_sources(scene.lamps, scene.sky, foot, 12), corner_, side_);
    glm::dmat4 flatten(1);
    flatten[2][2] = 0;
    const std::size_t triangles = std::max<std::size_t>(1, outline(scene, flatten, programs, draw));
    const auto count =
        fine ? std::clamp<std::size_t>(1500000 / triangles, 6, 48) : std::clamp<std::size_t>(100000 / triangles, 3, 12);
    const ShadowSources sources = shadow_sources(scene.lamps, scene.sky, foot, static_cast<int>(count));
    std::vector<float> missing(std::size_t(pixels) * pixels);
    for (std::size_t i = 0; i < missing.size(); ++i)
        missing[i] = raw_[4 * i + 3] ? static_cast<float>(sources.all_around) : 0.0f;
    soften(missing, pixels,
           static_cast<int>(std::lround(0.06 * pixels * std::max(box.size().x, box.size().y) / side_)));
    if (sources.places.empty()) return missing;
    std::vector<float> thrown_by_lamps(missing.size(), 0.0f);
    for (const ShadowSource& source : sources.places) {
        outline(scene, thrown_matrix(source, box.high.z), programs, draw);
        for (std::size_t i = 0; i < missing.size(); ++i)
            if (raw_[4 * i + 3]) thrown_by_lamps[i] += static_cast<float>(source.weight);
    }
    soften(thrown_by_lamps, pixels, sources.places.size() < 24 ? 2 : 1);  // steps from place to place
    for (std::size_t i = 0; i < missing.size(); ++i) missing[i] += thrown_by_lamps[i];
    return missing;
}

std::size_t GroundShadow::outline(const Scene& scene, const glm::dmat4& flatten, MeshPrograms& programs,
                                  const Draw& draw) {
    glClearColor(0, 0, 0, 0);
    glClear(GL_COLOR_BUFFER_BIT);
    const glm::dmat4 from_above = glm::ortho(corner_.x, corner_.x + side_, corner_.y, corner_.y + side_);
    programs.begin([&](unsigned p) {
        uniform(p, "matrix", from_above);
        uniform(p, "flatten", flatten);
        uniform(p, "clay", glm::vec3(2));
        uniform(p, "alpha", 1.0f);
        uniform(p, "glass_pass", 0);
    });
    programs.use(shading_named("clay"));
    std::size_t triangles = 0;
    for (const SceneItem& item : scene.items)
        if (throws_shadow(item)) triangles += draw(item);
    glReadPixels(0, 0, pixels, pixels, GL_RGBA, GL_UNSIGNED_BYTE, raw_.data());
    return triangles;
}

}  // namespace bricol
