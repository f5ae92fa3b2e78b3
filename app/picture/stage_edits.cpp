// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/picture/stage_edits.h"

#include <algorithm>
#include <cmath>

#include "app/document/step_edits.h"
#include "app/viewport/still_view.h"

namespace bricol {

namespace {

constexpr const char* lights_part = "lights";

/// Three digits are enough for a place nobody typed, and read well.
double rounded(double value) {
    if (value == 0 || !std::isfinite(value)) return 0;
    const double digit = std::pow(10, std::floor(std::log10(std::abs(value))) - 2);
    const double coarse = std::round(value / digit) * digit;
    return std::round(coarse * 1e6) / 1e6;
}
Json place(const DVec3& at) { return {rounded(at.x), rounded(at.y), rounded(at.z)}; }

void aim_and_size(Step& step, const StepInfo& info, const DVec3& at, const DVec3& aim, double size) {
    const auto put = [&](const char* key, Json value) {
        if (info.parameter(key)) step.settings[key] = std::move(value);
    };
    put("at", place(at));
    put("aim", place(aim));
    put("width", rounded(size)), put("height", rounded(size));
}

/// The first step of the catalogue that stands on the stage and has this setting.
const StepInfo* stage_info(std::string_view key, std::string_view setting) {
    for (const StepInfo* info : all_steps())
        if (info->family == Family::light && info->parameter(key) && info->parameter(setting)) return info;
    return nullptr;
}

}  // namespace

std::vector<StageRow> stage_rows(const Recipe& recipe) {
    std::vector<StageRow> rows;
    for (const auto& part : recipe.parts)
        for (const auto& step : part->steps) {
            const StepInfo* info = find_step_info(step->type);
            if (!info || info->family != Family::light) continue;
            StageRow row{{part->name, step->id}, {}, info, !step->skipped && !part->hidden, false, false};
            row.title = QString::fromStdString(step->title.empty() ? step->id : step->title);
            row.light = info->parameter("strength") != nullptr;
            row.camera = info->parameter("focal") != nullptr;
            rows.push_back(std::move(row));
        }
    std::ranges::stable_sort(rows, {}, [](const StageRow& r) { return r.camera ? 0 : r.light ? 1 : 2; });
    return rows;
}

Step camera_from_view(const Camera& view, double aspect) {
    const StageCamera lens = stage_camera(view, aspect);
    const StepInfo* info = stage_info("focal", "at");
    Step step;
    step.type = info->key;
    step.settings["at"] = place(view.eye());
    step.settings["aim"] = place(view.target);
    step.settings["focal"] = std::round(lens.focal);
    return step;
}

Edited with_view(const Recipe& recipe, const StageName& camera, const Camera& view) {
    const Part* part = recipe.part(camera.part);
    const Step* old = part ? find_step(*part, camera.step) : nullptr;
    if (!old) return Problem{"The camera is gone.", "", ""};
    Step step = *old;
    step.settings["at"] = place(view.eye());
    step.settings["aim"] = place(view.target);
    step.settings.erase("roll");
    return replace_step(recipe, camera.part, step);
}

Step fresh_stage_step(const StepInfo& info, const Camera& view, double aspect, const std::optional<Box>& box) {
    if (info.parameter("focal")) return camera_from_view(view, aspect);
    Step step;
    step.type = info.key;
    const Box around = box.value_or(Box{DVec3(-0.5), DVec3(0.5)});
    const double radius = std::max(glm::length(around.size()) / 2, 1e-3);
    // From the upper left of who looks, a little before the shapes.
    const DVec3 at =
        around.centre() - view.right() * (2.2 * radius) + DVec3(0, 0, 2.4 * radius) + view.direction() * (1.6 * radius);
    aim_and_size(step, info, at, around.centre(), 1.4 * radius);
    if (const ParameterInfo* strength = info.parameter("strength"); strength && info.parameter("at")) {
        // What gives the middle 3 W/m^2 from a sheet that faces it: flux = irradiance x pi x distance squared.
        const double distance = glm::distance(at, around.centre());
        step.settings["strength"] = rounded(3 * 3.14159265 * distance * distance);
    }
    return step;
}

Edited with_stage_step(const Recipe& recipe, Step step, StageName& made) {
    Recipe now = recipe;
    made.part = lights_part;
    if (!now.part(made.part)) {
        auto added = add_part(now, made.part, &made.part);
        if (!added) return added;
        now = std::move(*added);
    }
    const Part* part = now.part(made.part);
    const std::string last = part->steps.empty() ? "" : part->steps.back()->id;
    return insert_step(now, made.part, last, std::move(step), &made.step);
}

Edited with_standard_lights(const Recipe& recipe, const std::vector<ShapePtr>& shapes, const Camera& view,
                            double aspect) {
    const StillScene scene = framed_scene(shapes, stage_camera(view, aspect));
    const StepInfo* lamp = stage_info("aim", "strength");
    const StepInfo* sky = stage_info("horizon", "strength");
    Recipe now = recipe;
    for (const StageLamp& light : scene.lights) {
        Step step;
        step.id = light.name;
        step.type = lamp->key;
        aim_and_size(step, *lamp, light.at, light.aim, light.width);
        step.settings["strength"] = rounded(light.strength);
        step.settings["hue"] = "colour";
        const double most = std::max({light.colour.x, light.colour.y, light.colour.z});
        step.settings["colour"] = place(light.colour / most);
        StageName made;
        auto added = with_stage_step(now, std::move(step), made);
        if (!added) return added;
        now = std::move(*added);
    }
    Step around;
    around.id = "sky";
    around.type = sky->key;
    around.settings["strength"] = scene.sky.strength;
    StageName made;
    return with_stage_step(now, std::move(around), made);
}

}  // namespace bricol
