// SPDX-License-Identifier: GPL-3.0-or-later
// Steps on the clipboard: several at once, with the links among them, between parts and recipes.
#pragma once

#include <set>

#include "core/recipe/edit.h"

namespace bricol {

/// The steps of a part by these ids, in the part's order, as text to put on a clipboard.
std::string copied_steps(const Recipe& recipe, const std::string& part, const std::set<std::string>& ids);

/// Puts copied steps into a part behind `after` (at the end when it is empty or not there). Ids are made unique and the
/// links and formulas among the steps follow; links to steps that did not come along are kept when the part has such a
/// step, and else left open. Cards are moved by `shift` on the sheet. Problems: the text holds no steps.
Edited pasted_steps(const Recipe& recipe, const std::string& part, const std::string& after, const std::string& text,
                    std::array<double, 2> shift, std::vector<std::string>* made_ids = nullptr);

}  // namespace bricol
