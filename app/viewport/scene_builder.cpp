// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/scene_builder.h"

#include <QDir>
#include <QFileInfo>
#include <algorithm>

#include "app/theme/theme.h"
#include "app/viewport/grounds.h"
#include "core/kernels/real_geometry.h"

namespace bricol {

void add_items(Scene& scene, const ShapePtr& shape, const QColor& clay, bool ghost, bool helper) {
    for (PlacedMesh& placed : placed_meshes(shape)) {
        const Tints tints =
            placed.tints.empty() ? nullptr : std::make_shared<const Array<Vec4>>(std::move(placed.tints));
        const bool alone = !tints && placed.places.size() == 1 && placed.places[0] == glm::mat4(1);
        scene.items.push_back(
            {placed.shape,
             alone ? standing_alone() : std::make_shared<const Array<glm::mat4>>(std::move(placed.places)), clay, ghost,
             helper, false, shape, tints});
    }
}

bool SceneBuilder::build(Scene& scene, const Camera& camera, const AtWork& work) {
    const Scene before = scene;
    scene.items.clear();
    scene.pictures.clear();
    shapes_.clear();
    if (session_.made()) add_parts(scene, work);
    add_drafts(scene);
    if (!session_.made()) return true;
    add_pictures(scene, camera);
    const auto same_item = [](const SceneItem& a, const SceneItem& b) {
        return a.shape == b.shape && a.root == b.root && a.ghost == b.ghost && a.helper == b.helper && a.clay == b.clay;
    };
    const auto same_picture = [](const ScenePicture& a, const ScenePicture& b) {
        return a.image.cacheKey() == b.image.cacheKey() && a.corner == b.corner && a.across == b.across &&
               a.up == b.up && a.opacity == b.opacity && a.on_top == b.on_top;
    };
    return !std::ranges::equal(before.items, scene.items, same_item) ||
           !std::ranges::equal(before.pictures, scene.pictures, same_picture);
}

const StepOutcome* SceneBuilder::peeked(const Part& part) const {
    return part.name == session_.part() && !session_.peek().empty()
               ? session_.made()->step(session_.made_recipe(), part.name, session_.peek())
               : nullptr;
}

void SceneBuilder::add_parts(Scene& scene, const AtWork& work) {
    const Made* made = session_.made();
    const Recipe& recipe = session_.made_recipe();
    for (std::size_t p = 0; p < recipe.parts.size(); ++p) {
        const Part& part = *recipe.parts[p];
        const bool chosen = part.name == session_.part();
        const Part* now = session_.recipe().part(part.name);
        if (!now || !made->parts[p]) continue;
        const StepOutcome* instead = peeked(part);
        const ShapePtr shape = instead ? instead->shape : made->parts[p]->shape;
        const QColor clay = theme::part_clay(static_cast<int>(p));
        if (!now->hidden || chosen) {
            // Nothing stands before what is picked on, before what lies in a helper, or before sticks.
            const bool ghost = chosen ? work.sticks : work.picking || now->helper;
            add_items(scene, shape, clay, ghost, now->helper);
            shapes_.push_back(shape);
        }
        for (std::size_t s = 0; s < part.steps.size(); ++s) {
            const Step* step = find_step(*now, part.steps[s]->id);
            const auto& outcome = made->steps[p][s];
            if (!step || !step->ghost || !outcome || outcome->shape == shape) continue;
            add_items(scene, outcome->shape, theme::color(theme::Role::act), true);
            shapes_.push_back(outcome->shape);
        }
    }
}

void SceneBuilder::add_drafts(Scene& scene) {
    for (const MakeDraft& draft : session_.worker().drafts()) {
        const Part* part = session_.recipe().part(draft.part);
        if (part && (!part->hidden || part->name == session_.part()))
            add_items(scene, draft.shape, theme::color(theme::Role::act), true);
    }
}

const QImage& SceneBuilder::picture(const QString& file) {
    auto [cached, fresh] = cache_.try_emplace(file);
    if (fresh) {
        cached->second.load(file);
        if (cached->second.isNull())
            session_.say(QString("The picture %1 could not be read. The recipe keeps its place; put the file back "
                                 "or choose another.")
                             .arg(file),
                         true);
    }
    return cached->second;
}

void SceneBuilder::add_pictures(Scene& scene, const Camera& camera) {
    for (const Picture& wanted : session_.recipe().pictures) {
        const QString file = QFileInfo(QString::fromStdString(wanted.file)).isAbsolute()
                                 ? QString::fromStdString(wanted.file)
                                 : QDir(session_.folder()).filePath(QString::fromStdString(wanted.file));
        const QImage& image = picture(file);
        if (image.isNull()) continue;
        const double w = wanted.height * image.width() / image.height();
        ScenePicture shown;
        shown.image = image;
        shown.opacity = static_cast<float>(wanted.opacity);
        DVec3 across(1, 0, 0), up(0, 0, 1);
        View view = View::front;
        if (wanted.plane == "side") across = DVec3(0, 1, 0), view = View::side;
        if (wanted.plane == "top") up = DVec3(0, 1, 0), view = View::top;
        shown.across = across * w;
        shown.up = up * wanted.height;
        shown.corner = across * (wanted.across - w / 2) + up * wanted.up;
        shown.on_top = camera.view == view;
        if (camera.flat() && !shown.on_top) continue;
        if (!camera.flat()) continue;  // in the free view it would only stand in the way
        scene.pictures.push_back(std::move(shown));
    }
}

std::vector<Box> SceneBuilder::boxes_of_parts(bool everything) const {
    std::vector<Box> boxes;
    const Made* made = session_.made();
    if (!made) return boxes;
    const Recipe& recipe = session_.made_recipe();
    for (std::size_t p = 0; p < recipe.parts.size(); ++p) {
        const Part& part = *recipe.parts[p];
        const bool chosen = part.name == session_.part();
        if (!made->parts[p] || (everything ? part.hidden : !chosen)) continue;
        const StepOutcome* instead = peeked(part);
        const auto own = instead ? box_of(*instead->shape)
                                 : made->parts[p]->measures.box;  // measured already: asked for at every picture
        if (own) boxes.push_back(*own);
    }
    return boxes;
}

std::optional<Box> SceneBuilder::shown_box(bool everything) const {
    const std::vector<Box> boxes = boxes_of_parts(everything);
    if (boxes.empty()) return std::nullopt;
    const std::vector<std::uint8_t> ground = grounds_among(boxes);
    Box box = Box::nothing();
    for (std::size_t i = 0; i < boxes.size(); ++i)
        if (!ground[i]) box.add(boxes[i]);
    return box;
}

bool SceneBuilder::mostly_specks() const {
    const auto all = shown_box(true);
    if (!all) return false;
    const auto side = [](const Box& box) { return std::max({box.size().x, box.size().y, box.size().z}); };
    std::vector<double> sides;
    for (const Box& box : boxes_of_parts(true)) sides.push_back(side(box));
    const auto middle = sides.begin() + static_cast<std::ptrdiff_t>(sides.size() / 2);
    std::ranges::nth_element(sides, middle);
    return 40 * *middle < side(*all);
}

}  // namespace bricol
