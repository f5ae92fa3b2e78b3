// SPDX-License-Identifier: GPL-3.0-or-later
// A set of the input, by name; empty for every element.
#include "core/catalogue/kinds/pieces.h"

namespace bricol::kinds {

const Kind& set() {
    static const TextKind kind("set");
    return kind;
}

}  // namespace bricol::kinds
