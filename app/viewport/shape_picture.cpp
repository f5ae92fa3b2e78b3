// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/shape_picture.h"

#include "app/theme/theme.h"

namespace bricol {

PartShapes delivered_shapes(const Recipe& recipe, const Made& made) {
    PartShapes shapes;
    for (std::size_t p = 0; p < recipe.parts.size() && !made.stopped; ++p)
        if (recipe.parts[p]->delivered() && made.parts[p]) shapes.emplace_back(p, made.parts[p]->shape);
    return shapes;
}

std::optional<Box> box_of_shapes(const PartShapes& shapes) {
    std::optional<Box> box;
    for (const auto& [part, shape] : shapes) {
        const auto other = box_of(*shape);
        if (!other) continue;
        if (!box) box = other;
        box->low = glm::min(box->low, other->low);
        box->high = glm::max(box->high, other->high);
    }
    return box;
}

QImage picture_of_shapes(Renderer& renderer, const PartShapes& shapes, QSize pixels, const Camera* camera) {
    Scene scene;
    scene.grid = false;
    scene.shading = &shading_named("materials");
    for (const auto& [part, shape] : shapes) add_items(scene, shape, theme::part_clay(static_cast<int>(part)));
    Camera usual;
    if (!camera) {
        const auto box = box_of_shapes(shapes);
        if (!box) return {};
        usual.frame(*box, static_cast<double>(pixels.width()) / pixels.height());
    }
    return renderer.render(scene, camera ? *camera : usual, pixels, true);
}

}  // namespace bricol
