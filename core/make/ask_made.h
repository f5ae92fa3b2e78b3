// SPDX-License-Identifier: GPL-3.0-or-later
// What formulas ask of steps, answered from a making that is done.
#pragma once

#include "core/make/outcome.h"
#include "core/recipe/resolve.h"

namespace bricol {

/// Both have to outlive the resolver; `made` may be null where nothing is made yet.
inline Resolver::AskMade asking(const Recipe& recipe, const Made* made) {
    return [&recipe, made](const Part& part, const Step& step, std::string_view path) -> Result<double> {
        const StepOutcome* there = made ? made->step(recipe, part.name, step.id) : nullptr;
        if (there && there->numbers) return there->numbers->at(path);
        return Problem{"It is not made yet.", "", ""};
    };
}

}  // namespace bricol
