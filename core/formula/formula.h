// SPDX-License-Identifier: GPL-3.0-or-later
// Formulas for one value: numbers with units, names of dials and other numbers, functions. Angles are degrees.
#pragma once

#include <functional>
#include <map>
#include <string>
#include <string_view>
#include <vector>

#include "core/formula/units.h"
#include "core/ground/result.h"

namespace bricol {

/// Value of a name, or why it has none.
using NameLookup = std::function<Result<double>(const std::string& name)>;

/// Evaluates `text` (without the leading '=') by the same reader and loop as formulas over attributes; see
/// functions.h for what it understands. Problems name the column. The result is always finite.
Result<double> evaluate(std::string_view text, const NameLookup& names);

/// Names a formula refers to, in order of appearance, each once; functions, units and constants left out.
std::vector<std::string> names_in(std::string_view text);

/// What a person typed into a number field: `1.2` (in the shown unit), `38 mm`, or `= …`, which is returned as is.
struct Typed {
    bool formula = false;
    double value = 0;  ///< stored unit, when not a formula
    std::string text;  ///< "= …" when a formula
};
Result<Typed> read_typed(std::string_view text, Quantity quantity, std::string_view length_unit);

/// Name that a formula can use: letters, digits and underscores, not starting with a digit, not a function.
bool usable_name(std::string_view name);
/// Why a name that is not usable cannot name `what` ("a dial"), and what to do.
Problem unusable_name(std::string_view name, std::string_view what);
/// A usable name made from any text ("Collar width" → "collar_width").
std::string name_from(std::string_view text);

/// The formula plus an offset; an offset already at its end is changed instead of piling up another.
std::string with_offset(std::string_view formula, double offset);

/// The formula with `from` replaced as a whole name, or as the first piece of a dotted one.
std::string with_name(std::string_view formula, std::string_view from, std::string_view to);

/// The formula with several names replaced at once, so that none is replaced in what another became. A name is found
/// whole or as the first pieces of a dotted one, the longest first.
std::string with_names(std::string_view formula, const std::map<std::string, std::string, std::less<>>& to);

}  // namespace bricol
