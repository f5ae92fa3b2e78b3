// SPDX-License-Identifier: GPL-3.0-or-later
#include <epoxy/gl.h>
//
#include "app/viewport/ground_shadow.h"

#include <algorithm>
#include <cmath>

#include "app/viewport/grounds.h"
#include "app/viewport/soft_mask.h"
#include "core/ground/parallel.h"

namespace bricol {

namespace {

constexpr int pixels = 256;

DVec3 corner_of(const Box& box, int number) {
    return {number & 1 ? box.high.x : box.low.x, number & 2 ? box.high.y : box.low.y,
            number & 4 ? box.high.z : box.low.z};
}

Box box_of_item(const SceneItem& item) {
    Shape only;
    only.mesh = item.shape->mesh;
    const auto own = box_of(only);
    Box box = Box::nothing();
    for (const glm::mat4& place : *item.places)
        for (int corner = 0; corner < 8; ++corner)
            box.add(DVec3(glm::dmat4(place) * glm::dvec4(corner_of(*own, corner), 1)));
    return box;
}

/// What throws a shadow, and the box round it. A ground lies under it and throws none.
std::vector<const SceneItem*> thrown_items(const Scene& scene, Box& box) {
    std::vector<const SceneItem*> items, out;
    std::vector<Box> boxes;
    for (const SceneItem& item : scene.items)
        if (!item.ghost && !item.helper && item.shape->mesh.face_count() > 0 && !item.places->empty())
            items.push_back(&item), boxes.push_back(box_of_item(item));
    const std::vector<std::uint8_t> ground = grounds_among(boxes);
    box = Box::nothing();
    for (std::size_t i = 0; i < items.size(); ++i)
        if (!ground[i]) out.push_back(items[i]), box.add(boxes[i]);
    return out;
}

/// Which face is of what: glass throws none.
std::shared_ptr<const void> materials_of(const Mesh& mesh) {
    const Attribute* column = mesh.attributes.find(Domain::face, attribute_name::material);
    return column ? column->values : nullptr;
}

std::vector<std::weak_ptr<const void>> shapes_of(const std::vector<const SceneItem*>& items) {
    std::vector<std::weak_ptr<const void>> out;
    for (const SceneItem* item : items) {
        out.emplace_back(item->shape->mesh.positions);
        out.emplace_back(item->places);
        out.emplace_back(materials_of(item->shape->mesh));
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

bool GroundShadow::make(const Scene& scene, bool fine) {
    Box box;
    const std::vector<const SceneItem*> items = thrown_items(scene, box);
    if (items.empty()) return false;
    auto shapes = shapes_of(items);
    auto lamps = numbers_of_lamps(scene);
    if (texture_ && same_shapes(shapes, shapes_) && lamps == lamps_ && (fine_ || !fine)) return true;
    shapes_ = std::move(shapes);
    lamps_ = std::move(lamps);
    fine_ = fine;
    const std::vector<float> missing = missing_light(scene, casters(items), box, fine);
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

std::vector<ShadowCaster> GroundShadow::casters(const std::vector<const SceneItem*>& items) {
    const auto is = [](const std::weak_ptr<const void>& known, const std::shared_ptr<const void>& given) {
        return !known.owner_before(given) && !given.owner_before(known);
    };
    std::vector<Known> used;
    std::vector<ShadowCaster> out;
    for (const SceneItem* item : items) {
        const Mesh& mesh = item->shape->mesh;
        const std::shared_ptr<const void> materials = materials_of(mesh);
        const auto same = [&](const Known& known) {
            return is(known.points, mesh.positions) && is(known.topology, mesh.topology) &&
                   is(known.materials, materials);
        };
        Known mine{mesh.positions, mesh.topology, materials, nullptr};
        for (const auto* list : {&used, &known_})
            if (const auto found = std::ranges::find_if(*list, same); !mine.triangles && found != list->end())
                mine.triangles = found->triangles;
        if (!mine.triangles) mine.triangles = opaque_triangles(mesh);
        if (!mine.triangles->empty()) out.push_back({mesh.positions, mine.triangles, item->places});
        used.push_back(std::move(mine));
    }
    known_ = std::move(used);
    return out;
}

std::vector<float> GroundShadow::missing_light(const Scene& scene, const std::vector<ShadowCaster>& shapes,
                                               const Box& box, bool fine) {
    const DVec3 foot(box.centre().x, box.centre().y, 0);
    cover(box, shadow_sources(scene.lamps, scene.sky, foot, 12), corner_, side_);
    double work = 1;
    for (const ShadowCaster& one : shapes) work += one.work();
    const double places = fine ? std::clamp(6e6 / work, 6.0, 48.0) : std::clamp(1e6 / work, 3.0, 12.0);
    const ShadowSources sources = shadow_sources(scene.lamps, scene.sky, foot, static_cast<int>(places));
    const GroundSquare square{corner_, side_, pixels};
    std::vector<std::uint8_t> from_above;
    std::vector<std::vector<std::uint8_t>> thrown(sources.places.size());
    parallel::each(std::size_t(0), thrown.size() + 1, [&](std::size_t i) {
        if (i == thrown.size())
            from_above = ground_cover(shapes, std::nullopt, square);
        else
            thrown[i] = ground_cover(shapes, sources.places[i], square);
    });
    std::vector<float> missing(from_above.size());
    for (std::size_t i = 0; i < missing.size(); ++i)
        missing[i] = from_above[i] ? static_cast<float>(sources.all_around) : 0.0f;
    soften(missing, pixels,
           static_cast<int>(std::lround(0.06 * pixels * std::max(box.size().x, box.size().y) / side_)));
    if (sources.places.empty()) return missing;
    std::vector<float> by_lamps(missing.size(), 0.0f);
    for (std::size_t k = 0; k < thrown.size(); ++k)
        for (std::size_t i = 0; i < missing.size(); ++i)
            if (thrown[k][i]) by_lamps[i] += static_cast<float>(sources.places[k].weight);
    soften(by_lamps, pixels, sources.places.size() < 24 ? 2 : 1);  // steps from place to place
    for (std::size_t i = 0; i < missing.size(); ++i) missing[i] += by_lamps[i];
    return missing;
}

}  // namespace bricol
