// SPDX-License-Identifier: GPL-3.0-or-later
// Asking a table of numbers.
#pragma once

#include <optional>

#include "core/catalogue/value.h"
#include "core/ground/result.h"

namespace bricol {

/// The name formulas ask for a head by: what stands in front of its unit in “across mm”.
std::string head_name(std::string_view written);

/// The heads of the table as it is written in a step's settings, by the names formulas ask for; none when there is no
/// table.
std::vector<std::string> heads_written(const Json& settings, std::string_view key);

/// The number under a head, in the row of that name, or of a place from 0 behind “#”; in the first row when none is
/// said. Without such a head or row: which there are.
Result<double> number_in(const NumberTable& table, const std::string& row, std::string_view head);

}  // namespace bricol
