// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/still/staged.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/files/delivered.h"

namespace bricol {

namespace {

const DVec3 light_sheet(0.72, 0.71, 0.68), dark_sheet(0.055, 0.06, 0.068);

void put_backdrop(StillScene& scene, const StageBackdrop& backdrop) {
    using Kind = StageBackdrop::Kind;
    scene.ground.high = backdrop.kind == Kind::gradient ? backdrop.high : backdrop.colour;
    scene.ground.low = backdrop.colour;
    scene.ground.clear = backdrop.kind == Kind::nothing;
    if (backdrop.kind == Kind::nothing) scene.ground.high = scene.ground.low = DVec3(0);
    if (backdrop.kind != Kind::bent && backdrop.kind != Kind::plain) return;
    const bool bent = backdrop.kind == Kind::bent;
    const ShapePtr sheet =
        bent ? bent_backdrop(scene.shapes, scene.camera, backdrop.colour) : plain_ground(scene.shapes, backdrop.colour);
    if (bent) scene.ground.high = backdrop.colour * 0.8;
    // Seen from below the ground would hide everything.
    if (scene.camera.eye.z <= static_cast<double>(sheet->mesh.positions->front().z)) return;
    if (!bent) scene.catcher = static_cast<std::int32_t>(scene.shapes.size());
    scene.shapes.push_back(sheet);
}

/// Shapes that turn on a table are the same as everything else going round them the other way.
void turn_scene(StillScene& scene, FrameTurn turn, double share) {
    if (turn == FrameTurn::none) return;
    const double angle = (turn == FrameTurn::camera ? 2 : -2) * std::numbers::pi * share, c = std::cos(angle),
                 s = std::sin(angle);
    const DVec3 axis(scene.camera.aim.x, scene.camera.aim.y, 0);
    const auto turned = [&](const DVec3& at) {
        const DVec3 d = at - axis;
        return axis + DVec3(c * d.x - s * d.y, s * d.x + c * d.y, d.z);
    };
    scene.camera.eye = turned(scene.camera.eye), scene.camera.aim = turned(scene.camera.aim);
    if (turn == FrameTurn::camera) return;
    for (StageLamp& lamp : scene.lights) lamp.at = turned(lamp.at), lamp.aim = turned(lamp.aim);
    scene.sky.turn += angle * 180 / std::numbers::pi;
}

}  // namespace

StageBackdrop standard_backdrop(bool dark) {
    const DVec3 sheet = dark ? dark_sheet : light_sheet;
    return {StageBackdrop::Kind::bent, sheet, sheet * 0.8};
}

std::vector<ShapePtr> delivered_shapes(const Recipe& recipe, const Made& made, const std::vector<std::string>& parts) {
    std::vector<ShapePtr> shapes;
    for (const NamedShape& named : shapes_to_write(recipe, made, parts))
        if (named.shape->face_count() > 0) shapes.push_back(named.shape);
    return shapes;
}

StillScene staged_scene(std::vector<ShapePtr> shapes, const Stage& stage, const StagedWishes& wishes) {
    const StageCamera camera = wishes.camera            ? *wishes.camera
                               : !stage.cameras.empty() ? stage.cameras.front().piece
                                                        : framing_camera(shapes, wishes.aspect);
    StillScene scene = framed_scene(std::move(shapes), camera);
    if (stage.lights_known) {
        const auto shines = [&](const auto& entry) {
            return wishes.only_light.empty() || wishes.only_light == entry.part + "." + entry.step;
        };
        scene.lights.clear();
        for (const auto& lamp : stage.lamps)
            if (shines(lamp)) scene.lights.push_back(lamp.piece);
        scene.sky = stage.sky && shines(*stage.sky) ? stage.sky->piece : StageSky{};
        if (stage.sky) scene.sky.seen = stage.sky->piece.seen;
    }
    turn_scene(scene, wishes.turn, wishes.turned);
    // After the turn: a sheet that rises behind must not rise before the camera.
    put_backdrop(scene, wishes.backdrop  ? *wishes.backdrop
                        : stage.backdrop ? stage.backdrop->piece
                                         : standard_backdrop(wishes.dark));
    return scene;
}

}  // namespace bricol
