// SPDX-License-Identifier: GPL-3.0-or-later
// A second reader of formulas, for comparison: muParser with our functions' meanings written out once more.
#pragma once

#include <map>
#include <string>

namespace bricol::test {

/// The value of a formula by muParser; throws mu::ParserError on what it cannot read.
double second_reading(const std::string& text, std::map<std::string, double> names);

}  // namespace bricol::test
