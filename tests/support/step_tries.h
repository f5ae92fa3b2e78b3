// SPDX-License-Identifier: GPL-3.0-or-later
// Every step with its defaults, and with settings that reach more of it; run by itself, on any mesh.
#pragma once

#include <string>
#include <vector>

#include "core/catalogue/step_info.h"
#include "core/catalogue/step_run.h"
#include "core/recipe/resolve.h"
#include "tests/support/shapes.h"

namespace bricol::test {

/// Settings that reach more of a step than its defaults do.
inline std::vector<std::pair<std::string, Json>> step_tries() {
    std::vector<std::pair<std::string, Json>> list;
    for (const StepInfo* info : all_steps()) list.emplace_back(std::string(info->key), Json::object());
    for (const auto& [step, settings] : std::initializer_list<std::pair<const char*, Json>>{
             {"bevel", {{"by", "all"}, {"width", 0.2}, {"segments", 3}}},
             {"bevel", {{"what", "vertices"}, {"width", 0.5}, {"segments", 2}}},
             {"bevel", {{"by", "all"}, {"measure", "share"}, {"share", 100}, {"hold", false}}},
             {"bevel", {{"by", "weight"}}},
             {"extrude", {{"how", "each"}, {"inset", 0.3}, {"divisions", 3}, {"back", true}}},
             {"extrude", {{"what", "edges"}, {"distance", -0.5}}},
             {"inset", {{"width", 0.4}}},
             {"thicken", {{"thickness", 0.5}, {"side", "both"}}},
             {"struts", {{"thickness", 0.4}, {"keep_faces", true}}},
             {"struts", {{"section", "round"}, {"measure", "share"}, {"share", 80}}},
             {"boolean", {{"kind", "difference"}}},
             {"boolean", {{"kind", "intersection"}}},
             {"boolean", {{"kind", "difference_back"}}},
             {"slice", {{"at", 0.3}}},
             {"slice", {{"across", "free"}, {"normal", {0, 0, 0}}}},
             {"slice", {{"at", 0}, {"keep", "both"}}},
             {"smooth", {{"rounds", 50}, {"strength", 1}}},
             {"array", {{"result", "real"}, {"weld", true}, {"distance", 0.02}}},
             {"array", {{"kind", "radial"}, {"result", "real"}, {"weld", true}}},
             {"array", {{"kind", "repeat"}, {"size", {0.5, 2, 0}}}},
             {"array", {{"kind", "grid"}, {"measure", "own"}}},
             {"array", {{"until", "length"}, {"offset", {0, 0, 0}}}},
             {"bend", {{"angle", 3600}, {"weld", true}}},
             {"twist", {{"angle", 36000}}},
             {"taper", {{"first", 0}, {"second", -10}, {"ramp", "bulge"}, {"bulge", 5}}},
             {"stretch", {{"factor", 0.001}, {"keep_volume", true}}},
             {"lattice",
              {{"counts", {16, 2, 1000}},
               {"points",
                {{{"point", {0, 0, 0}}, {"move", {5, 5, 5}}}, {{"point", {99, 0, 0}}, {"move", {1, 1, 1}}}}}}},
             {"nudge",
              {{"places",
                {{{"vertex", {0, 0, 0}}, {"move", {1, 0, 0}}}, {{"face", {0.5, 0.5, 0}}, {"move", {0, 0, 1}}}}},
               {"soft", 10}}},
             {"choose", {{"rule", "loops"}, {"what", "edges"}, {"places", {{{"edge", {0.5, 0, 0}}}}}}},
             {"choose", {{"rule", "rings"}, {"what", "edges"}, {"places", {{{"edge", {0.5, 0, 0}}}}}, {"grow", 20}}},
             {"choose", {{"rule", "ball"}, {"radius", 0}, {"grow", -5}}},
             {"choose", {{"rule", "facing"}, {"direction", {0, 0, 0}}}},
             {"cut_loop", {{"places", {{{"edge", {0.5, 0, 0}}}}}, {"cuts", 5}}},
             {"edge_weight", {{"by", "angle"}, {"angle", 0}}},
             {"subdivide", {{"levels", 2}, {"scheme", "triangles"}}},
             {"dissolve_flat", {{"angle", 180}}},
             {"mirror", {{"cut", true}, {"weld", 0.05}}},
             {"follow_curve", {{"stretch", true}, {"twist", 36000}, {"origin", "base"}}},
             {"along_curve", {{"by", "fit"}, {"stiff", true}, {"stretch", true}, {"look", "level"}}},
             {"sweep", {{"caps", "round"}, {"ramped", true}, {"twist", 3600}}},
             {"drape", {{"fit", "size"}, {"size", {1e-6, 1, 0}}, {"trim", "drop"}}},
             {"drape", {{"fit", "size"}, {"amount", 0.5}, {"base", "middle"}}},
             {"uv", {{"by", "sphere"}}},
             {"unwrap", {{"by_angle", false}, {"margin", 0.5}}},
             {"weld", {{"distance", 100}}}})
        list.emplace_back(step, settings);
    return list;
}

/// A step made ready as the maker would, with `main` as its first input and `other` as all the rest; `ready` is false
/// when it takes nothing or nothing of this content, which the maker tells by itself.
struct ReadyStep {
    const StepInfo* info;
    StepRun run;
    bool ready = false;

    ReadyStep(const std::string& key, const Json& settings, const Mesh& main, const Mesh& other)
        : info(find_step_info(key)), run(info) {
        if (info->inputs.empty()) return;
        const auto first = std::make_shared<const Shape>(shape_of(main)),
                   rest = std::make_shared<const Shape>(shape_of(other));
        if (!(content_of(*first) & info->inputs.front().accepts)) return;
        Recipe recipe;
        Part part;
        part.name = "p";
        Step step;
        step.id = "s";
        step.type = key;
        step.settings = settings;
        run.id = "s";
        run.values = Resolver(recipe).parameters(part, step, *info, run.findings);
        for (const InputInfo& input : info->inputs)
            run.inputs[std::string(input.key)] = &input == &info->inputs.front() ? first : rest;
        ready = true;
    }
};

}  // namespace bricol::test
