// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ground/result.h"

namespace bricol {

std::string Problem::text() const {
    std::string line = where.empty() ? what : where + ": " + what;
    if (!remedy.empty()) line += " " + remedy;
    return line;
}

}  // namespace bricol
