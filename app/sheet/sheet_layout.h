// SPDX-License-Identifier: GPL-3.0-or-later
// Where cards stand on the sheet when the artist has not put them anywhere.
#pragma once

#include <QPointF>
#include <map>
#include <string>

#include "core/recipe/recipe.h"

namespace bricol {

inline constexpr double sheet_card_width = 138, sheet_card_height = 64;

/// Height of a step's card: more inputs need more room.
double sheet_card_height_of(const Step& step);

/// Upper left corners by step. Columns go by the longest way to the result, so that wires run forwards; the main chain
/// keeps one level line and every branch a line of its own below what takes it. Cards with a place of their own keep
/// it, and a card that follows such a one starts from there.
std::map<std::string, QPointF> sheet_layout(const Part& part);

}  // namespace bricol
