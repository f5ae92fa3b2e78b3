// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inspect/told.h"

namespace bricol {

void each_told(const Recipe& recipe, const Made& made, const SeeFindings& see) {
    for (std::size_t p = 0; p < recipe.parts.size() && p < made.parts.size(); ++p) {
        const Part& part = *recipe.parts[p];
        for (std::size_t s = 0; s < part.steps.size(); ++s)
            if (made.steps[p][s]) see(part.name, part.steps[s]->id, made.steps[p][s]->findings);
        if (made.parts[p]) see(part.name, "", made.parts[p]->findings);
    }
    see("", "", made.findings);
}

}  // namespace bricol
