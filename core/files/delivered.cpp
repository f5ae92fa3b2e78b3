// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/delivered.h"

#include <algorithm>

namespace bricol {

std::vector<NamedShape> shapes_to_write(const Recipe& recipe, const Made& made, const std::vector<std::string>& parts) {
    std::vector<NamedShape> out;
    for (std::size_t p = 0; p < recipe.parts.size() && p < made.parts.size(); ++p) {
        const Part& part = *recipe.parts[p];
        const bool named = std::ranges::find(parts, part.name) != parts.end();
        if ((parts.empty() ? part.delivered() : named) && made.parts[p])
            out.push_back({part.name, made.parts[p]->shape});
    }
    return out;
}

ShapeNames shape_names(const Recipe& recipe, const Made& made) {
    ShapeNames out;
    for (std::size_t p = 0; p < recipe.parts.size() && p < made.parts.size(); ++p)
        if (made.parts[p]) out.emplace(made.parts[p]->shape, recipe.parts[p]->name);
    for (std::size_t p = 0; p < recipe.parts.size() && p < made.steps.size(); ++p)
        for (std::size_t s = 0; s < made.steps[p].size(); ++s)
            if (made.steps[p][s])
                out.emplace(made.steps[p][s]->shape, recipe.parts[p]->name + "." + recipe.parts[p]->steps[s]->id);
    return out;
}

}  // namespace bricol
