// SPDX-License-Identifier: GPL-3.0-or-later
// Small scenes whose light is known.
#pragma once

#include <numbers>

#include "core/kernels/primitives.h"
#include "core/still/numbers.h"
#include "core/still/still.h"
#include "tests/support/shapes.h"

namespace bricol::test {

inline Material material_of(double colour, double metal, double rough, double through = 0) {
    Material m;
    m.name = "tried";
    m.colour = Vec3(static_cast<float>(colour));
    m.metallic = static_cast<float>(metal);
    m.roughness = static_cast<float>(rough);
    m.transmission = static_cast<float>(through);
    return m;
}

inline ShapePtr made_of(Mesh mesh, const Material& material) {
    const std::int32_t number = material_number(material);
    mesh.materials = std::make_shared<const MaterialList>(MaterialList{{number, material}});
    mesh.attributes.set(Domain::face, attribute_name::material, Array<std::int32_t>(mesh.face_count(), number));
    return std::make_shared<const Shape>(shape_of(std::move(mesh)));
}

inline Mesh lifted(Mesh mesh, const Vec3& by) {
    Array<Vec3> points = *mesh.positions;
    for (Vec3& p : points) p += by;
    mesh.positions = std::make_shared<const Array<Vec3>>(std::move(points));
    return mesh;
}

/// Mean brightness of a small picture.
inline double mean_of(const StillPicture& picture) {
    double sum = 0;
    for (const Vec3& c : picture.colour) sum += static_cast<double>(brightness(c));
    return sum / static_cast<double>(picture.colour.size());
}

/// A matt floor of half reflectance, looked at in one point from the side, far away and narrowly.
inline StillScene floor_scene() {
    StillScene scene;
    // No coat: a refraction index of 1 leaves Lambert's law alone.
    Material matt = material_of(0.5, 0, 1);
    matt.ior = 1;
    scene.shapes.push_back(made_of(make_grid(40, 40, 1, 1), matt));
    scene.camera.eye = {6, 0, 6};
    scene.camera.aim = {0, 0, 0};
    scene.camera.focal = 20000;
    scene.ground.high = scene.ground.low = DVec3(0);
    return scene;
}
inline StillOptions small(int samples) {
    StillOptions options;
    options.width = options.height = 8;
    options.samples = samples;
    return options;
}
/// What the floor throws on, as irradiance (W/m^2): Lambert's radiance times pi over its reflectance.
inline double irradiance(const StillScene& scene, int samples = 256) {
    return mean_of(still_of(scene, small(samples))) * std::numbers::pi / 0.5;
}

}  // namespace bricol::test
