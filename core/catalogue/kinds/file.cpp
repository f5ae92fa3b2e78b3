// SPDX-License-Identifier: GPL-3.0-or-later
// Another file, by its name beside the recipe. What it holds is part of what the step depends on.
#include "core/catalogue/kinds/pieces.h"

namespace bricol::kinds {

const Kind& file() {
    static const TextKind kind("file");
    return kind;
}

}  // namespace bricol::kinds
