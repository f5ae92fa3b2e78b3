// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ground/numbers.h"

#include <charconv>
#include <limits>

namespace bricol {

double number_of_digits(std::string_view digits) {
    if (digits.starts_with('+')) digits.remove_prefix(1);
    double value = 0;
    const auto [end, failure] = std::from_chars(digits.data(), digits.data() + digits.size(), value);
    if (failure != std::errc::result_out_of_range) return value;
    // Out of range is too large or too small: a negative exponent tells.
    const bool small = digits.find("e-") != std::string_view::npos || digits.find("E-") != std::string_view::npos ||
                       digits.starts_with("0.") || digits.starts_with("-0.") || digits.starts_with('.');
    if (small) return 0;
    return digits.starts_with('-') ? -std::numeric_limits<double>::infinity() : std::numeric_limits<double>::infinity();
}

}  // namespace bricol
