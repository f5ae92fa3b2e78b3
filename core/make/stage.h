// SPDX-License-Identifier: GPL-3.0-or-later
// What a recipe puts round its shapes for pictures, gathered from what was made.
#pragma once

#include <optional>

#include "core/make/outcome.h"
#include "core/shape/stage.h"

namespace bricol {

template <class T>
struct OnStage {
    std::string part, step;  ///< which entry of the recipe it is
    std::string title;       ///< what the artist calls it
    T piece;
};

struct Stage {
    std::vector<OnStage<StageCamera>> cameras;
    std::vector<OnStage<StageLamp>> lamps;
    std::optional<OnStage<StageSky>> sky;
    std::optional<OnStage<StageBackdrop>> backdrop;
    bool lights_known = false;  ///< the recipe has lamps, suns or a sky, be they on or off

    /// By id or title; null for none of that name.
    const OnStage<StageCamera>* camera(const std::string& name) const;
};

/// Whether lamps, suns or a sky stand in it, be they on or off.
bool has_lights(const Recipe& recipe);

/// Entries that are on, of parts that are not hidden, in the recipe's order. Of several skies or backdrops the first.
Stage stage_of(const Recipe& recipe, const Made& made);

/// A second sky or backdrop, which is not used; all lights off; and, when `thorough`, lamps that stand inside a solid.
std::vector<Finding> stage_findings(const Recipe& recipe, const Made& made, bool thorough);

}  // namespace bricol
