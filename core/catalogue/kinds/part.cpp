// SPDX-License-Identifier: GPL-3.0-or-later
// Another part of the recipe, by name. Renaming the part renames it here; it counts as a link.
#include "core/catalogue/kinds/pieces.h"

namespace bricol::kinds {

const Kind& part() {
    static const TextKind kind("part");
    return kind;
}

}  // namespace bricol::kinds
