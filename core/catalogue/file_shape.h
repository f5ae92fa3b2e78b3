// SPDX-License-Identifier: GPL-3.0-or-later
// A shape as a file of a known format holds it.
#pragma once

#include <string>
#include <vector>

#include "core/shape/shape.h"

namespace bricol {

struct FileShape {
    ShapePtr shape;                        ///< in the file's own units and directions
    double metres = 1;                     ///< one unit of it
    bool y_up = false;                     ///< else z
    std::string guessed_unit, guessed_up;  ///< why, as a sentence, where the file does not say itself; else empty
    std::vector<std::string> notes;        ///< what was left out or mended, as sentences
};

}  // namespace bricol
