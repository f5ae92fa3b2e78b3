// SPDX-License-Identifier: GPL-3.0-or-later
// What is seen at a pixel: parts chosen, spots traced; and the view as a picture of its own.
#include "app/viewport/spot.h"
#include "app/viewport/viewport.h"
#include "core/kernels/triangulate.h"

namespace bricol {

const Part* Viewport::part_of(const SceneItem& item) const {
    const Recipe& recipe = session_.made_recipe();
    for (std::size_t p = 0; p < recipe.parts.size(); ++p)
        if (session_.made()->parts[p] && session_.made()->parts[p]->shape == item.root) return recipe.parts[p].get();
    return nullptr;
}

void Viewport::trace_at(const QPointF& at) {
    if (!renderer_ || !session_.made()) return;
    const auto spot = spot_at(*renderer_, scene_, camera_, size(), at);
    const Part* part = spot ? part_of(*spot->item) : nullptr;
    if (!part) return;
    places_ = {Vec3(spot->at)};
    emit spotClicked(part->name, Vec3(spot->at), spot->face);
    update();
}

void Viewport::choose_part_at(const QPointF& at) {
    if (!renderer_ || !session_.made()) return;
    const glm::uvec2 found =
        renderer_->pick(scene_, camera_, size()).at(static_cast<int>(at.x()), static_cast<int>(at.y()));
    if (found.x == 0 || found.x > scene_.items.size()) return;
    const SceneItem& item = scene_.items[found.x - 1];
    const Part* part = part_of(item);
    if (!part || !part->delivered()) return;
    const std::string name = part->name;  // choosing may take the recipe away
    const Triangles cut = triangulated(item.shape->mesh);
    if (name != session_.part()) session_.choose_part(name);
    if (found.y < cut.count()) emit faceClicked(name, cut.face[found.y]);
}

QImage Viewport::picture(QSize pixels) {
    if (!renderer_) return {};
    scene_.shading = shading_;
    scene_.grid = false;
    scene_.shadow = shadow_;
    scene_.occlusion = occlusion_;
    scene_.paint = shading_->paints_attribute ? overlay_.paint(builder_.shapes()) : Paint{};
    Scene scene = scene_;
    std::erase_if(scene.items, [](const SceneItem& item) { return item.helper; });
    return renderer_->render(scene, camera_, pixels, true);
}

}  // namespace bricol
