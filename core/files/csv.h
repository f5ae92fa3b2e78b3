// SPDX-License-Identifier: GPL-3.0-or-later
// Tables as text, after RFC 4180: cells between commas, quoted where they hold commas, quotes or line ends.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/ground/result.h"

namespace bricol {

using TableRow = std::vector<std::string>;

/// The rows of a table; empty lines and blanks round cells are left out, a byte order mark too. Semicolons and tabs
/// part cells as well when the first line has more of them than commas. Refused, with the line: a quote that is not
/// closed.
Result<std::vector<TableRow>> read_csv(std::string_view text);

/// A row with its line end.
std::string csv_row(const TableRow& cells);

}  // namespace bricol
