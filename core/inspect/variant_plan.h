// SPDX-License-Identifier: GPL-3.0-or-later
// Which dial settings a recipe is made under: at random, evenly, in rows and columns, from a table, near one, between
// two.
#pragma once

#include <functional>

#include "core/recipe/recipe.h"

namespace bricol {

/// Settings by their number; nothing is kept for settings nobody asks for, so a plan of a million costs nothing.
struct VariantPlan {
    std::size_t count = 0;
    std::vector<std::string> dials;  ///< those that take part, in the recipe's order
    /// The setting of a number below `count`: the dials that take part. The same on every machine.
    std::function<WrittenDials(std::size_t)> at;
};

/// The dials that vary when none is named: all but colours and those that are not shown.
std::vector<std::string> usual_dials(const Recipe& recipe);
/// Refused: a name that is no dial, with the nearest.
Result<std::vector<std::string>> named_dials(const Recipe& recipe, const std::vector<std::string>& names);

/// Each dial on its own, anywhere in its range: every number of the plan depends on seed, number and the dial's name
/// alone, so that taking another dial in changes none of the others. Colours keep to hues of middling strength.
VariantPlan random_plan(const Recipe& recipe, std::vector<std::string> dials, std::size_t count, std::uint64_t seed);

/// Spread so that every stretch of every dial is met as often as it is long, and so is every patch of two dials that
/// stand beside one another: Sobol's sequence, scrambled (`EvenNumbers`).
VariantPlan even_plan(const Recipe& recipe, std::vector<std::string> dials, std::size_t count, std::uint64_t seed);

/// Every value of a dial with every value of the others, the last dial running fastest: "girth=5,style,lid=yes" is five
/// even steps through the range of `girth`, every word of `style` and one value of `lid`; "girth=0.6|80 cm|1" names the
/// values. Refused: what is no dial or no value, more than ten million settings.
Result<VariantPlan> grid_plan(const Recipe& recipe, const std::string& text);

/// A row each of a table whose first row names dials; empty cells keep the recipe's own value. Refused, with row and
/// column: columns that are no dial or stand twice, cells that cannot be read, rows of another length.
Result<VariantPlan> table_plan(const Recipe& recipe, const std::vector<std::vector<std::string>>& rows);

/// Settings near one: each dial at most `share` of its range away; words and toggles change with that chance.
VariantPlan near_plan(const Recipe& recipe, const WrittenDials& centre, std::size_t count, double share,
                      std::uint64_t seed);

/// Settings on the way from one to another, both left out: numbers and colours blend, words and toggles change halfway.
VariantPlan between_plan(const Recipe& recipe, const WrittenDials& from, const WrittenDials& to, std::size_t count);

/// A dial at a share (0..1) of its range: words and whole numbers get stretches of equal length.
Json dial_at(const Dial& dial, double share);

}  // namespace bricol
