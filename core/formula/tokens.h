// SPDX-License-Identifier: GPL-3.0-or-later
// A formula cut into its words; shared by the reader of single values and the reader of whole attributes.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/ground/result.h"

namespace bricol {

struct Token {
    enum Kind { number, name, mark } kind;
    std::string text;
    double value = 0;    ///< of a number, its unit applied
    std::size_t column;  ///< from 0
};

/// Numbers with their units, names with dots, and marks. Bounds: 2 000 characters, 64 brackets inside one another.
Result<std::vector<Token>> tokens_of(std::string_view text);

/// What a name may start with, and what may stand in it (dots included).
bool name_start(char c);
bool name_part(char c);

}  // namespace bricol
