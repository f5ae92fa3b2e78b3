// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/formula/units.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <numbers>

namespace bricol {

std::span<const Unit> all_units() {
    // Inch and foot: international yard and pound agreement, 1959 (exact).
    static constexpr std::array<Unit, 12> units = {{{"m", Quantity::length, 1},
                                                    {"cm", Quantity::length, 0.01},
                                                    {"mm", Quantity::length, 0.001},
                                                    {"km", Quantity::length, 1000},
                                                    {"in", Quantity::length, 0.0254},
                                                    {"ft", Quantity::length, 0.3048},
                                                    {"deg", Quantity::angle, 1},
                                                    {"°", Quantity::angle, 1},
                                                    {"turn", Quantity::angle, 360},
                                                    {"turns", Quantity::angle, 360},
                                                    {"rad", Quantity::angle, 180 / std::numbers::pi},
                                                    {"%", Quantity::ratio, 0.01}}};
    return units;
}

std::optional<Unit> find_unit(std::string_view name) {
    for (const Unit& unit : all_units())
        if (unit.name == name) return unit;
    return std::nullopt;
}

std::span<const std::string_view> display_units() {
    static constexpr std::array<std::string_view, 3> units = {"m", "cm", "mm"};
    return units;
}

std::string_view field_unit(std::string_view recipe_unit, double largest) {
    return recipe_unit == "m" && largest <= 0.1 ? "mm" : recipe_unit;
}

std::string format_number(double value, int digits) {
    if (!std::isfinite(value)) return "?";
    if (value == 0) return "0";
    const double size = std::abs(value);
    if (size >= 1e9 || size < 1e-7) return fmt::format("{:.{}g}", value, digits);
    const int before = std::max(1, static_cast<int>(std::floor(std::log10(size))) + 1);
    std::string text = fmt::format("{:.{}f}", value, std::max(0, digits - before));
    if (text.find('.') != std::string::npos) {
        text.erase(text.find_last_not_of('0') + 1);
        if (text.back() == '.') text.pop_back();
    }
    return text == "-0" ? "0" : text;
}

double shown_value(double value, Quantity quantity, std::string_view length_unit) {
    if (quantity != Quantity::length) return value;
    const auto unit = find_unit(length_unit);
    return value / (unit ? unit->factor : 1);
}

double stored_value(double shown, Quantity quantity, std::string_view length_unit) {
    if (quantity != Quantity::length) return shown;
    const auto unit = find_unit(length_unit);
    return shown * (unit ? unit->factor : 1);
}

std::string shown_unit(Quantity quantity, std::string_view length_unit) {
    if (quantity == Quantity::length) return std::string(length_unit);
    return quantity == Quantity::angle ? "°" : "";
}

std::string format_value(double value, Quantity quantity, std::string_view length_unit) {
    if (quantity == Quantity::length && std::abs(value) < 5e-10) value = 0;  // what sums leave behind
    // Small lengths read better in millimetres whatever the recipe is drawn in.
    if (quantity == Quantity::length && length_unit == "m" && value != 0 && std::abs(value) < 0.1) length_unit = "mm";
    const std::string number = format_number(shown_value(value, quantity, length_unit), 4);
    const std::string unit = shown_unit(quantity, length_unit);
    return unit.empty() || unit == "°" ? number + unit : number + " " + unit;
}

std::string rounded_length(double metres, int digits) {
    const double step = std::pow(10, std::floor(std::log10(std::max(metres, 1e-12))) - digits + 1);
    return format_value(std::round(metres / step) * step, Quantity::length, "m");
}

std::string_view quantity_name(Quantity quantity) {
    constexpr std::string_view names[] = {"plain", "length", "angle", "count", "ratio"};
    return names[static_cast<std::size_t>(quantity)];
}

}  // namespace bricol
