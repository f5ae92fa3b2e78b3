// SPDX-License-Identifier: GPL-3.0-or-later
// Free words: a name that is given, a note.
#include "core/catalogue/kinds/pieces.h"

namespace bricol::kinds {

const Kind& text() {
    static const TextKind kind("text");
    return kind;
}

}  // namespace bricol::kinds
