// SPDX-License-Identifier: GPL-3.0-or-later
// Names in rows of formulas that mean the element itself and not the dial they are called like.
#pragma once

#include <functional>
#include <map>

#include "core/formula/elements.h"

namespace bricol {

/// The numbers a row is worked out with: its constants without those whose names stand on the elements (`stands`),
/// which come first. Dials hidden so are told in `problems` as of row `number`; `whose` says what the name is instead:
/// "belongs to the curve".
std::map<std::string, double> without_hidden_dials(const FormulaRow& row, std::size_t number,
                                                   const std::function<bool(const std::string&)>& stands,
                                                   std::string_view whose, std::vector<RowProblem>& problems);

}  // namespace bricol
