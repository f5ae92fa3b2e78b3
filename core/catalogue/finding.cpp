// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/catalogue/finding.h"

#include <array>

namespace bricol {

std::string_view severity_name(Severity severity) {
    constexpr std::array<std::string_view, 3> names = {"note", "caution", "error"};
    return names[static_cast<std::size_t>(severity)];
}

Finding bad_value(const std::string& where, const std::string& text) {
    return {Severity::error, "bad-value", where.empty() ? text : where + ": " + text, std::nullopt, {}};
}

}  // namespace bricol
