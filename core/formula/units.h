// SPDX-License-Identifier: GPL-3.0-or-later
// The one place that knows units. Lengths are metres inside, angles degrees.
#pragma once

#include <optional>
#include <span>
#include <string>
#include <string_view>

namespace bricol {

enum class Quantity : std::uint8_t { plain, length, angle, count, ratio };

/// "plain", "length", "angle", "count" or "ratio".
std::string_view quantity_name(Quantity quantity);

struct Unit {
    std::string_view name;
    Quantity quantity;
    double factor;  ///< size in metres or degrees
};

/// Every unit a formula understands.
std::span<const Unit> all_units();
std::optional<Unit> find_unit(std::string_view name);

/// Length units an artist may choose to see: m, cm, mm.
std::span<const std::string_view> display_units();

/// Length unit of a field whose values go up to `largest` metres: the recipe's, but millimetres for small parts of a
/// metre.
std::string_view field_unit(std::string_view recipe_unit, double largest);

/// A number without a trailing tail of zeros, `digits` significant, never in exponent form for ordinary sizes.
std::string format_number(double value, int digits = 6);

/// A value as the artist sees it, unit included ("38 mm", "45°", "32"). `length_unit` is one of display_units().
std::string format_value(double value, Quantity quantity, std::string_view length_unit);

/// A length in words, `digits` significant: for lengths that were measured or fitted.
std::string rounded_length(double metres, int digits = 3);

/// The value in the unit it is shown in, and that unit's sign ("mm", "°", "").
double shown_value(double value, Quantity quantity, std::string_view length_unit);
double stored_value(double shown, Quantity quantity, std::string_view length_unit);
std::string shown_unit(Quantity quantity, std::string_view length_unit);

}  // namespace bricol
