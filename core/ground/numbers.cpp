// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ground/numbers.h"

#include <charconv>
#include <cmath>
#include <limits>
#include <locale>
#include <sstream>
#include <string>

namespace bricol {

double number_of_digits(std::string_view digits) {
    if (digits.starts_with('+')) digits.remove_prefix(1);
    double value = 0;
    const auto [end, failure] = std::from_chars(digits.data(), digits.data() + digits.size(), value);
    if (failure != std::errc::result_out_of_range) return value;
    // Too large or too small: a stream of the plain locale tells which, by the largest number or one near 0.
    std::istringstream stream{std::string(digits)};
    stream.imbue(std::locale::classic());
    stream >> value;
    if (std::abs(value) < std::numeric_limits<double>::max()) return value;
    return std::copysign(std::numeric_limits<double>::infinity(), value);
}

}  // namespace bricol
