// SPDX-License-Identifier: GPL-3.0-or-later
// An attribute of the input, by name.
#include "core/catalogue/kinds/pieces.h"

namespace bricol::kinds {

const Kind& attribute() {
    static const TextKind kind("attribute");
    return kind;
}

}  // namespace bricol::kinds
