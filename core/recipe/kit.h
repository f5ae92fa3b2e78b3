// SPDX-License-Identifier: GPL-3.0-or-later
// Recipes that stand inside others: what one is, and packing steps into one and opening it again.
#pragma once

#include <array>
#include <cstdint>
#include <functional>
#include <set>

#include "core/recipe/edit.h"

namespace bricol {

/// A recipe found for a recipe step.
struct Kit {
    std::shared_ptr<const Recipe> recipe;
    std::string folder;         ///< where its own kits and files are looked for
    std::string name;           ///< its file's whole path, or empty for one kept inside the step
    std::uint64_t content = 0;  ///< hash of its text
};
/// Finds the recipes of recipe steps. `written` is a file name, relative to `folder`, or the recipe itself. May be
/// called from any thread.
using FindKit = std::function<Result<Kit>(const Json& written, const std::string& folder)>;

/// Packs steps of a part into one recipe step that stands where the last of them stood. Numbers that their formulas
/// take from outside become dials of the new recipe, which the step turns by the same formula; numbers that formulas
/// outside take from them become dials too, and move to the step. Refused, with the reason: no steps, more than four
/// shapes from outside, more than one result used outside.
/// `as` is the key of the step that holds them, for one that makes them many times: then dials of the names it turns
/// by itself are left to it, and its main shape is what they took from outside first, or what stands before them.
Edited packed(const Recipe& recipe, const std::string& part, const std::set<std::string>& ids, const std::string& title,
              std::string* made_id = nullptr, std::string_view as = {});

/// Puts the steps of a recipe step back into the part it stands in; its dials become numbers and formulas again. For a
/// kit of its own or from a file (of which it then is a copy). Refused when its result needs several parts.
Edited unpacked(const Recipe& recipe, const std::string& part, const std::string& id, const FindKit& find_kit,
                const std::string& folder, std::vector<std::string>* made_ids = nullptr);

/// The recipe inside a recipe step, for looking at or for saving as a file of its own.
Result<Recipe> recipe_inside(const Recipe& recipe, const std::string& part, const std::string& id,
                             const FindKit& find_kit, const std::string& folder);

/// The recipe inside a recipe step, at the preset that the step names; as it is when there is no such preset.
Recipe at_named_preset(const Recipe& inside, const Step& step);

/// Keys of inputs a recipe step has, in order.
inline constexpr std::array<std::string_view, 4> kit_inputs = {"shape", "second", "third", "fourth"};

/// Takes away main links that say no more than the place on the strip does.
void drop_needless_links(Part& part);

}  // namespace bricol
