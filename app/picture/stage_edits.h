// SPDX-License-Identifier: GPL-3.0-or-later
// Edits of cameras, lights and backdrops, which are steps of a recipe.
#pragma once

#include "app/document/session.h"
#include "app/viewport/camera.h"
#include "app/viewport/stage_marks.h"
#include "core/catalogue/step_info.h"

namespace bricol {

/// One entry of the list: a step that puts something round the shapes.
struct StageRow {
    StageName name;
    QString title;
    const StepInfo* info = nullptr;
    bool on = true;
    bool light = false, camera = false;
    friend bool operator==(const StageRow&, const StageRow&) = default;
};
/// Every such step of the recipe, cameras first, then lights, then the rest, in the recipe's order.
std::vector<StageRow> stage_rows(const Recipe& recipe);

/// A camera step that sees what the view sees.
Step camera_from_view(const Camera& view, double aspect);
/// Puts the numbers of the view into a camera step that is there.
Edited with_view(const Recipe& recipe, const StageName& camera, const Camera& view);
/// A new step of a kind of the stage, placed to suit what the view shows (`box` of the shapes).
Step fresh_stage_step(const StepInfo& info, const Camera& view, double aspect, const std::optional<Box>& box);
/// Puts a step of the stage into the recipe: into the part “lights”, which is made when there is none.
Edited with_stage_step(const Recipe& recipe, Step step, StageName& made);
/// The standard lights as steps of their own, to be changed from there.
Edited with_standard_lights(const Recipe& recipe, const std::vector<ShapePtr>& shapes, const Camera& view,
                            double aspect);

}  // namespace bricol
