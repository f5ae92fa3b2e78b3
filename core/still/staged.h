// SPDX-License-Identifier: GPL-3.0-or-later
// A recipe's shapes with its cameras, lights and backdrop, ready for a picture.
#pragma once

#include "core/make/stage.h"
#include "core/still/still_scene.h"

namespace bricol {

/// How a row of pictures turns.
enum class FrameTurn : std::uint8_t {
    shapes,  ///< they turn on their table; light, camera and backdrop stay
    camera,  ///< the camera goes round them; light stays with the shapes
    none     ///< only what formulas make of `frame` moves
};

/// What a picture takes where the recipe leaves it open.
struct StagedWishes {
    const StageCamera* camera = nullptr;    ///< a view of one's own; else the recipe's, else one that frames the shapes
    double aspect = 1.6;                    ///< width over height of the picture
    bool dark = false;                      ///< the standard backdrop, a light or a dark one
    std::string only_light;                 ///< "part.step" that shines alone; empty for all
    std::optional<StageBackdrop> backdrop;  ///< instead of the recipe's
    FrameTurn turn = FrameTurn::none;
    double turned = 0;  ///< of a whole turn, about the vertical through what the camera looks at
};

StageBackdrop standard_backdrop(bool dark);

/// Shapes of the parts that stand in the result (or of `parts`, by name), in the recipe's order, the empty ones left
/// out.
std::vector<ShapePtr> delivered_shapes(const Recipe& recipe, const Made& made, const std::vector<std::string>& parts);

/// The scene: lights and sky of the recipe, or the standard ones when it has none at all; the same for camera and
/// backdrop.
StillScene staged_scene(std::vector<ShapePtr> shapes, const Stage& stage, const StagedWishes& wishes);

}  // namespace bricol
