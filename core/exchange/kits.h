// SPDX-License-Identifier: GPL-3.0-or-later
// Recipes that stand inside others: finding their files, packing steps into one and opening it again.
#pragma once

#include <set>

#include "core/make/make.h"
#include "core/recipe/edit.h"

namespace bricol {

/// Reads kits from files beside the recipe that uses them, and keeps what it has read until the file changes. May be
/// called from any thread.
FindKit kit_reader();

/// Reads the files that steps name, up to 64 MB each, and keeps what it has read until the file changes.
ReadFile file_reader();

/// The file a kit's name stands for; absolute names stay as they are.
std::string kit_path(const std::string& written, const std::string& folder);

/// Packs steps of a part into one recipe step that stands where the last of them stood. Numbers that their formulas
/// take from outside become dials of the new recipe, which the step turns by the same formula; numbers that formulas
/// outside take from them become dials too, and move to the step. Refused, with the reason: no steps, more than four
/// shapes from outside, more than one result used outside.
Edited packed(const Recipe& recipe, const std::string& part, const std::set<std::string>& ids, const std::string& title,
              std::string* made_id = nullptr);

/// Puts the steps of a recipe step back into the part it stands in; its dials become numbers and formulas again. For a
/// kit of its own or from a file (of which it then is a copy). Refused when its result needs several parts.
Edited unpacked(const Recipe& recipe, const std::string& part, const std::string& id, const FindKit& find_kit,
                const std::string& folder, std::vector<std::string>* made_ids = nullptr);

/// The recipe inside a recipe step, for looking at or for saving as a file of its own.
Result<Recipe> recipe_inside(const Recipe& recipe, const std::string& part, const std::string& id,
                             const FindKit& find_kit, const std::string& folder);

/// Keys of inputs a recipe step has, in order.
inline constexpr std::array<std::string_view, 4> kit_inputs = {"shape", "second", "third", "fourth"};

}  // namespace bricol
