// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/recipe/unknown_dial.h"

#include <fmt/format.h>

#include "core/ground/words.h"

namespace bricol {

Problem unknown_dial(const Recipe& recipe, const std::string& name) {
    constexpr std::size_t most_named = 20;
    std::vector<std::string_view> known;
    for (const Dial& dial : recipe.dials) known.push_back(dial.name);
    if (known.empty()) return {fmt::format("There is no dial “{}”.", shortened(name)), "", "The recipe has no dials."};
    std::string hint;
    if (const std::string_view near = nearest_word(known, name); !near.empty())
        hint = fmt::format("Did you mean “{}”? ", near);
    hint += "Dials: ";
    for (std::size_t i = 0; i < std::min(known.size(), most_named); ++i)
        hint += fmt::format("{}{}", i > 0 ? ", " : "", known[i]);
    hint += known.size() > most_named ? fmt::format(" and {} more.", known.size() - most_named) : ".";
    return {fmt::format("There is no dial “{}”.", shortened(name)), "", hint};
}

}  // namespace bricol
