// SPDX-License-Identifier: GPL-3.0-or-later
// A preset of another recipe, by its name; none for that recipe's own values.
#include "core/catalogue/kinds/pieces.h"

namespace bricol::kinds {

const Kind& preset() {
    static const TextKind kind("preset");
    return kind;
}

}  // namespace bricol::kinds
